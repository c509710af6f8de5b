import { conditionText, numbers, type Table } from "@oxtrum/core/tables";
import type { Catalogue } from "../definition/catalogue-model.js";
import type { RunState } from "../definition/states.js";
import { isOwnMistake } from "../scheduler/internal-error.js";
import { LiveRun, type LiveQuantity, type Progress } from "./followed-run.js";
import { StudyWatch, type Look } from "./study-watch.js";
import { thinnedOn, type ThinnedSoFar } from "./thinned.js";

/** Along what a quantity is drawn: the axis of its table, or the number of its rows. */
export interface Followed {
  readonly quantity: LiveQuantity;
  readonly along: "axis" | "row";
}

/** A quantity of a run as far as it has come, thinned. */
export interface LiveSeries {
  /** What the series is the same by: who has it already need not get it again. */
  readonly version: string;
  readonly x?: readonly (number | null)[];
  readonly y?: readonly (number | null)[];
  readonly xName?: string;
  readonly xUnit?: string | null;
  readonly unit?: string | null;
  readonly rows?: number;
  /** The last value, and how it changes: least squares over the last tenth of the rows, in units of y per unit of x. */
  readonly last?: number | null;
  readonly slope?: number | null;
  /** What is known of its worth: rows that are damaged, files that cannot be read; the first of these. */
  readonly notes?: readonly string[];
  /** Why there is nothing. */
  readonly error?: string;
}

export interface LiveRunAnswer extends RunState {
  readonly id: string;
  /** When one of its files was written last, ms. */
  readonly written: number | null;
  readonly progress: Progress | null;
  /** By quantity, for the runs that were chosen. */
  readonly series: readonly LiveSeries[];
}

/** Bytes of rows that are held of runs that nobody looks at now. */
const MAX_HELD = 512e6;
/** Points of all series of an answer together. */
const MAX_POINTS = 40_000;
const MAX_NOTES = 5;
/** After so long without a write, a last line without its end is told, ms. */
const OPEN_LINE = 5000;
/** Counts the runs that were opened: one that was let go and opened again has versions of its own. */
let made = 0;

function plainAll(values: Float64Array): (number | null)[] {
  const out = new Array<number | null>(values.length);
  for (let i = 0; i < out.length; i++) out[i] = plain(values[i]);
  return out;
}
const plain = (v: number | undefined): number | null => (v !== undefined && Number.isFinite(v) ? v : null);

/** A study whose runs are followed: states of all of them, and quantities of those that are looked at. */
export class LiveStudy {
  readonly watch: StudyWatch;
  readonly #byId: ReadonlyMap<string, Catalogue["runs"][number]>;
  readonly #runs = new Map<string, LiveRun>();
  #ends: { readonly key: string; readonly end: number | undefined } = { key: "", end: undefined };
  readonly #states = new Map<string, { readonly state: RunState; readonly until: number }>();

