import { Popover } from "radix-ui";
import { useMemo, useRef, useState, type ReactElement } from "react";
import { shortNames } from "@oxtrum/core/charts";
import { formatNumber } from "@oxtrum/core/tables/number-format";
import { displayUnit } from "@oxtrum/core/tables/units";
import { useSeriesQuery, useVerdictsQuery } from "../../api/api";
import type { LiveRun, OutputValue, StudySummary, TableValue } from "@oxtrum/contract";
import { Name } from "../../parts/Name";
import { useRowsInSight } from "../../parts/rows-in-sight";
import { Sparkline } from "../../parts/Sparkline";
import { StateMark } from "../live/StateMark";
import { useLive } from "../live/use-live";
import { SeriesSwatch } from "./SeriesSwatch";

const NO_QUANTITIES = { runs: [], quantities: [] };

type Sort = { by: string; down: boolean };

const MOST_SPARKS = 300;
const ROW = 27;

/** The runs with their parameters: filtered, sorted, chosen for drawing. */
export function RunsTable({
  study,
  drawn,
  onDraw,
  pick,
}: {
  study: StudySummary;
  drawn: readonly string[];
  onDraw: (runs: readonly string[]) => void;
  pick: { file: string; column: string } | undefined;
}): ReactElement {
  const names = useMemo(() => shortNames(study.runs.map((r) => r.id)), [study.runs]);
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
    const value = (r: (typeof kept)[number]): number | string =>
      sort.by === "id" ? r.id : sort.by === "problems" ? -r.problems.length : (r.params[sort.by] ?? "");
    return [...kept].sort((a, b) => {
      const x = value(a);
      const y = value(b);
      return (x < y ? -1 : x > y ? 1 : 0) * (sort.down ? -1 : 1);
    });
  }, [study.runs, filters, onlyOdd, sort]);
  const scroller = useRef<HTMLDivElement>(null);
  const sight = useRowsInSight(rows.length, scroller, ROW);
  // Of long tables, the curves about the rows in sight.
  const firstSpark = rows.length <= MOST_SPARKS ? 0 : Math.floor(sight.from / 100) * 100;
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
  const unit = sparks?.find((s) => "unit" in s && s.unit !== null);
  const head = (by: string, text: ReactElement | string, numeric = false): ReactElement => (
    <th className={numeric ? "n" : ""} aria-sort={sort.by === by ? (sort.down ? "descending" : "ascending") : "none"}>
      <button onClick={() => setSort({ by, down: sort.by === by && !sort.down })}>
        {text}
        {sort.by === by ? (sort.down ? " ↓" : " ↑") : ""}
      </button>
    </th>
  );
  const toggle = (id: string): void => onDraw(drawn.includes(id) ? drawn.filter((d) => d !== id) : [...drawn, id]);
  return (
    <>
      <div className="flex flex-wrap items-center gap-2 px-5 pb-2">
        {study.parameters.map((p) => (
          <Filter
            key={p.name}
            name={p.name}
            study={study}
            chosen={filters[p.name] ?? []}
            onChoose={(v) => setFilters({ ...filters, [p.name]: v })}
          />
        ))}
        <button
          className={`btn h-6.5 px-2.5 text-xs ${onlyOdd ? "border-oxide text-oxide" : "quiet"}`}
          onClick={() => setOnlyOdd(!onlyOdd)}
          aria-pressed={onlyOdd}
        >
          with problems
        </button>
        <span className="dim ml-auto text-xs">
          {drawn.length} drawn ·{" "}
          <button className="link" onClick={() => onDraw(rows.map((r) => r.id))}>
            draw all {rows.length}
          </button>{" "}
          ·{" "}
          <button className="link" onClick={() => onDraw([])}>
            none
          </button>
        </span>
      </div>
      <div ref={scroller} className="min-h-0 flex-1 overflow-auto px-5 pb-4">
        <table className="ruled" aria-rowcount={rows.length}>
          <thead>
            <tr>
              <th aria-label="drawn" />
              {head("id", "run")}
              {study.parameters.map((p) => (
                <ParameterHead key={p.name}>
                  {head(
                    p.name,
                    <>
                      {p.label ?? p.name} {displayUnit(p.unit)}
                    </>,
                    p.type === "number",
                  )}
                </ParameterHead>
              ))}
              {states && <th>state</th>}
              <th>{pick?.column}</th>
              <th className="n">max {unit && "unit" in unit ? displayUnit(unit.unit) : ""}</th>
              {study.rules.length > 0 && (
                <th title={study.rules.map((r) => `${r.name}: ${r.value} of ${r.file}, ${r.limit}`).join("\n")}>
                  accepted{judged.isFetching ? " …" : ""}
                </th>
              )}
              {head("problems", "problems")}
            </tr>
          </thead>
          <tbody>
            {sight.above > 0 && <tr aria-hidden style={{ height: sight.above }} />}
            {rows.slice(sight.from, sight.to).map((r) => {
              const s = byRun.get(r.id);
              const at = drawn.indexOf(r.id);
              return (
                <tr
                  key={r.id}
                  onClick={() => toggle(r.id)}
                  className={`cursor-pointer ${at >= 0 ? "bg-oxide-wash/60" : "hover:bg-sheet"}`}
                >
                  <td className="w-8">
                    <button
                      aria-label={`${at >= 0 ? "Do not draw" : "Draw"} ${r.id}`}
                      aria-pressed={at >= 0}
                      onClick={(e) => {
                        e.stopPropagation();
                        toggle(r.id);
                      }}
                      className="block h-4 w-5"
                    >
                      {at >= 0 ? <SeriesSwatch index={at} total={drawn.length} /> : null}
                    </button>
                  </td>
                  <td className="num whitespace-nowrap" title={r.id}>
                    <Name text={names.get(r.id)!} most={26} />
                  </td>
                  {study.parameters.map((p) => (
                    <td key={p.name} className={p.type === "number" ? "n" : ""}>
                      {typeof r.params[p.name] === "number"
                        ? formatNumber(r.params[p.name] as number)
                        : (r.params[p.name] ?? "–")}
                    </td>
                  ))}
                  {states && <StateCell run={states.get(r.id)} />}
                  <td>
                    {s && "y" in s ? (
                      <Sparkline x={s.x} y={s.y} strong={at >= 0} />
                    ) : s ? (
                      <span className="dim" title={s.error}>
                        –
                      </span>
                    ) : null}
                  </td>
                  <td className="n">
                    {s && "max" in s && s.max !== null ? (
                      formatNumber(s.max, 4)
                    ) : s && "error" in s ? (
                      <span title={s.error}>–</span>
                    ) : (
                      ""
                    )}
                  </td>
                  {study.rules.length > 0 && <Counts verdict={verdicts.get(r.id)} trouble={judged.data?.trouble} />}
                  <td>
                    {r.problems[0] && (
                      <span title={r.problems.map((p) => p.text).join("\n")}>
                        <span className="warn">{r.problems[0].text}</span>
                        {r.problems.length > 1 && (
                          <span className="dim text-xs whitespace-nowrap"> and {r.problems.length - 1} more</span>
                        )}
                      </span>
                    )}
                  </td>
                </tr>
              );
            })}
            {sight.below > 0 && <tr aria-hidden style={{ height: sight.below }} />}
          </tbody>
        </table>
        {rows.length === 0 && (
          <p className="dim py-6">
            No run fits these filters.{" "}
            <button
              className="link"
              onClick={() => {
                setFilters({});
                setOnlyOdd(false);
              }}
            >
              Show all
            </button>
          </p>
        )}
      </div>
    </>
  );
}

