import path from "node:path";
import { applyEvent, emptyLive, type JobEvent, type Live, type Preflight, type startJobSchema } from "@oxtrum/contract";
import type { z } from "zod";
import { jobRequestSchema, keptPlace, removeOutputs, trimCache, type JobRequest } from "@oxtrum/engine";
import { inBackground, report } from "../background.js";
import type { Checker } from "../checks/checker.js";
import type { Scripts } from "../scripts.js";
import { problem } from "../store/problem.js";
import type { Store } from "../store/database.js";
import type { Settings } from "../settings.js";
import type { Studies } from "../studies.js";
import { WorkQueue } from "../threads/work-queue.js";
import { JobFolders } from "./job-folders.js";
import type { News } from "../news.js";
import { checkCounts, JobStates, type JobHead } from "./job-states.js";
import { appendJournal, readJournal } from "./journal.js";
import type { JobProcesses, RunningProcess } from "./process.js";

type StartOptions = z.output<typeof startJobSchema>;

const MOST_WAITING = 200;
const noSummary = { runs: 0, left: [], cellsDone: 0, cellsCached: 0, peakBytes: 0, seconds: 0 };

/**
 * The jobs: one runs at a time, others wait; Tries have a lane of their own. What a job tells goes to its journal, an
 * append-only file, and ten times a second at most to those who watch.
 */
export class Jobs {
  readonly #live = new Map<number, Live>();
  readonly #running = new Map<number, RunningProcess>();
  readonly #waiting: { id: number; request: JobRequest }[] = [];
  /** Jobs whose journal could not be written, and why. */
  readonly #unwritten = new Map<number, string>();
  /** The newest Try of each place that asks for them. */
  readonly #lanes = new Map<string, number>();
  readonly #tries = new WorkQueue(2, 30);
  readonly #preflights = new WorkQueue(1, 30);
  readonly #folders: JobFolders;
  readonly #states: JobStates;
  #busy = false;
  #closed = false;

  constructor(
    store: Store,
    private readonly dataFolder: string,
    private readonly studies: Studies,
    private readonly scripts: Scripts,
    private readonly checker: Checker,
    private readonly settings: Settings,
    private readonly processes: JobProcesses,
    private readonly news: News,
  ) {
    this.#folders = new JobFolders(dataFolder);
    this.#states = new JobStates(store, this.#folders);
  }

  /** Jobs that were under way when the server ended are shown as interrupted; they can be run again from the cache. */
  async recover(): Promise<void> {
    const { under, aside } = await this.#states.recover();
    for (const id of under) this.#withoutOutputs(id);
    for (const to of aside) process.stderr.write(`A folder of no job of this database was set aside: ${to}\n`);
  }

