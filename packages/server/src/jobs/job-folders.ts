import { randomUUID } from "node:crypto";
import fs from "node:fs";
import path from "node:path";

/** The file in a job's folder that says whose it is. */
const markName = "job-id";

/**
 * The folders of jobs. Each is bound to its job by an id that is never used again: after a database was lost or
 * replaced, a job with the same number does not find another one's results. Folders of no job are set aside, not shown
 * and not removed.
 */
export class JobFolders {
  readonly #root: string;
  readonly #known = new Set<number>();

  constructor(private readonly dataFolder: string) {
    this.#root = path.join(dataFolder, "jobs");
  }

  static newId(): string {
    return randomUUID();
  }

  /** The folder of a job. @throws Error for a job that is not known */
  of(id: number): string {
    if (!this.#known.has(id)) throw new Error(`job ${id} has no folder`);
    return path.join(this.#root, String(id));
  }

  /**
   * Binds a job to its folder; one of another job that stands there is set aside.
   *
   * @param adopt the folder is from before folders had ids, and the database names the job: it is taken over
   * @returns where another one was moved to
   */
  bind(id: number, uid: string, adopt = false): string | undefined {
    this.#known.add(id);
    const folder = this.of(id);
    if (!fs.existsSync(folder)) return undefined;
    const mark = markOf(folder);
    if (mark === uid) return undefined;
    if (adopt && mark === undefined) {
      fs.writeFileSync(path.join(folder, markName), uid);
      return undefined;
    }
    return this.#moveAside(String(id));
  }

  /** Makes the folder of a new job. */
  create(id: number, uid: string): void {
    this.bind(id, uid);
    fs.mkdirSync(this.of(id), { recursive: true });
    fs.writeFileSync(path.join(this.of(id), markName), uid);
  }

  /** Removes the folder of a job, if it is that job's. */
  remove(id: number): void {
    const folder = this.of(id);
    if (markOf(folder) !== undefined) fs.rmSync(folder, { recursive: true, force: true });
    this.#known.delete(id);
  }

  /** Moves what belongs to no job out of the way. @returns where to, for each */
  setAside(): string[] {
    let there: string[];
    try {
      there = fs.readdirSync(this.#root).sort();
    } catch {
      return [];
    }
    const known = new Set([...this.#known].map(String));
    return there.filter((name) => !known.has(name)).map((name) => this.#moveAside(name));
  }

  #moveAside(name: string): string {
    const aside = path.join(this.dataFolder, "set-aside");
    fs.mkdirSync(aside, { recursive: true });
    let to = path.join(aside, name);
    for (let k = 2; fs.existsSync(to); k++) to = path.join(aside, `${name}.${k}`);
    fs.renameSync(path.join(this.#root, name), to);
    return to;
  }
}

function markOf(folder: string): string | undefined {
  try {
    return fs.readFileSync(path.join(folder, markName), "utf8").trim();
  } catch {
    return undefined;
  }
}
