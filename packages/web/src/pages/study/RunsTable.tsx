import { useMemo, useRef, useState, type ReactElement, type ReactNode } from "react";
import { shortNames } from "@oxtrum/core/charts";
import { displayUnit } from "@oxtrum/core/tables/units";
import { useSeriesQuery, useVerdictsQuery } from "../../api";
import type { LiveStudy, SeriesAnswer, StudySummary } from "@oxtrum/contract";
import { useRowsInSight } from "../../parts/rows-in-sight";
import { useLive } from "../live/use-live";
import { ParameterFilter } from "./ParameterFilter";
import { Counts, StateCell, verdictsOf } from "./run-cells";
import { RunRow } from "./RunRow";

const NO_QUANTITIES = { runs: [], quantities: [] };

type Sort = { by: string; down: boolean };
type Run = StudySummary["runs"][number];

const MOST_SPARKS = 300;
const ROW = 27;

/** The runs that fit the filters, in the order that is asked for. */
function useShownRuns(study: StudySummary): {
  rows: readonly Run[];
  filters: Record<string, readonly string[]>;
  setFilters: (f: Record<string, readonly string[]>) => void;
  onlyOdd: boolean;
  setOnlyOdd: (only: boolean) => void;
  sort: Sort;
  setSort: (s: Sort) => void;
} {
  const [filters, setFilters] = useState<Record<string, readonly string[]>>({});
  const [onlyOdd, setOnlyOdd] = useState(false);
  const [sort, setSort] = useState<Sort>({ by: "id", down: false });
  const rows = useMemo(() => {
    const kept = study.runs.filter(
      (r) =>
        (!onlyOdd || r.problems.length > 0) &&
        Object.entries(filters).every(
          ([p, values]) => values.length === 0 || values.includes(String(r.params[p] ?? "")),
        ),
    );
    const value = (r: Run): number | string =>
      sort.by === "id" ? r.id : sort.by === "problems" ? -r.problems.length : (r.params[sort.by] ?? "");
    return [...kept].sort((a, b) => {
      const x = value(a);
      const y = value(b);
      return (x < y ? -1 : x > y ? 1 : 0) * (sort.down ? -1 : 1);
    });
  }, [study.runs, filters, onlyOdd, sort]);
  return { rows, filters, setFilters, onlyOdd, setOnlyOdd, sort, setSort };
}

/** What is asked of the server for rows: curves about those in sight, verdicts, and states while they may change. */
function useFacts(study: StudySummary, rows: readonly Run[], from: number, pick: RunsTableProps["pick"]): Facts {
  const firstSpark = rows.length <= MOST_SPARKS ? 0 : Math.floor(from / 100) * 100;
  const sparks = useSeriesQuery(
    {
      study: study.name,
      file: pick?.file ?? "",
      column: pick?.column ?? "",
      runs: rows.slice(firstSpark, firstSpark + MOST_SPARKS).map((r) => r.id),
      points: 100,
    },
    { skip: !pick || rows.length === 0 },
  ).data;
  const judged = useVerdictsQuery(study.name, { skip: study.rules.length === 0 });
  // The clock goes on while the page is open; a state that did not change costs a few bytes.
  const live = useLive(study.name, NO_QUANTITIES, { every: 5000, skip: !study.states }).live;
  const states = useMemo(
    () => (study.states ? new Map(live?.runs.map((r) => [r.id, r])) : undefined),
    [live, study.states],
  );
  const verdicts = useMemo(() => verdictsOf(judged.data?.table), [judged.data]);
  const byRun = useMemo(() => new Map(sparks?.map((s) => [s.run, s])), [sparks]);
  const unit = sparks?.flatMap((s) => ("unit" in s && s.unit !== null ? [s.unit] : []))[0];
  return { byRun, states, verdicts, judging: judged.isFetching, trouble: judged.data?.trouble, unit };
}

interface Facts {
  readonly byRun: ReadonlyMap<string, SeriesAnswer[number]>;
  readonly states: ReadonlyMap<string, LiveStudy["runs"][number]> | undefined;
  readonly verdicts: ReturnType<typeof verdictsOf>;
  /** Whether verdicts are on their way, and why there are none. */
  readonly judging: boolean;
  readonly trouble: string | undefined;
  /** Of the curves. */
  readonly unit: string | undefined;
}

interface RunsTableProps {
  study: StudySummary;
  drawn: readonly string[];
  onDraw: (runs: readonly string[]) => void;
  pick: { file: string; column: string } | undefined;
}