/** The state of a run, with what decided it on hover. */
function StateCell({ run }: { run: LiveRun | undefined }): ReactElement {
  if (!run) return <td />;
  return (
    <td title={run.because}>
      <span className="flex items-center gap-1.5 whitespace-nowrap">
        <StateMark state={run.state} />
        {run.state === "finished" ? <span className="sr-only">finished</span> : run.state}
      </span>
    </td>
  );
}

interface RunVerdict {
  readonly accepted: boolean;
  readonly because: string;
  /** The numbers that the rules looked at, in words. */
  readonly numbers: string;
}

/** What the rules of the study say of each run. */
function verdictsOf(t: OutputValue | undefined): ReadonlyMap<string, RunVerdict> {
  if (t?.kind !== "table") return new Map();
  const table = t as TableValue;
  const of = (name: string, i: number): string => String(table.columns.find((c) => c.name === name)?.values[i] ?? "");
  const rules = table.columns.filter((c) => c.kind === "number");
  return new Map(
    Array.from({ length: table.rows }, (_, i) => {
      const numbers = rules.map((c) =>
        `${c.name}: ${typeof c.values[i] === "number" ? formatNumber(c.values[i], 4) : "–"} ${displayUnit(c.unit)}`.trim(),
      );
      return [
        of("run", i),
        { accepted: of("accepted", i) === "yes", because: of("because", i), numbers: numbers.join("\n") },
      ];
    }),
  );
}

