import fs from "node:fs";
import path from "node:path";
import { eq } from "drizzle-orm";
import { HTTPException } from "hono/http-exception";
import { keptPlace, type Catalogue } from "@oxtrum/engine";
import type { TablePlace } from "./reading/questions.js";
import type { Reading } from "./reading/reading.js";
import { problem } from "./store/problem.js";
import type { Store } from "./store/database.js";
import { studies } from "./store/schema.js";

interface Known {
  readonly catalogue: Catalogue;
  readonly types: string;
  readonly scannedAt: number;
  /** When its scan began: what changed later may not be in it. */
  readonly scanBegan: number;
  /** What it took, ms. */
  readonly took: number;
}

/** A study that could not be scanned is not tried again on every key typed in the editor. */
const PATIENCE = 10_000;

/** The registered studies and their catalogues. Nothing outside their folders is read. */
export class Studies {
  readonly #known = new Map<string, Known>();
  readonly #scanning = new Map<string, Promise<Known>>();
  /** Scans that begin when those under way have ended. */
  readonly #next = new Map<string, Promise<Known>>();
  readonly #failed = new Map<string, { readonly at: number; readonly error: Error }>();

  constructor(
    private readonly store: Store,
    private readonly dataFolder: string,
    private readonly reading: Reading,
    private readonly onProgress: (name: string, done: number, total: number) => void,
    private readonly changed: (name: string, scannedAt: number | null) => void,
  ) {}

  async list(): Promise<{ name: string; folder: string }[]> {
    const rows = await this.store.db.select().from(studies).orderBy(studies.name);
    return rows.map(({ name, folder }) => ({ name, folder }));
  }

  async add(name: string, folder: string): Promise<void> {
    const full = path.resolve(folder);
    if (!/^[\p{L}\p{N}._-]{1,100}$/u.test(name))
      throw problem(400, "A study's name holds letters, digits, dots and dashes.");
    if (!fs.existsSync(full) || !fs.statSync(full).isDirectory())
      throw problem(400, `There is no folder ${folder} on this machine.`);
    const real = fs.realpathSync.native(full);
    if (real === path.parse(real).root)
      throw problem(400, "The whole disk cannot be a study; name the folder that holds the runs.");
    const taken = (await this.list()).some((s) => s.name === name);
    if (taken) throw problem(409, `There is a study "${name}" already.`);
    await this.store.write((db) => db.insert(studies).values({ name, folder: real, createdAt: Date.now() }));
    this.changed(name, 0);
  }

  async remove(name: string): Promise<void> {
    await this.store.write((db) => db.delete(studies).where(eq(studies.name, name)));
    this.#known.delete(name);
    this.#failed.delete(name);
    this.changed(name, null);
  }

  async folder(name: string): Promise<string> {
    const found = (await this.list()).find((s) => s.name === name);
    if (!found) throw problem(404, `There is no study "${name}".`);
    return found.folder;
  }

  /** Names of the studies whose catalogues are known. */
  scanned(): string[] {
    return [...this.#known.keys()];
  }

  /** How long the last scan of a study took from when its turn came, ms. */
  scanTook(name: string): number {
    return this.#known.get(name)?.took ?? 0;
  }

  /**
   * A study's catalogue; scanned when it is not known or `fresh` is asked for. A fresh one has all that was there when
   * it was asked for: a scan that has begun before may have passed by what changed since, so one more follows it.
   * @throws HTTPException saying why it cannot be
   */
  async get(name: string, fresh = false): Promise<Known> {
    const known = this.#known.get(name);
    if (known && !fresh) return known;
    const under = this.#scanning.get(name);
    if (!under) return this.#start(name);
    if (!fresh) return under;
    // All who ask meanwhile share it.
    const next =
      this.#next.get(name) ??
      under
        .catch(() => undefined)
        .then(() => {
          this.#next.delete(name);
          return this.#start(name);
        });
    this.#next.set(name, next);
    return next;
  }

  #start(name: string): Promise<Known> {
    const scan = this.#scan(name).finally(() => this.#scanning.delete(name));
    this.#scanning.set(name, scan);
    return scan;
  }

  async #scan(name: string): Promise<Known> {
    const folder = await this.folder(name);
    const scanBegan = Date.now();
    try {
      const answer = await this.reading.scan(
        { name, folder, keepIn: keptPlace(this.dataFolder, "catalogues") },
        (p) => {
          const { done, total } = p as { done: number; total: number };
          this.onProgress(name, done, total);
        },
      );
      const result = { ...answer, scanBegan, scannedAt: Date.now() };
      this.#known.set(name, result);
      this.#failed.delete(name);
      this.changed(name, result.scannedAt);
      return result;
    } catch (e) {
      this.#failed.set(name, { at: Date.now(), error: e as Error });
      throw e;
    }
  }

  /**
   * Types and folders of all studies, for checking scripts and starting jobs. A study that cannot be scanned is not
   * among them.
   */
  async all(): Promise<{ name: string; folder: string; types: string }[]> {
    const out: { name: string; folder: string; types: string }[] = [];
    for (const { name, folder } of await this.list()) {
      const failed = this.#failed.get(name);
      if (failed && !this.#known.has(name) && Date.now() - failed.at < PATIENCE) continue;
      try {
        out.push({ name, folder, types: (await this.get(name)).types });
      } catch (e) {
        if (!(e instanceof HTTPException)) throw e;
      }
    }
    return out;
  }

  /** Where a table is: of a run, or beside the runs for run "". */
  async place(name: string, runId: string, file: string): Promise<TablePlace> {
    const { catalogue } = await this.get(name);
    const run = runId === "" ? undefined : catalogue.runs.find((r) => r.id === runId);
    if (runId !== "" && !run) throw problem(404, `There is no run "${runId}".`);
    const { folder, definition } = catalogue;
    return { study: name, folder, definition, run: run && { id: run.id, folder: run.folder }, file };
  }
}
