import { useMemo, useRef, type ReactElement } from "react";
import { shortNames } from "@oxtrum/core/charts";
import { formatNumber } from "@oxtrum/core/tables/number-format";
import { displayUnit } from "@oxtrum/core/tables/units";
import { runStateSchema, type LiveRun, type LiveStudy, type RunStateName } from "@oxtrum/contract";
import { Name } from "../../parts/Name";
import { useRowsInSight } from "../../parts/rows-in-sight";
import { SeriesSwatch } from "../study/SeriesSwatch";
import { StateMark } from "./StateMark";

/** A length of time, short. */
export function span(ms: number): string {
  const s = Math.max(0, Math.round(ms / 1000));
  if (s < 100) return `${s} s`;
  if (s < 5400) return `${Math.round(s / 60)} min`;
  if (s < 129_600) return `${Math.round(s / 3600)} h`;
  return `${Math.round(s / 86_400)} d`;
}

const ROW = 27;

/** How far a run is, as a bar with its words on hover. */
function Bar({ run, at }: { run: LiveRun; at: number }): ReactElement {
  const p = run.progress;
  if (!p) return <span className="dim">–</span>;
  const part = Math.min(1, Math.max(0, p.end === 0 ? 0 : p.value / p.end));
  const unit = displayUnit(p.unit);
  const rest = p.expected === undefined ? "" : `, ${span(p.expected - at)} left`;
  const words = `${formatNumber(p.value, 4)} of ${formatNumber(p.end, 4)} ${unit}${rest}${p.byRuns ? "; finished runs ended there" : ""}`;
  return (
    <span className="flex items-center gap-1.5" title={words}>
      <span className="h-1.5 w-11 flex-none bg-soft" role="img" aria-label={words}>
        <span className="block h-1.5 bg-oxide" style={{ width: `${100 * part}%` }} />
      </span>
    </span>
  );
}

/** How many runs are in each state; one of them may be listed alone. */
function States({
  live,
  shown,
  onShown,
}: {
  live: LiveStudy;
  shown: RunStateName | undefined;
  onShown: (s: RunStateName | undefined) => void;
}): ReactElement {
  return (
    <div className="flex flex-wrap gap-1.5 px-4 pb-2" role="group" aria-label="States">
      {runStateSchema.options.map((s) => {
        const count = live.runs.filter((r) => r.state === s).length;
        if (count === 0 && s !== shown) return null;
        return (
          <button
            key={s}
            aria-pressed={shown === s}
            className={
              "flex h-6.5 items-center gap-1.5 border px-2 text-xs " +
              (shown === s ? "border-oxide text-oxide" : "border-rule hover:border-ink")
            }
            style={{ borderRadius: 3 }}
            onClick={() => onShown(shown === s ? undefined : s)}
          >
            <StateMark state={s} />
            {s} <span className="num">{count}</span>
          </button>
        );
      })}
    </div>
  );
}

/** A run, its state and how far it is. */
function Row({
  run: r,
  name,
  now,
  at,
  of,
  onToggle,
}: {
  run: LiveRun;
  name: string;
  now: number;
  /** Its place among the runs that are drawn; -1 where it is not. */
  at: number;
  of: number;
  onToggle: () => void;
}): ReactElement {
  return (
    <tr className={`cursor-pointer ${at >= 0 ? "bg-oxide-wash/60" : "hover:bg-sheet"}`} onClick={onToggle}>
      <td className="w-7">
        <button
          aria-label={`${at >= 0 ? "Do not draw" : "Draw"} ${r.id}`}
          aria-pressed={at >= 0}
          className="block h-4 w-5"
          onClick={(e) => {
            e.stopPropagation();
            onToggle();
          }}
        >
          {at >= 0 ? <SeriesSwatch index={at} total={of} /> : null}
        </button>
      </td>
      <td className="num">
        <Name text={name} most={18} />
      </td>
      <td title={r.because}>
        <span className="flex items-center gap-1.5">
          <StateMark state={r.state} />
          {r.state}
        </span>
      </td>
      <td>
        <Bar run={r} at={now} />
      </td>
      <td className="n num whitespace-nowrap">
        {r.progress?.expected === undefined ? "–" : span(r.progress.expected - now)}
      </td>
      <td className="n num whitespace-nowrap">{r.written === null ? "–" : span(now - r.written)}</td>
    </tr>
  );
}

interface DrawnProps {
  readonly rows: readonly LiveRun[];
  readonly drawn: readonly string[];
  readonly chosen: number;
  readonly onDraw: (runs: readonly string[] | undefined) => void;
}

/** How many runs are drawn, and usual choices of them. */
function DrawnLine({ rows, drawn, chosen, onDraw }: DrawnProps): ReactElement {
  return (
    <div className="flex items-baseline gap-2 px-4 pb-1 text-xs">
      <span className={chosen > drawn.length ? "warn" : "dim"}>
        {chosen > drawn.length ? `the first ${drawn.length} of ${chosen} chosen are drawn` : `${drawn.length} drawn`}
      </span>
      <button className="link" onClick={() => onDraw(undefined)}>
        those that run
      </button>
      <button className="link" onClick={() => onDraw(rows.map((r) => r.id))}>
        all {rows.length}
      </button>
      <button className="link" onClick={() => onDraw([])}>
        none
      </button>
    </div>
  );
}

interface LiveRunsProps {
  readonly live: LiveStudy;
  readonly drawn: readonly string[];
  /** How many runs were chosen; more than are drawn where these are too many. */
  readonly chosen: number;
  /** Only runs of this state are listed. */
  readonly shown: RunStateName | undefined;
  readonly onShown: (s: RunStateName | undefined) => void;
  readonly onDraw: (runs: readonly string[] | undefined) => void;
}

/** All runs of a study with their states; those that are drawn are chosen here. */
export function LiveRuns({ live, drawn, chosen, shown, onShown, onDraw }: LiveRunsProps): ReactElement {
  const names = useMemo(() => shortNames(live.runs.map((r) => r.id)), [live.runs]);
  const rows = live.runs.filter((r) => shown === undefined || r.state === shown);
  const scroller = useRef<HTMLDivElement>(null);
  const sight = useRowsInSight(rows.length, scroller, ROW);
  const toggle = (id: string): void => onDraw(drawn.includes(id) ? drawn.filter((d) => d !== id) : [...drawn, id]);
  return (
    <>
      <States live={live} shown={shown} onShown={onShown} />
      <DrawnLine rows={rows} drawn={drawn} chosen={chosen} onDraw={onDraw} />
      <div ref={scroller} className="goes-on on-paper min-h-0 flex-1 overflow-auto px-4 pb-4">
        <table className="ruled text-xs" aria-label="Runs">
          <thead>
            <tr>
              <th aria-label="drawn" />
              <th>run</th>
              <th>state</th>
              <th>progress</th>
              <th className="n">left</th>
              <th className="n" title="when a file was written last">
                written
              </th>
            </tr>
          </thead>
          <tbody>
            {sight.above > 0 && <tr aria-hidden style={{ height: sight.above }} />}
            {rows.slice(sight.from, sight.to).map((r) => (
              <Row
                key={r.id}
                run={r}
                name={names.get(r.id) ?? r.id}
                now={live.at}
                at={drawn.indexOf(r.id)}
                of={drawn.length}
                onToggle={() => toggle(r.id)}
              />
            ))}
            {sight.below > 0 && <tr aria-hidden style={{ height: sight.below }} />}
          </tbody>
        </table>
      </div>
    </>
  );
}
