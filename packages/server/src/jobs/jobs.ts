import fs from "node:fs";
import path from "node:path";
import { desc, eq, inArray } from "drizzle-orm";
import {
  jobRequestSchema,
  tidyBeside,
  trimCache,
  type AskedSite,
  type JobEvent,
  type JobRequest,
} from "@oxtrum/engine";
import type { Checker } from "../checks/checker.js";
import type { Scripts } from "../scripts.js";
import { problem } from "../store/problem.js";
import type { Store } from "../store/database.js";
import { jobs, scripts as scriptRows } from "../store/schema.js";
import type { Settings } from "../settings.js";
import type { Studies } from "../studies.js";
import { applyEvent, emptyLive, type LiveJob } from "./live.js";
import type { JobProcesses, RunningProcess } from "./process.js";

export type JobState = "waiting" | "running" | "done" | "stopped" | "interrupted" | "failed";

export interface JobHead {
  readonly id: number;
  readonly script: string;
  readonly revision: number;
  readonly mode: "run" | "try";
  readonly state: JobState;
  readonly exit: number | null;
  readonly createdAt: number;
  readonly startedAt: number | null;
  readonly endedAt: number | null;
}

interface StartOptions {
  readonly script: string;
  readonly text: string;
  readonly mode: "run" | "try";
  readonly tryRuns?: Readonly<Record<string, string>> | undefined;
  readonly runs?: string | undefined;
  readonly inputs?: Readonly<Record<string, string>> | undefined;
}

type Listener = (message: { job: number; events?: readonly JobEvent[]; after?: number; state?: JobState }) => void;

/**
 * The jobs: one runs at a time, others wait; a Try has a lane of its own. What a job tells goes to its journal, an
 * append-only file, and ten times a second at most to those who watch.
 */
export class Jobs {
  readonly #live = new Map<number, LiveJob>();
  readonly #running = new Map<number, RunningProcess>();
  readonly #listeners = new Set<Listener>();
  readonly #waiting: { id: number; request: JobRequest }[] = [];
  #runs = 0;
  #closed = false;

  constructor(
    private readonly store: Store,
    private readonly dataFolder: string,
    private readonly studies: Studies,
    private readonly scripts: Scripts,
    private readonly checker: Checker,
    private readonly settings: Settings,
    private readonly processes: JobProcesses,
  ) {}

  /** Jobs that were under way when the server ended are shown as interrupted; they can be run again from the cache. */
  async recover(): Promise<void> {
    const under = await this.store.db
      .select({ id: jobs.id })
      .from(jobs)
      .where(inArray(jobs.state, ["running", "waiting"]));
    for (const { id } of under) this.#withoutOutputs(id);
    await this.store.write((db) =>
      db
        .update(jobs)
        .set({ state: "interrupted", endedAt: Date.now() })
        .where(inArray(jobs.state, ["running", "waiting"])),
    );
  }

