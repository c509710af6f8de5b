import fs from "node:fs";
import path from "node:path";
import { eq } from "drizzle-orm";
import { readTextTable, openFile } from "@oxtrum/core/formats";
import type { Table } from "@oxtrum/core/tables";
import { inside, resolveFile, scanStudy, studyTypes, type Catalogue } from "@oxtrum/engine";
import { problem } from "./store/problem.js";
import type { Store } from "./store/database.js";
import { studies } from "./store/schema.js";

interface Known {
  readonly catalogue: Catalogue;
  readonly types: string;
  readonly scannedAt: number;
}

/** The registered studies and their catalogues. Nothing outside their folders is read. */
export class Studies {
  readonly #known = new Map<string, Known>();
  readonly #scanning = new Map<string, Promise<Known>>();
  readonly #tables = new Map<string, { stamp: string; table: Table }>();

  constructor(
    private readonly store: Store,
    private readonly dataFolder: string,
    private readonly onProgress: (name: string, done: number, total: number) => void,
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
    const real = fs.realpathSync(full);
    if (real === path.parse(real).root)
      throw problem(400, "The whole disk is no study; name the folder that holds the runs.");
    const taken = (await this.list()).some((s) => s.name === name);
    if (taken) throw problem(409, `There is a study "${name}" already.`);
    await this.store.write((db) => db.insert(studies).values({ name, folder: real, createdAt: Date.now() }));
  }

  async remove(name: string): Promise<void> {
    await this.store.write((db) => db.delete(studies).where(eq(studies.name, name)));
    this.#known.delete(name);
  }

  async folder(name: string): Promise<string> {
    const found = (await this.list()).find((s) => s.name === name);
    if (!found) throw problem(404, `There is no study "${name}".`);
    return found.folder;
  }

  /** A study's catalogue; scanned when it is not known or `fresh` is asked for. */
  async get(name: string, fresh = false): Promise<Known> {
    const known = this.#known.get(name);
    if (known && !fresh) return known;
    const under = this.#scanning.get(name);
    if (under) return under;
    const folder = await this.folder(name);
    const scan = scanStudy(folder, {
      keepIn: path.join(this.dataFolder, "catalogues"),
      onProgress: (done, total) => this.onProgress(name, done, total),
    })
      .then((catalogue) => {
        const result = { catalogue, types: studyTypes(name, catalogue), scannedAt: Date.now() };
        this.#known.set(name, result);
        return result;
      })
      .finally(() => this.#scanning.delete(name));
    this.#scanning.set(name, scan);
    return scan;
  }

  /** Types and folders of all studies, for checking scripts and starting jobs. A study that cannot be scanned is left out. */
  async all(): Promise<{ name: string; folder: string; types: string }[]> {
    const out: { name: string; folder: string; types: string }[] = [];
    for (const { name, folder } of await this.list()) {
      try {
        out.push({ name, folder, types: (await this.get(name)).types });
      } catch {
        continue;
      }
    }
    return out;
  }

  /** A run's table (or one beside the runs, for run ""), read whole and kept for a while. */
  async table(name: string, runId: string, file: string): Promise<Table> {
    const { catalogue } = await this.get(name);
    const run = runId === "" ? undefined : catalogue.runs.find((r) => r.id === runId);
    if (runId !== "" && !run) throw problem(404, `There is no run "${runId}".`);
    const { paths, read } = resolveFile(catalogue.definition, file);
    let full: string;
    try {
      full = inside(catalogue.folder, path.posix.join(run?.folder ?? "", paths[0]!));
    } catch (e) {
      throw problem(403, (e as Error).message);
    }
    if (!fs.existsSync(full)) throw problem(404, `Run "${runId}" has no ${file}.`);
    const s = fs.statSync(full);
    const stamp = `${s.size}/${s.mtimeMs}`;
    const key = `${name}/${runId}/${file}`;
    const kept = this.#tables.get(key);
    if (kept?.stamp === stamp) return kept.table;
    const source = openFile(full, file);
    try {
      const { table } = readTextTable(source, undefined, read);
      this.#tables.set(key, { stamp, table });
      if (this.#tables.size > 200) this.#tables.delete(this.#tables.keys().next().value!);
      return table;
    } finally {
      source.close();
    }
  }
}
