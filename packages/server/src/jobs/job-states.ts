import type { JobHead, JobState, Live } from "@oxtrum/contract";
import { z } from "zod";
import { desc, eq, inArray } from "drizzle-orm";
import { inBackground } from "../background.js";
import { problem } from "../store/problem.js";
import type { Store } from "../store/database.js";
import { jobs, scripts as scriptRows } from "../store/schema.js";
import { JobFolders } from "./job-folders.js";

export type { JobHead } from "@oxtrum/contract";

/** What of the summary and the request of a job its head says. */
const summaryOf = z.object({
  runs: z.number().optional(),
  left: z.array(z.unknown()).optional(),
  checks: z.object({ passed: z.number(), failed: z.number(), undecided: z.number() }).optional(),
});
const requestOf = z.object({
  studies: z.array(z.object({ name: z.string() })),
  files: z.record(z.string(), z.string()),
});

/** The studies that the texts of a request name: others are given to it as well, where none is found. */
function studiesOf(request: unknown): string[] | undefined {
  const parsed = requestOf.safeParse(request);
  if (!parsed.success) return undefined;
  const texts = Object.values(parsed.data.files);
  return parsed.data.studies.map((s) => s.name).filter((n) => texts.some((t) => t.includes(n)));
}

/** How many checks of a job passed, failed and are undecided. */
export function checkCounts(live: Live): NonNullable<JobHead["checks"]> {
  const counts = { passed: 0, failed: 0, undecided: 0 };
  for (const { verdict } of live.outputs) if (verdict) counts[verdict]++;
  return counts;
}

interface StateChange {
  readonly state: JobState;
  readonly exit?: number | null;
  readonly startedAt?: number;
  readonly endedAt?: number;
  readonly summary?: unknown;
}

const RETRY = 2000;

/**
 * The states of jobs, in the database. One that cannot be written, as on a full disk, is true all the same: it is kept
 * in memory and written as soon as that works again.
 */
export class JobStates {
  readonly #unsaved = new Map<number, StateChange>();
  #retry: NodeJS.Timeout | undefined;

  constructor(
    private readonly store: Store,
    private readonly folders: JobFolders,
  ) {}

  /**
   * Binds all jobs to their folders.
   * @returns jobs that were under way when the server ended, and folders that were set aside
   */
  async recover(): Promise<{ under: number[]; aside: string[] }> {
    const aside: string[] = [];
    const bind = (id: number, uid: string, adopt: boolean): void => {
      const to = this.folders.bind(id, uid, adopt);
      if (to !== undefined) aside.push(to);
    };
    const rows = await this.store.db.select({ id: jobs.id, uid: jobs.uid, state: jobs.state }).from(jobs);
    for (const { id, uid } of rows) {
      if (uid !== null) bind(id, uid, false);
      else {
        const fresh = JobFolders.newId();
        await this.store.write((db) => db.update(jobs).set({ uid: fresh }).where(eq(jobs.id, id)));
        bind(id, fresh, true);
      }
    }
    await this.store.write((db) =>
      db
        .update(jobs)
        .set({ state: "interrupted", endedAt: Date.now() })
        .where(inArray(jobs.state, ["running", "waiting"])),
    );
    aside.push(...this.folders.setAside());
    return { under: rows.filter((r) => r.state === "running" || r.state === "waiting").map((r) => r.id), aside };
  }

  async create(values: { scriptId: number; revision: number; mode: "run" | "try"; request: unknown }): Promise<number> {
    const uid = JobFolders.newId();
    const rows = await this.store.write((db) =>
      db
        .insert(jobs)
        .values({ ...values, uid, state: "waiting", createdAt: Date.now() })
        .returning({ id: jobs.id }),
    );
    this.folders.create(rows[0]!.id, uid);
    return rows[0]!.id;
  }

  /** The newest jobs, without Tries unless they are asked for, and those that are always listed. */
  async list(limit: number, always: readonly number[], tries: boolean): Promise<JobHead[]> {
    const select = () => this.store.db.select().from(jobs).innerJoin(scriptRows, eq(jobs.scriptId, scriptRows.id));
    const newest = await select()
      .where(tries ? undefined : eq(jobs.mode, "run"))
      .orderBy(desc(jobs.id))
      .limit(limit);
    const there = new Set(newest.map((r) => r.jobs.id));
    const missing = always.filter((id) => !there.has(id));
    const older = missing.length === 0 ? [] : await select().where(inArray(jobs.id, missing));
    const rows = [...newest, ...older].sort((a, b) => b.jobs.id - a.jobs.id);
    return rows.map((r) => this.#head(r.jobs, r.scripts.name));
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
    return this.#head(row.jobs, row.scripts.name);
  }

  /** The jobs of a script. */
  async of(script: string): Promise<number[]> {
    const rows = await this.store.db
      .select({ id: jobs.id })
      .from(jobs)
      .innerJoin(scriptRows, eq(jobs.scriptId, scriptRows.id))
      .where(eq(scriptRows.name, script));
    return rows.map((r) => r.id);
  }

  /** Removes a job that has ended, and its folder. */
  async remove(id: number): Promise<void> {
    await this.store.write((db) => db.delete(jobs).where(eq(jobs.id, id)));
    this.#unsaved.delete(id);
    this.folders.remove(id);
  }

  async request(id: number): Promise<unknown> {
    const row = (await this.store.db.select({ request: jobs.request }).from(jobs).where(eq(jobs.id, id)))[0];
    if (!row) throw problem(404, `There is no job ${id}.`);
    return row.request;
  }

  async set(id: number, change: StateChange): Promise<void> {
    const whole = { ...this.#unsaved.get(id), ...change };
    try {
      await this.store.write((db) => db.update(jobs).set(whole).where(eq(jobs.id, id)));
      if (this.#unsaved.get(id)?.state === change.state) this.#unsaved.delete(id);
    } catch {
      this.#unsaved.set(id, whole);
      this.#retry ??= setInterval(() => this.#writeUnsaved(), RETRY).unref();
    }
  }

  #writeUnsaved(): void {
    if (this.#unsaved.size === 0) {
      clearInterval(this.#retry);
      this.#retry = undefined;
    }
    for (const [id, change] of this.#unsaved)
      inBackground(
        "writing a job's state",
        this.store
          .write((db) => db.update(jobs).set(change).where(eq(jobs.id, id)))
          .then(
            () => void (this.#unsaved.get(id) === change && this.#unsaved.delete(id)),
            () => undefined,
          ),
      );
  }

  close(): void {
    clearInterval(this.#retry);
  }

  #head(r: typeof jobs.$inferSelect, script: string): JobHead {
    const { state, exit, startedAt, endedAt } = { ...r, ...this.#unsaved.get(r.id) };
    const { id, revision, mode, createdAt } = r;
    const summary = summaryOf.safeParse({ ...r, ...this.#unsaved.get(r.id) }.summary).data;
    const studies = studiesOf(r.request);
    return {
      id,
      script,
      revision,
      mode,
      state,
      exit,
      createdAt,
      startedAt,
      endedAt,
      ...(summary?.runs !== undefined && { runs: summary.runs, excluded: summary.left?.length ?? 0 }),
      ...(summary?.checks && { checks: summary.checks }),
      ...(studies && { studies }),
    };
  }
}