/** The value that decided first, out of the whole reason. */
const decisive = (because: string): string =>
  because
    .split("; ")[0]!
    .replace(/^[^:]*: /, "")
    .replace(/, limit: .*/, "");

/** Whether a run counts, by the rules of the study; on hover the numbers that decided. */
function Counts({ verdict, trouble }: { verdict: RunVerdict | undefined; trouble: string | undefined }): ReactElement {
  if (!verdict)
    return (
      <td className="dim" title={trouble}>
        {trouble === undefined ? "" : "?"}
      </td>
    );
  return (
    <td title={[verdict.because, verdict.numbers].filter((t) => t !== "").join("\n")} className="max-w-26 text-xs">
      <span className="line-clamp-2">
        {verdict.accepted ? (
          <span className="dim">yes</span>
        ) : (
          <span className="warn">no: {decisive(verdict.because)}</span>
        )}
      </span>
    </td>
  );
}

const ParameterHead = ({ children }: { children: ReactElement }): ReactElement => children;

function Filter({
  name,
  study,
  chosen,
  onChoose,
}: {
  name: string;
  study: StudySummary;
  chosen: readonly string[];
  onChoose: (v: readonly string[]) => void;
}): ReactElement {
  const values = useMemo(() => {
    const all = [...new Set(study.runs.flatMap((r) => (r.params[name] === undefined ? [] : [r.params[name]])))];
    return all.sort((a, b) => (a < b ? -1 : 1)).map(String);
  }, [name, study.runs]);
  return (
    <Popover.Root>
      <Popover.Trigger
        className={`btn h-6.5 px-2.5 text-xs ${chosen.length > 0 ? "border-oxide text-oxide" : "quiet"}`}
      >
        {name}: {chosen.length > 0 ? chosen.join(", ") : "all"}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="start"
          sideOffset={4}
          className="z-30 max-h-80 min-w-40 overflow-auto border border-rule bg-sheet p-2 shadow-md"
        >
          {values.map((v) => (
            <label key={v} className="flex items-center gap-2 px-1 py-0.5">
              <input
                type="checkbox"
                className="accent-oxide"
                checked={chosen.includes(v)}
                onChange={() => onChoose(chosen.includes(v) ? chosen.filter((c) => c !== v) : [...chosen, v])}
              />
              <span className="num">{v}</span>
            </label>
          ))}
          {chosen.length > 0 && (
            <button className="link mt-1 px-1 text-xs" onClick={() => onChoose([])}>
              all
            </button>
          )}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