  /**
   * @param scanned when the scan that gave the catalogue began, ms
   * @param epoch names this reader: versions of another one mean nothing here
   * @param before the same study as it was followed until a scan: runs that it knows go on where they are
   */
  constructor(
    private readonly name: string,
    readonly catalogue: Catalogue,
    scanned: number,
    now: number,
    private readonly epoch: string,
    before?: LiveStudy,
  ) {
    this.watch = new StudyWatch(catalogue, scanned, now);
    this.#byId = new Map(catalogue.runs.map((r) => [r.id, r]));
    if (before?.catalogue.folder !== catalogue.folder) return;
    if (JSON.stringify(before.catalogue.definition) !== JSON.stringify(catalogue.definition)) return;
    for (const [id, run] of before.#runs) if (this.#byId.get(id)?.folder === run.run.folder) this.#runs.set(id, run);
  }

  /** Looks at what changed since the last time, and which runs have come to their end with it. */
  look(now: number): Look & { readonly ended: readonly string[] } {
    const look = this.watch.look(now);
    const rules = this.catalogue.definition.states;
    const ended = look.changed.filter((id) => {
      const before = this.#states.get(id)?.state.state;
      this.#states.delete(id);
      if (!rules?.finished && !rules?.failed) return false;
      const { state } = this.#state(id, now, this.watch.written(id));
      return state !== before && (state === "finished" || state === "failed");
    });
    return { ...look, ended };
  }

  /** States of all runs, with quantities of the chosen ones that are not those in `have`. */
  read(
    asked: { readonly runs: readonly string[]; readonly quantities: readonly Followed[] },
    have: Readonly<Record<string, string>>,
    now: number,
  ): LiveRunAnswer[] {
    const chosen = new Set(asked.runs);
    const points = Math.max(40, Math.floor(MAX_POINTS / Math.max(1, chosen.size * asked.quantities.length)));
    const names = asked.quantities.map((f) => JSON.stringify(f));
    // Of all runs first: where finished ones ended tells how far the others are.
    for (const r of this.catalogue.runs) this.#state(r.id, now, this.watch.written(r.id));
    const answers = this.catalogue.runs.map((r): LiveRunAnswer => {
      const written = this.watch.written(r.id);
      const series = chosen.has(r.id)
        ? asked.quantities.map((f, k) =>
            this.#series(this.#run(r.id), f, names[k]!, have[`${r.id}/${k}`], Math.min(points, 2000), now),
          )
        : [];
      const state = this.#state(r.id, now, written);
      const ended = state.state === "finished" || state.state === "failed";
      const usual = ended || series.length === 0 ? undefined : this.#usual(this.#run(r.id), asked.quantities, names);
      const progress = (!ended && written !== undefined && this.#run(r.id).progress(now, usual)) || null;
      return { id: r.id, ...state, written: written ?? null, progress, series };
    });
    this.#makeRoom(chosen);
    return answers;
  }

  #run(id: string): LiveRun {
    let run = this.#runs.get(id);
    if (!run) {
      const { folder, definition } = this.catalogue;
      const key = `${this.epoch}.${id}.${made++}`;
      run = new LiveRun({ name: this.name, folder, definition }, this.#byId.get(id)!, key);
    }
    // The one used last is at the end.
    this.#runs.delete(id);
    this.#runs.set(id, run);
    return run;
  }

  /** A state holds until a file of the run changes; that of the clock for a second. */
  #state(id: string, now: number, written: number | undefined): RunState {
    const known = this.#states.get(id);
    if (known && now < known.until) return known.state;
    const state = this.#run(id).state(now, written);
    const byClock = state.state === "running" || state.state === "stalled";
    this.#states.set(id, { state, until: byClock ? now + 1000 : Infinity });
    return state;
  }

  /** How far a run is along its axis, by where finished runs ended. */
  #usual(
    run: LiveRun,
    quantities: readonly Followed[],
    names: readonly string[],
  ): Omit<Progress, "expected"> | undefined {
    const { states } = this.catalogue.definition;
    if (!states?.finished || states.progress) return undefined;
    for (const [k, f] of quantities.entries()) {
      if (f.along === "row" || f.quantity.kind === "field") continue;
      const at = run.reached.get(names[k]!);
      const end = at && this.#usualEnd(f, at.unit);
      if (end !== undefined) return { ...at!, end, byRuns: true };
    }
    return undefined;
  }

