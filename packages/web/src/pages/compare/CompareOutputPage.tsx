import type { ReactElement } from "react";
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
  const asked = c0.source?.kind === "output" ? c0.source.column : "";
  const column = heads.some((h) => h.name === asked) ? asked : (heads[heads.length - 1]?.name ?? "");
  const by = heads.find((h) => h.name === c0.parameter) ?? heads.find((h) => h.name !== column) ?? heads[0];
  const c: Comparison = { ...c0, source: { kind: "output", output: output.name, column }, parameter: by?.name ?? "" };
  const change = (next: Comparison): void => setAddress(toAddress(next), { replace: true, flushSync: true });
  const rows = (output.rows ?? 0) <= output.runs;
  const choices = (
    <div className="flex flex-col gap-1.5">
      <h1 className="text-lg font-semibold">Compare</h1>
      <p className="text-xs">
        What job {job.id} of <span className="num">{job.script}</span> made. {back}
      </p>
      <Choice
        label="output"
        value={output.name}
        options={tables.map((o) => o.name)}
        onChange={(name) => change({ ...c, source: { kind: "output", output: name, column: "" } })}
      />
      <Choice
        label="quantity"
        value={column}
        options={heads.map((h) => [h.name, `${h.name}  ${displayUnit(h.unit)}`.trim()] as const)}
        onChange={(v) => change({ ...c, source: { kind: "output", output: output.name, column: v } })}
      />
      {rows && c.view !== "correlation" && c.view !== "ranking" && (
        <>
          <Choice
            label="x axis"
            value={c.parameter}
            options={heads.map((h) => h.name)}
            onChange={(parameter) => change({ ...c, parameter })}
          />
          <Choice
            label="fit"
            value={c.law}
            options={laws}
            onChange={(v) => change({ ...c, law: v as Comparison["law"] })}
          />
        </>
      )}
    </div>
  );
  const ids = job.live.runs.map((r) => r.id);
  return (
    <Compared
      c={c}
      ground={{ study, script: { text, expression, rows } }}
      runs={ids}
      onChange={change}
      choices={choices}
      scriptName={job.script}
    />
  );
}