/** The heads of the columns; those of what runs are told apart by sort them. */
function Heads({
  study,
  sort,
  onSort,
  column,
  facts,
}: {
  study: StudySummary;
  sort: Sort;
  onSort: (s: Sort) => void;
  column: string | undefined;
  facts: Facts;
}): ReactElement {
  const head = (by: string, text: ReactNode, numeric = false): ReactElement => (
    <th
      key={by}
      className={numeric ? "n" : ""}
      aria-sort={sort.by === by ? (sort.down ? "descending" : "ascending") : "none"}
    >
      <button onClick={() => onSort({ by, down: sort.by === by && !sort.down })}>
        {text}
        {sort.by === by ? (sort.down ? " ↓" : " ↑") : ""}
      </button>
    </th>
  );
  return (
    <tr>
      <th aria-label="drawn" />
      {head("id", "run")}
      {study.parameters.map((p) =>
        head(
          p.name,
          <>
            {p.label ?? p.name} {displayUnit(p.unit)}
          </>,
          p.type === "number",
        ),
      )}
      {facts.states && <th>state</th>}
      <th>{column}</th>
      <th className="n">max {facts.unit === undefined ? "" : displayUnit(facts.unit)}</th>
      {study.rules.length > 0 && (
        <th title={study.rules.map((r) => `${r.name}: ${r.value} of ${r.file}, ${r.limit}`).join("\n")}>
          accepted{facts.judging ? " …" : ""}
        </th>
      )}
      {head("problems", "problems")}
    </tr>
  );
}

/** The runs with their parameters: filtered, sorted, chosen for drawing. */
export function RunsTable({ study, drawn, onDraw, pick }: RunsTableProps): ReactElement {
  const names = useMemo(() => shortNames(study.runs.map((r) => r.id)), [study.runs]);
  const { rows, sort, setSort, ...kept } = useShownRuns(study);
  const scroller = useRef<HTMLDivElement>(null);
  const sight = useRowsInSight(rows.length, scroller, ROW);
  const facts = useFacts(study, rows, sight.from, pick);
  const toggle = (id: string): void => onDraw(drawn.includes(id) ? drawn.filter((d) => d !== id) : [...drawn, id]);
  const showAll = (): void => {
    kept.setFilters({});
    kept.setOnlyOdd(false);
  };
  const verdict = (id: string): ReactNode =>
    study.rules.length > 0 && <Counts verdict={facts.verdicts.get(id)} trouble={facts.trouble} />;
  return (
    <>
      <Filters
        study={study}
        filters={kept.filters}
        onFilters={kept.setFilters}
        onlyOdd={kept.onlyOdd}
        onOnlyOdd={kept.setOnlyOdd}
        drawn={drawn.length}
        shown={rows.map((r) => r.id)}
        onDraw={onDraw}
      />
      <div ref={scroller} className="goes-on on-paper min-h-0 flex-1 overflow-auto px-5 pb-4">
        <table className="ruled" aria-rowcount={rows.length}>
          <thead>
            <Heads study={study} sort={sort} onSort={setSort} column={pick?.column} facts={facts} />
          </thead>
          <tbody>
            {sight.above > 0 && <tr aria-hidden style={{ height: sight.above }} />}
            {rows.slice(sight.from, sight.to).map((r) => (
              <RunRow
                key={r.id}
                run={r}
                name={names.get(r.id)!}
                study={study}
                drawn={drawn.indexOf(r.id)}
                of={drawn.length}
                series={facts.byRun.get(r.id)}
                state={facts.states && <StateCell run={facts.states.get(r.id)} />}
                verdict={verdict(r.id)}
                onToggle={toggle}
              />
            ))}
            {sight.below > 0 && <tr aria-hidden style={{ height: sight.below }} />}
          </tbody>
        </table>
        {rows.length === 0 && (
          <p className="dim py-6">
            No run fits these filters.{" "}
            <button className="link" onClick={showAll}>
              Show all
            </button>
          </p>
        )}
      </div>
    </>
  );
}

/** Which runs are shown, and how many are drawn. */
function Filters({
  study,
  filters,
  onFilters,
  onlyOdd,
  onOnlyOdd,
  drawn,
  shown,
  onDraw,
}: {
  study: StudySummary;
  filters: Readonly<Record<string, readonly string[]>>;
  onFilters: (f: Record<string, readonly string[]>) => void;
  onlyOdd: boolean;
  onOnlyOdd: (only: boolean) => void;
  drawn: number;
  shown: readonly string[];
  onDraw: (runs: readonly string[]) => void;
}): ReactElement {
  return (
    <div className="flex flex-wrap items-center gap-2 px-5 pb-2">
      {study.parameters.map((p) => (
        <ParameterFilter
          key={p.name}
          name={p.name}
          study={study}
          chosen={filters[p.name] ?? []}
          onChoose={(v) => onFilters({ ...filters, [p.name]: v })}
        />
      ))}
      <button
        className={`btn h-6.5 px-2.5 text-xs ${onlyOdd ? "border-oxide text-oxide" : "quiet"}`}
        onClick={() => onOnlyOdd(!onlyOdd)}
        aria-pressed={onlyOdd}
      >
        with problems
      </button>
      <span className="dim ml-auto text-xs">
        {drawn} drawn ·{" "}
        <button className="link" onClick={() => onDraw(shown)}>
          draw all {shown.length}
        </button>{" "}
        ·{" "}
        <button className="link" onClick={() => onDraw([])}>
          none
        </button>
      </span>
    </div>
  );
}