  /** A job that did not come to its end has no outputs, even where its process ended just after it had placed them. */
  #withoutOutputs(id: number): void {
    try {
      removeOutputs(path.join(this.folder(id), "outputs"));
    } catch (e) {
      report(`removing the outputs of job ${id}`, e);
    }
  }

  folder(id: number): string {
    return this.#folders.of(id);
  }

  /** @param always jobs that are listed however old they are, such as references */
  list(always: readonly number[] = [], tries = false, limit = 200): Promise<JobHead[]> {
    return this.#states.list(limit, always, tries);
  }

  get(id: number): Promise<JobHead> {
    return this.#states.get(id);
  }

  async request(id: number): Promise<JobRequest> {
    return jobRequestSchema.parse(await this.#states.request(id));
  }

  /** What a job has told: from memory while it is recent, from its journal otherwise. */
  live(id: number): Live {
    return this.#live.get(id) ?? readJournal(this.folder(id));
  }

  /** The revision that is to run: the text that was given, saved, or one that is there. */
  async #textOf(o: StartOptions): Promise<{ id: number; revision: number; text: string }> {
    if (o.text !== undefined) return this.scripts.save(o.script, o.text, o.base);
    if (o.revision === undefined) throw problem(400, "text: give the text of the script, or a revision of it");
    const { id } = await this.scripts.get(o.script);
    return { id, revision: o.revision, text: await this.scripts.revision(o.script, o.revision) };
  }

  async #requestOf(
    o: StartOptions,
    text: string,
  ): Promise<{ request: object; compiled: boolean; diagnostics: Live["diagnostics"] }> {
    const all = await this.studies.all();
    const files = await this.scripts.withSiblings(o.script, text);
    const types = Object.fromEntries(all.map((s) => [s.name, s.types]));
    const { diagnostics, compiled } = await this.checker.check(files, types);
    const used = all.filter((s) =>
      Object.values(files).some(
        (t) => t.includes(JSON.stringify(s.name)) || t.includes(`'${s.name}'`) || t.includes(`\`${s.name}\``),
      ),
    );
    const { workers, memory, scriptSeconds, style } = await this.settings.get();
    const request = {
      files,
      main: o.script,
      compiled,
      memory: memory * 1e6,
      scriptSeconds,
      style,
      ...(workers !== null && { workers }),
      mode: o.mode,
      inputs: o.inputs ?? {},
      tryRuns: o.tryRuns ?? {},
      dataFolder: this.dataFolder,
      studies: (used.length > 0 ? used : all).map(({ name, folder }) => ({ name, folder })),
      ...(o.runs !== undefined && o.runs !== "" && { runs: o.runs }),
    };
    return { request, compiled: compiled !== undefined, diagnostics: [...diagnostics] };
  }

  /** Keeps the text as a revision, checks it and starts the job, or lets it wait. */
  async start(o: StartOptions): Promise<JobHead> {
    if (o.mode === "run" && this.#waiting.length >= MOST_WAITING)
      throw problem(503, `${MOST_WAITING} jobs wait already; stop some, or ask again later.`);
    const saved = await this.#textOf(o);
    const { request, compiled, diagnostics } = await this.#requestOf(o, saved.text);
    const id = await this.#states.create({ scriptId: saved.id, revision: saved.revision, mode: o.mode, request });
    this.#live.set(id, emptyLive());
    if (!compiled) {
      this.#record(id, [
        { type: "diagnostics", diagnostics },
        { type: "done", exit: 1, summary: noSummary },
      ]);
      await this.#setState(id, { state: "failed", exit: 1, startedAt: Date.now(), endedAt: Date.now() });
      return this.get(id);
    }
    const folder = this.folder(id);
    const full = jobRequestSchema.parse({
      ...request,
      viewFolder: path.join(folder, "views"),
      ...(o.mode === "run" && { outFolder: path.join(folder, "outputs") }),
    });
    if (o.mode === "try") {
      await this.#replace(o.lane, id);
      inBackground(`job ${id}`, this.#try(id, full));
    } else {
      this.#waiting.push({ id, request: full });
      this.#next();
    }
    this.news.publish({ job: id, state: "waiting" });
    return this.get(id);
  }

  /** A newer Try from the same place stops the older one. */
  async #replace(lane: string | undefined, id: number): Promise<void> {
    if (lane === undefined) return;
    const older = this.#lanes.get(lane);
    this.#lanes.set(lane, id);
    if (this.#lanes.size > 200) this.#lanes.delete(this.#lanes.keys().next().value!);
    if (older !== undefined) await this.stop(older);
  }

  async #try(id: number, request: JobRequest): Promise<void> {
    try {
      await this.#tries.run(() => this.#run(id, request));
    } catch (e) {
      await this.#failed(id, (e as Error).message);
    }
  }

  #next(): void {
    if (this.#busy || this.#closed) return;
    const next = this.#waiting.shift();
    if (!next) return;
    this.#busy = true;
    const work = this.#run(next.id, next.request)
      .catch((e: unknown) => this.#failed(next.id, (e as Error).message))
      .finally(() => {
        this.#busy = false;
        this.#next();
      });
    inBackground(
      `job ${next.id}`,
      work.then(() => this.#trim()),
    );
  }

  /** Old results go when nobody works with them. */
  async #trim(): Promise<void> {
    if (this.#running.size > 0 || this.#closed) return;
    const { cache } = await this.settings.get();
    if (this.#running.size === 0) trimCache(keptPlace(this.dataFolder, "cache"), cache * 1e6);
  }

  /** A job that our own side could not carry through. */
  async #failed(id: number, why: string): Promise<void> {
    this.#record(id, [
      { type: "message", level: "error", text: why },
      { type: "done", exit: 1, summary: noSummary },
    ]);
    await this.#setState(id, { state: "failed", exit: 1, endedAt: Date.now() });
  }

  async #run(id: number, request: JobRequest): Promise<void> {
    // Stopped while it waited.
    if ((await this.get(id)).endedAt !== null || this.#closed) return;
    await this.#setState(id, { state: "running", startedAt: Date.now() });
    let gathered: JobEvent[] = [];
    const flush = (): void => {
      if (gathered.length === 0) return;
      const events = gathered;
      gathered = [];
      this.#record(id, events);
    };
    const timer = setInterval(flush, 100);
    let asked = false;
    let told = false;
    const process = this.processes.start(request, (e) => {
      if (e.type === "done" && e.stopped) told = true;
      gathered.push(e);
    });
    this.#running.set(id, {
      ...process,
      stop: () => {
        asked = true;
        process.stop();
      },
    });
    const { exit } = await process.ended;
    // A job that had come to its end before the wish to stop it reached it is done.
    const stopped = told || (asked && exit === null);
    clearInterval(timer);
    flush();
    this.#running.delete(id);
    if (this.#closed) return;
    const { summary } = this.live(id);
    const state = stopped ? "stopped" : exit === null || exit === 1 || this.#unwritten.has(id) ? "failed" : "done";
    // Outputs that were finished are kept, also of a job that failed for want of room; of one that was ended there are
    // none.
    if (stopped || exit === null) this.#withoutOutputs(id);
    const checks = checkCounts(this.live(id));
    await this.#setState(id, { state, exit, endedAt: Date.now(), summary: summary && { ...summary, checks } });
    this.#unwritten.delete(id);
    if (this.#live.size > 50) this.#live.delete(this.#live.keys().next().value!);
  }

  #record(id: number, given: readonly JobEvent[]): void {
    const live = this.live(id);
    this.#live.set(id, live);
    const after = live.seq;
    const events = [...given];
    const why = appendJournal(this.folder(id), events);
    if (why !== undefined && !this.#unwritten.has(id)) {
      this.#unwritten.set(id, why);
      events.push({ type: "message", level: "error", text: `What this job tells cannot be kept: ${why}.` });
    }
    for (const e of events) applyEvent(live, e);
    this.news.publish({ job: id, events, after });
  }

  /** Removes all jobs of a script. @throws HTTPException when one of them has not ended */
  async removeOf(script: string): Promise<void> {
    const ids = await this.#states.of(script);
    for (const id of ids)
      if (["running", "waiting"].includes((await this.get(id)).state))
        throw problem(409, `Job ${id} of ${script} has not ended: stop it first.`);
    for (const id of ids) await this.remove(id);
  }

  async #setState(id: number, change: Parameters<JobStates["set"]>[1]): Promise<void> {
    await this.#states.set(id, change);
    this.news.publish({ job: id, state: change.state });
  }

  /** Removes a job that has ended: its row, its folder with the outputs. */
  async remove(id: number): Promise<void> {
    const { state } = await this.get(id);
    if (state === "running" || state === "waiting") throw problem(409, `Job ${id} is ${state}: stop it first.`);
    await this.#states.remove(id);
    this.#live.delete(id);
    this.news.changed("job", id, null);
  }

  async stop(id: number): Promise<void> {
    const running = this.#running.get(id);
    if (running) return running.stop();
    const at = this.#waiting.findIndex((w) => w.id === id);
    if (at >= 0) this.#waiting.splice(at, 1);
    if ((await this.get(id)).state === "waiting") await this.#setState(id, { state: "stopped", endedAt: Date.now() });
  }

  /** A dry run for the editor: what the script asks of which run, and what is missing. */
  preflight(script: string, text: string): Promise<Preflight> {
    return this.#preflights.run(() => this.#preflight(script, text));
  }

  async #preflight(script: string, text: string): Promise<Preflight> {
    const all = await this.studies.all();
    const files = await this.scripts.withSiblings(script, text);
    const checked = await this.checker.check(files, Object.fromEntries(all.map((s) => [s.name, s.types])));
    if (!checked.compiled) return { diagnostics: [...checked.diagnostics], asked: [], sites: [], complete: false };
    const live = emptyLive();
    let sites: Preflight["sites"] = [];
    const request = jobRequestSchema.parse({
      files,
      main: script,
      compiled: checked.compiled,
      mode: "dry",
      studies: all.map(({ name, folder }) => ({ name, folder })),
      dataFolder: this.dataFolder,
      scriptSeconds: 10,
    });
    const running = this.processes.start(request, (e) => {
      if (e.type === "asked") sites = e.sites ?? [];
      applyEvent(live, e);
    });
    await running.ended;
    const { asked, complete } = live;
    return { diagnostics: [...checked.diagnostics, ...live.diagnostics], asked, sites, complete };
  }

  close(): void {
    this.#closed = true;
    this.#states.close();
  }
}
