import fs from "node:fs";
import path from "node:path";
import { hallCases, type HallCase, type HallState } from "./hall.js";
import { fieldTimes, writeHallField, writeHallSurfaces } from "./hall-fields.js";
import { hallDefinition, hallRunTexts, hallStates } from "./write-hall.js";

/** The cases that are computed while one looks on: one of them diverges and is stopped. */
export const liveCases = [
  "050_040_none",
  "050_160_none",
  "075_080_none",
  "075_080_strip",
  "060_120_none",
  "100_160_strip",
];
/** So much of the hall's time is computed in one step, s. */
export const STEP = 30;

/** A run that is being computed: its files grow, and hold in the end what the finished run's hold. */
class GrowingRun {
  readonly #states: readonly HallState[];
  readonly #texts: ReadonlyMap<string, readonly { readonly time: number; readonly line: string }[]>;
  #time = -1;

  constructor(
    private readonly folder: string,
    private readonly c: HallCase,
  ) {
    this.#states = hallStates(c);
    const texts = [...hallRunTexts(c, this.#states)].map(([file, text]) => [file, timed(text)] as const);
    this.#texts = new Map(texts);
  }

  get done(): boolean {
    return this.#time >= this.#states[this.#states.length - 1]!.time;
  }

  /** Computes up to a time. */
  advance(to: number): void {
    const end = this.#states[this.#states.length - 1]!.time;
    for (const [file, lines] of this.#texts) {
      const news = lines.filter((l) => l.time > this.#time && (l.time <= to || to >= end)).map((l) => l.line);
      if (news.length === 0) continue;
      const full = path.join(this.folder, file);
      fs.mkdirSync(path.dirname(full), { recursive: true });
      fs.appendFileSync(full, news.join(""));
    }
    for (const t of fieldTimes)
      if (t > this.#time && t <= Math.min(to, end)) writeHallField(this.folder, this.c, this.#states[t]!);
    if (to >= end && !this.done) {
      const last = fieldTimes.filter((t) => t <= end).pop()!;
      writeHallSurfaces(this.folder, this.c, this.#states[last]!);
    }
    this.#time = Math.min(to, end);
  }
}

/** The lines of a text with the times at which they are written: that in them, or that of the line before. */
function timed(text: string): { time: number; line: string }[] {
  let time = 0;
  return (text.match(/[^\n]*\n|[^\n]+$/g) ?? []).map((line) => {
    const m = /^(?:t )?\s*(\d+(?:\.\d+)?)[ ,;]/.exec(line);
    // A restart goes back: what it repeats is written then, not earlier.
    if (m) time = Math.max(time, Number(m[1]));
    // What closes a log comes last.
    if (/^(?:finished|stopped:|end of)/.test(line)) time = Number.POSITIVE_INFINITY;
    return { time: Math.min(time, 1e9), line };
  });
}

/**
 * The study of the hall as it is computed: the definition first, then runs one after the other, a step of all of them
 * at each call.
 */
export class LiveHall {
  readonly #runs: { readonly run: GrowingRun; readonly begin: number }[];
  #step = 0;

  /** @param folder made anew; what stands there of an earlier time is removed, if it was made here */
  constructor(folder: string) {
    const mark = path.join(folder, ".stand-in-solver");
    if (fs.existsSync(folder) && fs.readdirSync(folder).length > 0) {
      if (!fs.existsSync(mark)) throw new Error(`${folder} was not made by the stand-in solver: it is left as it is`);
      fs.rmSync(folder, { recursive: true });
    }
    fs.mkdirSync(path.join(folder, "runs"), { recursive: true });
    fs.writeFileSync(mark, "");
    fs.writeFileSync(path.join(folder, "oxtrum.study.json"), JSON.stringify(hallDefinition, null, 2) + "\n");
    this.#runs = hallCases()
      .filter((c) => liveCases.includes(c.id))
      .sort((a, b) => liveCases.indexOf(a.id) - liveCases.indexOf(b.id))
      .map((c, k) => ({ run: new GrowingRun(path.join(folder, "runs", c.id), c), begin: 3 * k }));
  }

  /** Computes one step of all runs that have begun. @returns whether there is more to do */
  step(): boolean {
    for (const { run, begin } of this.#runs)
      if (this.#step >= begin && !run.done) run.advance((this.#step - begin) * STEP);
    this.#step++;
    return this.#runs.some((r) => !r.run.done);
  }
}

if (process.argv[1] && path.resolve(process.argv[1]) === path.resolve(new URL(import.meta.url).pathname)) {
  const live = new LiveHall(path.resolve(process.argv[2] ?? "demo/live/coldstore-live"));
  const pause = Number(process.argv[3] ?? 1000);
  const timer = setInterval(() => {
    if (!live.step()) clearInterval(timer);
  }, pause);
  live.step();
}
