import { useVirtualizer } from "@tanstack/react-virtual";
import { useMemo, useRef, useState, type ReactElement } from "react";
import { Link } from "react-router";
import { shortNames } from "@oxtrum/core/charts";
import type { Live, LiveRun } from "@oxtrum/contract";
import { CellMark, cellWords, type CellState } from "../../parts/marks";
import { Name } from "../../parts/Name";
import { StateMark } from "../live/StateMark";
import { StudyStates, type StatesByRun } from "./StudyStates";

export interface Chosen {
  readonly run: string;
  readonly line: number;
}

const states: readonly CellState[] = ["cache", "done", "running", "waiting", "failed", "left-out"];

const ROW = 18;

interface RowProps {
  live: Live;
  run: Live["runs"][number];
  name: string;
  now: StatesByRun;
  chosen: Chosen | undefined;
  onChoose: (c: Chosen | undefined) => void;
  top: number;
}

/** One run: a square for each line that asks for something of it. */
function Row({ live, run: r, name, now, chosen, onChoose, top }: RowProps): ReactElement {
  const row = live.cells[`${r.study}/${r.id}`] ?? {};
  const own = live.sets[r.set] ?? [];
  const bad = Object.values(row).some((c) => c.state === "failed");
  return (
    <div role="row" className="absolute flex h-4.5 items-center" style={{ top }}>
      <span
        className={`num w-32 flex-none pr-2.5 text-right text-[11px] whitespace-nowrap ${bad ? "text-oxide" : ""}`}
        title={r.id}
      >
        <Name text={name} most={now.size > 0 ? 14 : 17} />
        {now.size > 0 && <RunState run={now.get(`${r.study}/${r.id}`)} />}
      </span>
      {live.lines.map((l) => {
        if (!own.includes(l.line)) return <span key={l.line} className="w-6 flex-none" />;
        const c = row[l.line];
        const state: CellState = c?.state ?? "waiting";
        const here = chosen?.run === r.id && chosen.line === l.line;
        return (
          <button
            key={l.line}
            role="gridcell"
            tabIndex={c ? 0 : -1}
            aria-label={`${r.id}, line ${l.line}: ${cellWords[state]}`}
            title={`${cellWords[state]}${c?.failure ? `: ${c.failure.reason}` : ""}`}
            className={`flex h-4.5 w-6 flex-none items-center ${here ? "outline outline-ink" : ""}`}
            onClick={() => onChoose(here ? undefined : { run: r.id, line: l.line })}
          >
            <CellMark state={state} />
          </button>
        );
      })}
    </div>
  );
}

/** What is known of the chosen square. */
function ChosenCell({ live, chosen }: { live: Live; chosen: Chosen }): ReactElement {
  const cell = live.cells[`${live.runs.find((r) => r.id === chosen.run)?.study}/${chosen.run}`]?.[chosen.line];
  return (
    <div className={`mt-3 border bg-sheet px-3 py-2 ${cell?.failure ? "border-oxide" : "border-rule"}`}>
      <b className="num">{chosen.run}</b> {cell ? cellWords[cell.state] : "waiting"} at line{" "}
      <span className="num">{chosen.line}</span>
      {cell?.failure && (
        <>
          {" "}
          ({cell.failure.op.replace(/^\w+\./, "")}): {cell.failure.reason}{" "}
          {cell.failure.file !== undefined && (
            <span className="num">
              {cell.failure.file}
              {cell.failure.line !== undefined ? `:${cell.failure.line}` : ""}
            </span>
          )}
          {cell.failure.hint !== undefined && <div>{cell.failure.hint}</div>}
          <div className="dim">What needs this value lacks the run; the rest of it is used.</div>
        </>
      )}
    </div>
  );
}

/** Runs × the script's lines. A failed square opens to file, line and reason. */
export function RunGrid({
  live,
  chosen,
  onChoose,
  script,
}: {
  live: Live;
  chosen: Chosen | undefined;
  onChoose: (c: Chosen | undefined) => void;
  script: string;
}): ReactElement {
  const scroller = useRef<HTMLDivElement>(null);
  const rows = useVirtualizer({
    count: live.runs.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW,
    overscan: 20,
  });
  // What the runs of one study have in common says nothing of another one's.
  const names = useMemo(() => {
    const byStudy = new Map<string, string[]>();
    for (const r of live.runs) byStudy.set(r.study, [...(byStudy.get(r.study) ?? []), r.id]);
    return new Map([...byStudy].map(([study, ids]) => [study, shortNames(ids)]));
  }, [live.runs]);
  const [now, setNow] = useState<StatesByRun>(new Map());
  const long = live.runs.length > 24;
  const shown = long ? rows.getVirtualItems() : live.runs.map((_, index) => ({ index, start: index * ROW }));
  return (
    <div>
      {[...names.keys()].map((study) => (
        <StudyStates key={study} study={study} onStates={setNow} />
      ))}
      <div className="flex pl-32" style={{ height: 74 }}>
        {live.lines.map((l) => (
          <div key={l.line} className="relative w-6 flex-none">
            <Link
              to={`/scripts/${encodeURIComponent(script)}`}
              className="dim absolute bottom-1 left-1.5 origin-bottom-left -rotate-50 text-[11px] whitespace-nowrap hover:text-oxide"
            >
              <span className="num">{l.line}</span> <Name text={l.label} most={16} />
            </Link>
          </div>
        ))}
      </div>
      <div ref={scroller} className={long ? "h-104 overflow-auto" : ""} role="grid" aria-label="Runs and lines">
        <div className="relative" style={{ height: rows.getTotalSize() }}>
          {shown.map(({ index, start }) => {
            const r = live.runs[index]!;
            const name = names.get(r.study)!.get(r.id)!;
            return <Row key={r.id} {...{ live, run: r, name, now, chosen, onChoose, top: start }} />;
          })}
        </div>
      </div>
      <div className="dim flex flex-wrap gap-x-4 gap-y-1 pt-3 text-xs">
        {states.map((s) => (
          <span key={s} className="flex items-center gap-1.5">
            <CellMark state={s} still />
            {cellWords[s]}
          </span>
        ))}
      </div>
      {chosen && <ChosenCell live={live} chosen={chosen} />}
    </div>
  );
}

/** How far a run is now, with what decided it on hover. */
function RunState({ run }: { run: LiveRun | undefined }): ReactElement {
  return (
    <span className="ml-1.5 inline-block w-3 align-[-1px]" title={run && `${run.state}: ${run.because}`}>
      {run && (
        <>
          <StateMark state={run.state} />
          <span className="sr-only">{run.state}</span>
        </>
      )}
    </span>
  );
}
