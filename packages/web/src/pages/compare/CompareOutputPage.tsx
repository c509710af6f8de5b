import type { ReactElement, ReactNode } from "react";
import { Link, useParams, useSearchParams } from "react-router";
import { displayUnit } from "@oxtrum/core/tables/units";
import {
  errorText,
  useJobQuery,
  useRevisionQuery,
  useStudiesQuery,
  useStudyQuery,
  useValueQuery,
  useEmittedQuery,
} from "../../api";
import type { Job, StudySummary, TableValue } from "@oxtrum/contract";
import { Empty, Loading, Trouble } from "../../frame/Empty";
import { Choice } from "./Choices";
import { Compared } from "./Compared";
import { fromAddress, laws, toAddress, type Comparison } from "./state";

type Head = TableValue["columns"][number];

/** A table that a job has made, compared run by run; the lines are added to the job's own script. */
export function CompareOutputPage(): ReactElement {
  const id = Number(useParams()["job"]);
  const { currentData: job, error } = useJobQuery(id);
  const studies = useStudiesQuery().data;
  const used = job?.live.runs[0]?.study ?? studies?.[0]?.name ?? "";
  const study = useStudyQuery(used, { skip: used === "" }).data;
  const revision = useRevisionQuery({ name: job?.script ?? "", number: job?.revision ?? 0 }, { skip: !job });
  if (error && !job)
    return (
      <Trouble text={errorText(error)}>
        <Link className="link" to="/scripts">
          To the scripts
        </Link>
      </Trouble>
    );
  if (revision.error && !revision.currentData) return <Trouble text={errorText(revision.error)} />;
  if (!job || !study || !revision.data) return <Loading what="Opening the job" />;
  return <Opened job={job} study={study} text={revision.data.text} />;
}

function Opened({ job, study, text }: { job: Job; study: StudySummary; text: string }): ReactElement {
  const [address, setAddress] = useSearchParams();
  const tables = job.live.outputs.filter((o) => o.kind === "table" && o.failed === undefined && o.runs > 0);
  const c0 = fromAddress(address);
  const wanted = c0.source?.kind === "output" ? c0.source.output : undefined;
  const output = tables.find((o) => o.name === wanted) ?? tables[0];
  const { data } = useValueQuery({ job: job.id, name: output?.name ?? "", to: 1 }, { skip: !output });
  const emitted = useEmittedQuery({ name: job.script, text, output: output?.name ?? "" }, { skip: !output });
  if (!output)
    return (
      <Empty title="Nothing to compare">
        This job made no table of runs. What a script emits with emit.table can be compared here.
      </Empty>
    );
  const back = (
    <Link className="link" to={`/jobs/${job.id}`}>
      To the job
    </Link>
  );
  const { expression, trouble } = emitted.currentData ?? {};
  if (emitted.error || trouble !== undefined)
    return <Trouble text={trouble ?? errorText(emitted.error)}>{back}</Trouble>;
  if (expression === undefined || data?.kind !== "table") return <Loading what="Reading the table" />;
  const heads = (data as TableValue).columns.filter((h) => h.kind === "number");
  const c = completed(c0, output.name, heads);
  const change = (next: Comparison): void => setAddress(toAddress(next), { replace: true, flushSync: true });
  const rows = (output.rows ?? 0) <= output.runs;
  return (
    <Compared
      c={c}
      ground={{ study, script: { text, expression, rows } }}
      runs={output.of ?? job.live.runs.map((r) => r.id)}
      onChange={change}
      choices={
        <OutputChoices c={c} output={output.name} outputs={tables} heads={heads} rows={rows} onChange={change}>
          <p className="text-xs">
            What job {job.id} of <span className="num">{job.script}</span> made. {back}
          </p>
        </OutputChoices>
      }
      scriptName={job.script}
    />
  );
}

/** A comparison with what it lacks filled in: the last column, by the first other one. */
function completed(c: Comparison, output: string, heads: readonly Head[]): Comparison {
  const asked = c.source?.kind === "output" ? c.source.column : "";
  const column = heads.some((h) => h.name === asked) ? asked : (heads[heads.length - 1]?.name ?? "");
  const by = heads.find((h) => h.name === c.parameter) ?? heads.find((h) => h.name !== column) ?? heads[0];
  return { ...c, source: { kind: "output", output, column }, parameter: by?.name ?? "" };
}

interface OutputChoicesProps {
  readonly c: Comparison;
  readonly output: string;
  readonly outputs: readonly Job["live"]["outputs"][number][];
  readonly heads: readonly Head[];
  /** It has a row for each run, not a curve. */
  readonly rows: boolean;
  readonly onChange: (c: Comparison) => void;
  readonly children: ReactNode;
}

/** Which output, which column of it, and by what. */
function OutputChoices({ c, output, outputs, heads, rows, onChange, children }: OutputChoicesProps): ReactElement {
  const take = (name: string, column: string): void =>
    onChange({ ...c, source: { kind: "output", output: name, column } });
  return (
    <div className="flex flex-col gap-1.5">
      <h1 className="text-lg font-semibold">Compare</h1>
      {children}
      <Choice label="output" value={output} options={outputs.map((o) => o.name)} onChange={(name) => take(name, "")} />
      <Choice
        label="quantity"
        value={c.source?.kind === "output" ? c.source.column : ""}
        options={heads.map((h) => [h.name, `${h.name}  ${displayUnit(h.unit)}`.trim()] as const)}
        onChange={(v) => take(output, v)}
      />
      {rows && c.view !== "correlation" && c.view !== "ranking" && (
        <>
          <Choice
            label="x axis"
            value={c.parameter}
            options={heads.map((h) => h.name)}
            onChange={(parameter) => onChange({ ...c, parameter })}
          />
          <Choice
            label="fit"
            value={c.law}
            options={laws}
            onChange={(v) => onChange({ ...c, law: v as Comparison["law"] })}
          />
        </>
      )}
    </div>
  );
}
