import fs from "node:fs";
import path from "node:path";
import { definitionName } from "../definition/definition.js";
import type { Catalogue } from "../definition/catalogue-model.js";

const stampOf = (s: fs.Stats | undefined): string => (s ? `${s.size} ${s.mtimeMs}` : "");

/** What was found when a study was looked at. */
export interface Look {
  readonly at: number;
  /** Runs of which a file grew, was written again or is gone, by id. */
  readonly changed: readonly string[];
  /** Files or folders came or went: the study is to be scanned. */
  readonly moved: boolean;
}

/** Files of a run that are looked at while nothing happens: those written last are those that grow. */
const FEW = 4;
/** So many files are asked for in one look besides those that changed lately. */
const AT_ONCE = 2000;
/** A run that changed is looked at each time for so long. */
const LIVELY = 60_000;
/** File systems keep times in steps of up to two seconds. */
const CLOCK_STEP = 2000;

interface Watched {
  readonly id: string;
  readonly files: readonly string[];
  readonly folders: readonly string[];
  written: number | undefined;
  changed: number;
  turn: number;
}

/**
 * Watches a study's folder by the sizes and times of its files: no events of the file system are needed, so network
 * drives are as good as any. Runs that changed lately are looked at each time, all others in turn, a bounded number per
 * look.
 */
export class StudyWatch {
  readonly #runs: Watched[];
  readonly #byId: ReadonlyMap<string, Watched>;
  readonly #roots: readonly string[];
  /** Files beside the runs, and the definition: what they say may hold for all runs. */
  readonly #beside: readonly string[];
  readonly #stamps = new Map<string, string>();
  #next = 0;
  /** Files asked for since the start. */
  asked = 0;

  /**
   * @param catalogue the study as it was scanned last; what changed since then is found by the first looks
   * @param scanned when that scan began, ms
   */
  constructor(
    private readonly catalogue: Pick<Catalogue, "folder" | "runs" | "beside">,
    scanned: number,
    now: number,
  ) {
    const root = catalogue.folder;
    const parents = new Set<string>([""]);
    this.#runs = catalogue.runs.map((r) => {
      const at = (f: string): string => path.posix.join(r.folder, f);
      const files = Object.entries(r.files).sort(([, a], [, b]) => b.mtime - a.mtime);
      const meshes = Object.values(r.fields).flatMap((f) => f.files ?? []);
      const folders = new Set([
        r.folder,
        ...[...Object.keys(r.files), ...meshes].map((f) => path.posix.dirname(at(f))),
      ]);
      if (r.folder !== "") parents.add(path.posix.dirname(r.folder).replace(/^\.$/, ""));
      const [newest] = files;
      for (const [f, { size, mtime }] of files) this.#stamps.set(at(f), `${size} ${mtime}`);
      const written = newest?.[1].mtime;
      return {
        id: r.id,
        files: files.map(([f]) => at(f)),
        folders: [...folders],
        written,
        changed: written !== undefined && now - written < LIVELY ? now : -Infinity,
        turn: 0,
      };
    });
    this.#byId = new Map(this.#runs.map((r) => [r.id, r]));
    this.#beside = [definitionName, ...Object.keys(catalogue.beside)];
    for (const [f, { size, mtime }] of Object.entries(catalogue.beside)) this.#stamps.set(f, `${size} ${mtime}`);
    const definition = this.#stat(path.join(root, definitionName));
    this.#stamps.set(
      definitionName,
      definition && definition.mtimeMs >= scanned - CLOCK_STEP ? "changed" : stampOf(definition),
    );
    this.#roots = [...parents];
    for (const f of [...this.#roots, ...this.#runs.flatMap((r) => r.folders)]) {
      const written = this.#stat(path.join(root, f))?.mtimeMs;
      // A folder that changed while it was scanned, or since, may hold more than the scan saw.
      this.#stamps.set(f, written !== undefined && written >= scanned - CLOCK_STEP ? "changed" : String(written ?? ""));
    }
  }

  /** When a file of a run was written last, ms; undefined when it has none. */
  written(run: string): number | undefined {
    return this.#byId.get(run)?.written;
  }

  /** Looks at what may have changed. */
  look(now: number): Look {
    const { folder } = this.catalogue;
    const changed: string[] = [];
    let moved = this.#roots.some((f) => this.#isMoved(folder, f));
    for (const f of this.#beside) if (this.#isNew(f)) moved = true;
    const lively = new Set(this.#runs.filter((r) => now - r.changed < LIVELY));
    const visit = (r: Watched, files: readonly string[]): void => {
      if (r.folders.some((f) => this.#isMoved(folder, f))) moved = true;
      let news = false;
      for (const f of files) {
        const s = this.#isNew(f);
        if (!s) continue;
        news = true;
        if (s !== "gone") r.written = Math.max(r.written ?? 0, s.mtimeMs);
      }
      if (!news) return;
      r.changed = now;
      changed.push(r.id);
    };
    for (const r of lively) visit(r, r.files);
    let budget = AT_ONCE;
    for (let k = 0; k < this.#runs.length && budget > 0; k++) {
      const r = this.#runs[this.#next]!;
      this.#next = (this.#next + 1) % this.#runs.length;
      if (lively.has(r)) continue;
      // Besides those that were written last one of the others, another one each time.
      const files = r.files.slice(0, FEW);
      if (r.files.length > FEW) files.push(r.files[FEW + (r.turn++ % (r.files.length - FEW))]!);
      budget -= files.length + r.folders.length;
      visit(r, files);
    }
    return { at: now, changed, moved };
  }

  /** The file as it is now, where it is not as it was. */
  #isNew(f: string): fs.Stats | "gone" | undefined {
    const s = this.#stat(path.join(this.catalogue.folder, f));
    const stamp = stampOf(s);
    if (this.#stamps.get(f) === stamp) return undefined;
    this.#stamps.set(f, stamp);
    return s ?? "gone";
  }

  #stat(full: string): fs.Stats | undefined {
    this.asked++;
    try {
      return fs.statSync(full, { throwIfNoEntry: false });
    } catch {
      return undefined;
    }
  }

  #folderStamp(root: string, f: string): string {
    return String(this.#stat(path.join(root, f))?.mtimeMs ?? "");
  }

  #isMoved(root: string, f: string): boolean {
    const stamp = this.#folderStamp(root, f);
    if (this.#stamps.get(f) === stamp) return false;
    this.#stamps.set(f, stamp);
    return true;
  }
}
