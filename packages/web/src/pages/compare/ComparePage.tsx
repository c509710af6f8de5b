import { useMemo, type ReactElement } from "react";
import { Link, useParams, useSearchParams } from "react-router";
import { displayUnit } from "@oxtrum/core/tables/units";
import { errorText, useStudyQuery } from "../../api";
import type { StudySummary } from "@oxtrum/contract";
import { Empty, Loading, Trouble } from "../../frame/Empty";
import { richest } from "../study/richest";
import { Choice, Choices, Entry } from "./Choices";
import { Compared } from "./Compared";
import { fromAddress, toAddress, type Comparison, type Source } from "./state";

type Study = StudySummary;

/** Tables that hold something to compare. */
const comparable = (study: Study): Study["files"][number][] =>
  study.files.filter((f) => f.columns?.some((c) => c.kind === "number" && c.name !== f.axis));

/** A comparison with what it lacks filled in: a first column, a parameter to go by. */
function completed(c: Comparison, study: Study): Comparison {
  const first = richest(comparable(study));
  const column = first?.columns?.find((h) => h.kind === "number" && h.name !== first.axis);
  const source: Source | undefined =
    c.source ?? (first && column ? { kind: "column", file: first.file, column: column.name } : undefined);
  const known = study.parameters.some((p) => p.name === c.parameter);
  const numeric = study.parameters.find((p) => p.type === "number") ?? study.parameters[0];
  const good = study.runs.find((r) => r.problems.length === 0) ?? study.runs[0];
  return {
    ...c,
    source,
    parameter: known ? c.parameter : (numeric?.name ?? ""),
    base: c.base === "" ? (good?.id ?? "") : c.base,
  };
}

/** The runs of a study that fit what was chosen. */
function chosenRuns(c: Comparison, study: Study): string[] {
  return study.runs
    .filter((r) =>
      Object.entries(c.where).every(([p, list]) => list.length === 0 || list.includes(String(r.params[p]))),
    )
    .map((r) => r.id);
}

/** Runs of a study aligned: what was chosen stands in the address, and can be put in a script. */
export function ComparePage(): ReactElement {
  const name = useParams()["study"]!;
  const { currentData: data, error } = useStudyQuery(name);
  const [address, setAddress] = useSearchParams();
  const c = useMemo(() => (data ? completed(fromAddress(address), data) : undefined), [address, data]);
  if (error && !data)
    return (
      <Trouble text={errorText(error)}>
        <Link className="link" to="/">
          To the studies
        </Link>
      </Trouble>
    );
  if (!data || !c) return <Loading what="Opening the study" />;
  if (!c.source || data.runs.length === 0)
    return (
      <Empty title="Nothing to compare">
        The runs of this study hold no tables with numbers. Fields are compared from the{" "}
        <Link className="link" to={`/studies/${encodeURIComponent(name)}/survey`}>
          Survey
        </Link>
        , at a line, a plane or a patch.
      </Empty>
    );
  const change = (next: Comparison): void =>
    setAddress(toAddress(next), { replace: next.view === c.view, flushSync: true });
  const runs = chosenRuns(c, data);
  const tables = comparable(data);
  const { source } = c;
  const file = source.kind === "column" ? tables.find((t) => t.file === source.file) : undefined;
  const columns = (file?.columns ?? []).filter((h) => h.kind === "number" && h.name !== file?.axis);
  const pick = (f: string, column?: string): void => {
    const t = tables.find((x) => x.file === f)!;
    const known = t.columns!.filter((h) => h.kind === "number" && h.name !== t.axis);
    change({ ...c, source: { kind: "column", file: f, column: column ?? known[0]!.name }, unit: "" });
  };
  const head = (
    <div className="flex flex-col gap-1.5 pb-1">
      <h1 className="text-lg font-semibold">Compare</h1>
      {source.kind === "site" ? (
        <p className="text-xs">
          <b className="num">{source.quantity}</b> at <b className="num">{source.site.name}</b> of{" "}
          <span className="num">{source.file}</span>
          {source.time !== "" && <span className="dim num"> {source.time}</span>}.{" "}
          <Link className="link" to={`/studies/${encodeURIComponent(name)}/survey`}>
            Place it elsewhere
          </Link>
          {tables.length > 0 && (
            <>
              {" "}
              or{" "}
              <button className="link" onClick={() => pick(tables[0]!.file)}>
                take a table
              </button>
            </>
          )}
        </p>
      ) : (
        <>
          <Choice
            label="table"
            value={source.kind === "column" ? source.file : ""}
            options={tables.map((t) => t.file)}
            onChange={(f) => pick(f)}
          />
          <Choice
            label="quantity"
            value={source.kind === "column" ? source.column : ""}
            options={columns.map((h) => [h.name, `${h.name}  ${displayUnit(h.unit)}`.trim()] as const)}
            onChange={(v) => pick(file!.file, v)}
          />
          <Entry
            label="unit"
            value={c.unit}
            hint={
              displayUnit(columns.find((h) => source.kind === "column" && h.name === source.column)?.unit) ||
              "its own unit"
            }
            onChange={(unit) => change({ ...c, unit: unit.trim() })}
          />
        </>
      )}
    </div>
  );
  return (
    <Compared
      key={name}
      c={c}
      ground={{ study: data }}
      runs={runs}
      onChange={change}
      choices={<Choices study={data} c={c} runs={runs} onChange={change} head={head} />}
    />
  );
}
