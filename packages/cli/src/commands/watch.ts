import {
  keptPlace,
  LiveStudy,
  runJob,
  scanStudy,
  selectRuns,
  type JobRequest,
  type OutputRecord,
} from "@oxtrum/engine";
import type { CommandIo } from "../command-io.js";
import { diagnosticLine } from "../progress.js";
import { counted } from "../text-table.js";

/** Between two looks at the studies' folders, ms. */
const LOOK = 1000;
/** Rests after an evaluation: two seconds at least, or three times what it took, a minute at most. */
const REST = { least: 2000, times: 3, most: 60_000 };

interface WatchOptions {
  readonly until?: "finished" | undefined;
  readonly json: boolean;
}

/** The studies of a job, as their folders are now. */
class WatchedStudies {
  #studies: { readonly name: string; readonly live: LiveStudy; readonly ids: ReadonlySet<string> }[] = [];
  readonly #states = new Map<string, string>();

  constructor(
    private readonly asked: JobRequest,
    private readonly say: (line: string) => void,
  ) {}

  /** Scans the folders: which runs and files there are. */
  async open(): Promise<void> {
    const before = new Map(this.#studies.map((s) => [s.name, s.live]));
    this.#studies = [];
    for (const s of this.asked.studies) {
      const began = Date.now();
      const keepIn = keptPlace(this.asked.dataFolder, "catalogues");
      const catalogue = await scanStudy(s.folder, { keepIn });
      const live = new LiveStudy(s.name, catalogue, began, Date.now(), String(began), before.get(s.name));
      this.#studies.push({ name: s.name, live, ids: selectRuns(catalogue, this.asked.runs) });
    }
  }

  /** Whether something changed since the last look. */
  changed(): boolean {
    const now = Date.now();
    return this.#studies.map((s) => s.live.look(now)).some((l) => l.moved || l.changed.length > 0);
  }

  /** Tells states that are new. @returns whether all runs are finished or failed */
  told(): boolean {
    let all = true;
    for (const { name, live, ids } of this.#studies)
      for (const r of live.read({ runs: [], quantities: [] }, {}, Date.now())) {
        if (!ids.has(r.id)) continue;
        if (r.state !== "finished" && r.state !== "failed") all = false;
        const run = this.#studies.length > 1 ? `${name}/${r.id}` : r.id;
        if (this.#states.get(run) === r.state) continue;
        this.#states.set(run, r.state);
        this.say(`${run}: ${r.state}, ${r.because}`);
      }
    return all;
  }
}

/** What is compared of an output to know whether it changed. */
const stateOf = (o: OutputRecord): string =>
  JSON.stringify([o.digest, o.summary, o.verdict, o.failed, o.files.map((f) => [f.file, f.sha256])]);

function outputLine(o: OutputRecord): string {
  const left = o.left.length > 0 ? `, ${o.left.length} excluded` : "";
  const what = o.failed !== undefined ? `not made: ${o.failed}` : (o.summary ?? `${counted(o.runs, "run")}${left}`);
  return `${o.kind} ${o.name}: ${what}`;
}

/** Waits; ends early when it is stopped. */
const pause = (ms: number, signal: AbortSignal): Promise<void> =>
  new Promise((done) => {
    if (signal.aborted) return done();
    const end = (): void => {
      clearTimeout(timer);
      signal.removeEventListener("abort", end);
      done();
    };
    const timer = setTimeout(end, ms);
    signal.addEventListener("abort", end);
  });

/**
 * Runs a script again and again while its studies are being computed: each time that files changed, at a pace. Each
 * evaluation puts its outputs in the place of those before, whole; a line says what changed. Ends by a signal, or with
 * `until` when all runs are finished or failed and were evaluated as such.
 *
 * @returns the exit code of the last whole evaluation
 */
export async function watch(asked: JobRequest, o: WatchOptions, io: CommandIo): Promise<number> {
  const known = new Map<string, string>();
  const said = new Set<string>();
  const say = (line: string): void => io.complain(line);
  const studies = new WatchedStudies(asked, say);
  let exit: number | undefined;
  for (let turn = 1; !io.signal.aborted; turn++) {
    await studies.open();
    // What is finished now is finished for the evaluation that follows.
    const ended = studies.told();
    const began = Date.now();
    const messages = new Set<string>();
    const result = await runJob(
      asked,
      (e) => {
        if (e.type === "diagnostics") for (const d of e.diagnostics) messages.add(diagnosticLine(d));
        if (e.type === "message" && e.level === "error") messages.add(e.text);
      },
      io.signal,
    );
    if (io.signal.aborted) break;
    exit = result.exit;
    const news = result.outputs.filter((x) => known.get(x.name) !== stateOf(x));
    for (const x of result.outputs) known.set(x.name, stateOf(x));
    if (o.json) io.print(JSON.stringify({ turn, exit, outputs: result.outputs, leftOut: result.summary.left }));
    else {
      for (const m of messages) if (!said.has(m)) say(m);
      for (const m of messages) said.add(m);
      for (const x of news) say(outputLine(x));
      const { summary } = result;
      if (news.length > 0 || turn === 1)
        say(
          `${turn}: ${counted(summary.runs, "run")}, ${summary.left.length} excluded, ` +
            `${news.length} of ${counted(result.outputs.length, "output")} changed`,
        );
    }
    if (result.exit === 1 && result.outputs.length === 0) return 1;
    if (ended && o.until === "finished") return exit;
    const took = Date.now() - began;
    await pause(Math.min(REST.most, Math.max(REST.least, REST.times * took)), io.signal);
    while (!io.signal.aborted && !studies.changed()) {
      if (studies.told() && o.until === "finished" && !ended) break;
      await pause(LOOK, io.signal);
    }
  }
  return exit ?? 130;
}
