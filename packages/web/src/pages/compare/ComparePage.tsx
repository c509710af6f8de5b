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

type Tabled = Study["files"][number];

/** The columns of a table that hold something to compare. */
const numbersOf = (t: Tabled | undefined): NonNullable<Tabled["columns"]> =>
  (t?.columns ?? []).filter((c) => c.kind === "number" && c.name !== t?.axis);

/** Tables with such columns. */
const comparable = (study: Study): Tabled[] => study.files.filter((f) => numbersOf(f).length > 0);

/** A comparison with what it lacks filled in: a first column, a parameter to go by. */
function completed(c: Comparison, study: Study): Comparison {
  const first = richest(comparable(study));
  const [column] = numbersOf(first);
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

interface HeadProps {
  readonly study: Study;
  readonly c: Comparison;
  readonly source: Source;
  readonly onChange: (c: Comparison) => void;
}

/** What is compared: a column of a table, or a quantity at a site. */
function Head({ study, c, source, onChange }: HeadProps): ReactElement {
  const tables = comparable(study);
  const pick = (f: string, column?: string): void => {
    const known = numbersOf(tables.find((x) => x.file === f));
    onChange({ ...c, source: { kind: "column", file: f, column: column ?? known[0]!.name }, unit: "" });
  };
  return (
    <div className="flex flex-col gap-1.5 pb-1">
      <h1 className="text-lg font-semibold">Compare</h1>
      {source.kind === "site" ? (
        <AtSite study={study.name} source={source} onTable={tables[0] && (() => pick(tables[0]!.file))} />
      ) : (
        <OfTable
          tables={tables}
          file={source.kind === "column" ? source.file : ""}
          column={source.kind === "column" ? source.column : ""}
          unit={c.unit}
          onPick={pick}
          onUnit={(unit) => onChange({ ...c, unit })}
        />
      )}
    </div>
  );
}

/** Where the site is that runs are compared at. */
function AtSite({
  study,
  source,
  onTable,
}: {
  study: string;
  source: Extract<Source, { kind: "site" }>;
  onTable: (() => void) | undefined;
}): ReactElement {
  return (
    <p className="text-xs">
      <b className="num">{source.quantity}</b> at <b className="num">{source.site.name}</b> of{" "}
      <span className="num">{source.file}</span>
      {source.time !== "" && <span className="dim num"> {source.time}</span>}.{" "}
      <Link className="link" to={`/studies/${encodeURIComponent(study)}/survey`}>
        Place it elsewhere
      </Link>
      {onTable && (
        <>
          {" "}
          or{" "}
          <button className="link" onClick={onTable}>
            take a table
          </button>
        </>
      )}
    </p>
  );
}

/** The table, its column and the unit to compare in. */
function OfTable({
  tables,
  file,
  column,
  unit,
  onPick,
  onUnit,
}: {
  tables: readonly Tabled[];
  file: string;
  column: string;
  unit: string;
  onPick: (f: string, column?: string) => void;
  onUnit: (unit: string) => void;
}): ReactElement {
  const columns = numbersOf(tables.find((t) => t.file === file));
  return (
    <>
      <Choice label="table" value={file} options={tables.map((t) => t.file)} onChange={(f) => onPick(f)} />
      <Choice
        label="quantity"
        value={column}
        options={columns.map((h) => [h.name, `${h.name}  ${displayUnit(h.unit)}`.trim()] as const)}
        onChange={(v) => onPick(file, v)}
      />
      <Entry
        label="unit"
        value={unit}
        hint={displayUnit(columns.find((h) => h.name === column)?.unit) || "its own unit"}
        onChange={(text) => onUnit(text.trim())}
      />
    </>
  );
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
  return (
    <Compared
      key={name}
      c={c}
      ground={{ study: data }}
      runs={runs}
      onChange={change}
      choices={
        <Choices
          study={data}
          c={c}
          runs={runs}
          onChange={change}
          head={<Head study={data} c={c} source={c.source} onChange={change} />}
        />
      }
    />
  );
}