  /** The median of where up to five finished runs ended along their axis. */
  #usualEnd(f: Followed, unit: string | null): number | undefined {
    const finished = [...this.#states].filter(([, s]) => s.state.state === "finished").map(([id]) => id);
    const key = JSON.stringify([f.quantity, unit, finished.slice(0, 5)]);
    if (this.#ends.key === key) return this.#ends.end;
    const ends = finished.slice(0, 5).flatMap((id) => {
      try {
        const table = this.#run(id).series(f.quantity).table();
        const axis = table.axis === undefined ? undefined : numbers(table, table.axis);
        return axis && axis.unit === unit && table.rows > 0 ? [axis.values[table.rows - 1]!] : [];
      } catch (e) {
        if (isOwnMistake(e)) throw e;
        return [];
      }
    });
    const end = ends.sort((a, b) => a - b)[Math.floor(ends.length / 2)];
    this.#ends = { key, end };
    return end;
  }

  #makeRoom(chosen: ReadonlySet<string>): void {
    let held = [...this.#runs.values()].reduce((n, r) => n + r.held, 0);
    for (const [id, run] of this.#runs) {
      if (held <= MAX_HELD) break;
      if (chosen.has(id)) continue;
      held -= run.held;
      this.#runs.delete(id);
    }
  }

  #series(run: LiveRun, f: Followed, name: string, have: string | undefined, points: number, now: number): LiveSeries {
    try {
      const { table, version: n, open, written } = run.series(f.quantity);
      // Of a file that is being written the next look has the rest of the line.
      const cut = open && written !== undefined && now - written > OPEN_LINE;
      const version = `${run.key}.${n}.${points}${cut ? ".cut" : ""}`;
      if (version === have) return { version };
      const whole = table();
      const { thinned, ...series } = drawn(whole, columnOf(f.quantity), f.along, points, run.curve(name, points));
      run.keepCurve(name, points, thinned);
      const axis = whole.axis === undefined ? undefined : numbers(whole, whole.axis);
      const reached = axis?.values[whole.rows - 1];
      if (reached !== undefined) run.reached.set(name, { value: reached, unit: axis!.unit });
      const notes = [...(cut ? ["the last line has no line end and is not read"] : []), ...(series.notes ?? [])];
      return { version, ...series, ...(notes.length > 0 && { notes }) };
    } catch (e) {
      // What a script would be told of; our own mistakes are not among it.
      if (isOwnMistake(e)) throw e;
      run.reached.delete(name);
      return { version: `${this.epoch}.error`, error: (e as Error).message };
    }
  }
}

const columnOf = (q: LiveQuantity): string => (q.kind === "field" ? `${q.statistic} of ${q.field}` : q.column);

let numbered = new Float64Array(0);
/** 1, 2, 3 … so many, of one memory for all. */
function rowNumbers(rows: number): Float64Array {
  if (numbered.length < rows) numbered = Float64Array.from({ length: 2 * rows }, (_, i) => i + 1);
  return numbered.subarray(0, rows);
}

/** A column along its axis, thinned, with its last value and how it changes. */
function drawn(
  table: Table,
  column: string,
  along: "axis" | "row",
  points: number,
  before: ThinnedSoFar | undefined,
): Omit<LiveSeries, "version"> & { readonly thinned: ThinnedSoFar } {
  const c = numbers(table, column);
  const axis = along === "row" || table.axis === undefined ? undefined : numbers(table, table.axis);
  const x = axis?.values ?? rowNumbers(table.rows);
  const thinned = thinnedOn(x, c.values, points, before);
  return {
    thinned,
    x: plainAll(thinned.x),
    y: plainAll(thinned.y),
    xName: axis?.name ?? "row",
    xUnit: axis ? axis.unit : "1",
    unit: c.unit,
    rows: table.rows,
    ...(table.conditions && { notes: table.conditions.slice(0, MAX_NOTES).map(conditionText) }),
    last: plain(c.values[table.rows - 1]),
    slope: plain(slopeOf(x, c.values)),
  };
}

/** The slope of the least-squares line through the last tenth of the rows, of 5 to 200 of them. */
export function slopeOf(x: ArrayLike<number>, y: ArrayLike<number>): number {
  const n = Math.min(x.length, Math.max(5, Math.min(200, Math.ceil(x.length / 10))));
  let [count, mx, my] = [0, 0, 0];
  for (let i = x.length - n; i < x.length; i++) {
    if (!Number.isFinite(x[i]!) || !Number.isFinite(y[i]!)) continue;
    count++;
    mx += (x[i]! - mx) / count;
    my += (y[i]! - my) / count;
  }
  let [sxx, sxy] = [0, 0];
  for (let i = x.length - n; i < x.length; i++) {
    if (!Number.isFinite(x[i]!) || !Number.isFinite(y[i]!)) continue;
    sxx += (x[i]! - mx) ** 2;
    sxy += (x[i]! - mx) * (y[i]! - my);
  }
  return sxx > 0 ? sxy / sxx : Number.NaN;
}