  /** A job that did not come to its end has no outputs, even where its process ended just after it had placed them. */
  #withoutOutputs(id: number): void {
    const outputs = path.join(this.folder(id), "outputs");
    tidyBeside(outputs);
    fs.rmSync(outputs, { recursive: true, force: true });
  }

  listen(l: Listener): () => void {
    this.#listeners.add(l);
    return () => this.#listeners.delete(l);
  }

  folder(id: number): string {
    return path.join(this.dataFolder, "jobs", String(id));
  }

  async list(limit = 100): Promise<JobHead[]> {
    const rows = await this.store.db
      .select()
      .from(jobs)
      .innerJoin(scriptRows, eq(jobs.scriptId, scriptRows.id))
      .orderBy(desc(jobs.id))
      .limit(limit);
    return rows.map((r) => head(r.jobs, r.scripts.name));
  }

  async get(id: number): Promise<JobHead> {
    const row = (
      await this.store.db
        .select()
        .from(jobs)
        .innerJoin(scriptRows, eq(jobs.scriptId, scriptRows.id))
        .where(eq(jobs.id, id))
    )[0];
    if (!row) throw problem(404, `There is no job ${id}.`);
    return head(row.jobs, row.scripts.name);
  }

  async request(id: number): Promise<JobRequest> {
    const row = (await this.store.db.select().from(jobs).where(eq(jobs.id, id)))[0];
    if (!row) throw problem(404, `There is no job ${id}.`);
    return jobRequestSchema.parse(row.request);
  }

  /** What a job has told: from memory while it is recent, from its journal otherwise. */
  live(id: number): LiveJob {
    const known = this.#live.get(id);
    if (known) return known;
    const live = emptyLive();
    let text = "";
    try {
      text = fs.readFileSync(path.join(this.folder(id), "journal.jsonl"), "utf8");
    } catch {
      return live;
    }
    for (const line of text.split("\n")) {
      if (line === "") continue;
      try {
        applyEvent(live, JSON.parse(line) as JobEvent);
      } catch {
        break; // A line cut by a crash: what stands before it is true.
      }
    }
    // Squares that were under way when the process ended are not any more.
    for (const row of Object.values(live.cells))
      for (const [line, c] of Object.entries(row)) if (c.state === "running") delete row[Number(line)];
    return live;
  }

  /** Keeps the text as a revision, checks it and starts the job, or lets it wait. */
  async start(o: StartOptions): Promise<JobHead> {
    const saved = await this.scripts.save(o.script, o.text);
    const all = await this.studies.all();
    const files = await this.scripts.withSiblings(o.script, o.text);
    const { diagnostics, compiled } = await this.checker.check(
      files,
      Object.fromEntries(all.map((s) => [s.name, s.types])),
    );
    const used = all.filter((s) =>
      Object.values(files).some(
        (t) => t.includes(JSON.stringify(s.name)) || t.includes(`'${s.name}'`) || t.includes(`\`${s.name}\``),
      ),
    );
    const { workers, memory, scriptSeconds, style } = await this.settings.get();
    const request = {
      files, main: o.script, compiled, memory: memory * 1e6, scriptSeconds, style, ...(workers !== null && { workers }), mode: o.mode, inputs: o.inputs ?? {}, tryRuns: o.tryRuns ?? {}, dataFolder: this.dataFolder,
      studies: (used.length > 0 ? used : all).map(({ name, folder }) => ({ name, folder })),
      ...(o.runs !== undefined && o.runs !== "" && { runs: o.runs }),
    }; // prettier-ignore
    const row = await this.store.write(
      async (db) =>
        (
          await db
            .insert(jobs)
            .values({
              scriptId: saved.id,
              revision: saved.revision,
              mode: o.mode,
              state: "waiting",
              request,
              createdAt: Date.now(),
            })
            .returning()
        )[0]!,
    );
    const folder = this.folder(row.id);
    fs.mkdirSync(folder, { recursive: true });
    const live = emptyLive();
    this.#live.set(row.id, live);
    if (!compiled) {
      this.#record(row.id, [
        { type: "diagnostics", diagnostics },
        {
          type: "done",
          exit: 1,
          summary: { runs: 0, left: [], cellsDone: 0, cellsCached: 0, peakBytes: 0, seconds: 0 },
        },
      ]);
      await this.#setState(row.id, "failed", { exit: 1, startedAt: Date.now(), endedAt: Date.now() });
      return this.get(row.id);
    }
    const full = jobRequestSchema.parse({
      ...request,
      viewFolder: path.join(folder, "views"),
      ...(o.mode === "run" && { outFolder: path.join(folder, "outputs") }),
    });
    if (o.mode === "try") void this.#run(row.id, full);
    else {
      this.#waiting.push({ id: row.id, request: full });
      this.#next();
    }
    this.#tell({ job: row.id, state: "waiting" });
    return this.get(row.id);
  }

  #next(): void {
    if (this.#runs > 0 || this.#closed) return;
    const next = this.#waiting.shift();
    if (!next) return;
    this.#runs++;
    void this.#run(next.id, next.request).finally(() => {
      this.#runs--;
      this.#next();
      void this.#trim();
    });
  }

  /** Old results go when nobody works with them. */
  async #trim(): Promise<void> {
    if (this.#running.size > 0 || this.#closed) return;
    const { cache } = await this.settings.get();
    if (this.#running.size === 0) trimCache(path.join(this.dataFolder, "cache"), cache * 1e6);
  }

  async #run(id: number, request: JobRequest): Promise<void> {
    await this.#setState(id, "running", { startedAt: Date.now() });
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
    this.#running.set(id, { ...process, stop: () => { asked = true; process.stop(); } }); // prettier-ignore
    const { exit } = await process.ended;
    // A job that had come to its end before the wish to stop it reached it is done.
    const stopped = told || (asked && exit === null);
    clearInterval(timer);
    flush();
    this.#running.delete(id);
    if (this.#closed) return;
    const summary = this.live(id).summary;
    const state = stopped ? "stopped" : exit === null || exit === 1 ? "failed" : "done";
    if (state !== "done") this.#withoutOutputs(id);
    await this.#setState(id, state, {
      exit,
      endedAt: Date.now(),
      summary,
    });
    if (this.#live.size > 50) this.#live.delete(this.#live.keys().next().value!);
  }

  #record(id: number, events: readonly JobEvent[]): void {
    const live = this.live(id);
    this.#live.set(id, live);
    const after = live.seq;
    fs.appendFileSync(
      path.join(this.folder(id), "journal.jsonl"),
      events.map((e) => JSON.stringify(e)).join("\n") + "\n",
    );
    for (const e of events) applyEvent(live, e);
    this.#tell({ job: id, events, after });
  }

  async #setState(
    id: number,
    state: JobState,
    more: { exit?: number | null; startedAt?: number; endedAt?: number; summary?: unknown } = {},
  ): Promise<void> {
    await this.store.write((db) =>
      db
        .update(jobs)
        .set({ state, ...more })
        .where(eq(jobs.id, id)),
    );
    this.#tell({ job: id, state });
  }

  #tell(m: Parameters<Listener>[0]): void {
    for (const l of this.#listeners) l(m);
  }

  async stop(id: number): Promise<void> {
    const at = this.#waiting.findIndex((w) => w.id === id);
    if (at >= 0) {
      this.#waiting.splice(at, 1);
      await this.#setState(id, "stopped", { endedAt: Date.now() });
      return;
    }
    this.#running.get(id)?.stop();
  }

  /** A dry run for the editor: what the script asks of which run, and what is missing. */
  async preflight(script: string, text: string): Promise<Preflight> {
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
    const timer = setTimeout(() => running.stop(), 20_000);
    await running.ended;
    clearTimeout(timer);
    const { asked, complete } = live;
    return { diagnostics: [...checked.diagnostics, ...live.diagnostics], asked, sites, complete };
  }

  close(): void {
    this.#closed = true;
  }
}

/** What a dry run tells. */
export interface Preflight {
  readonly diagnostics: LiveJob["diagnostics"];
  readonly asked: LiveJob["asked"];
  readonly sites: readonly AskedSite[];
  readonly complete: boolean;
}

function head(r: typeof jobs.$inferSelect, script: string): JobHead {
  return {
    id: r.id,
    script,
    revision: r.revision,
    mode: r.mode,
    state: r.state,
    exit: r.exit,
    createdAt: r.createdAt,
    startedAt: r.startedAt,
    endedAt: r.endedAt,
  };
}
