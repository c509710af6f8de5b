import fs from "node:fs";
import path from "node:path";

/** A file of a run, by its path within the run's folder. */
export interface FoundFile {
  readonly path: string;
  readonly size: number;
  readonly mtime: number;
}

/** What of a folder could not be listed, and why. */
export interface FolderProblem {
  /** Within the study's folder. */
  readonly path: string;
  readonly text: string;
}

/** Files of one run at most. */
const MOST_FILES = 100_000;
const DEEPEST = 32;
const skipped = new Set([".git", "node_modules", ".oxtrum"]);

export const byCode = (a: string, b: string): number => (a < b ? -1 : a > b ? 1 : 0);

interface Entries {
  readonly folders: readonly string[];
  readonly files: readonly string[];
}

const reasons: Readonly<Record<string, string>> = {
  EACCES: "may not be read: there is no permission",
  EPERM: "may not be read: there is no permission",
  EIO: "cannot be read: the disk reports an error",
  ELOOP: "leads through links in a circle",
  ENAMETOOLONG: "has too long a path",
};
const reasonOf = (e: unknown): string => {
  const { code, message } = e as NodeJS.ErrnoException;
  return reasons[code ?? ""] ?? `cannot be read: ${message}`;
};

function kindOf(e: { isFIFO(): boolean; isSocket(): boolean }): string {
  return e.isFIFO()
    ? "is a pipe, not a plain file"
    : e.isSocket()
      ? "is a socket, not a plain file"
      : "is a device, not a plain file";
}

/**
 * The folders and files of a study, as far as they may be read. What cannot be listed – no permission, a link that
 * leads out of the study, a name that is not text, a pipe – is noted as a problem, once, and nothing stops for it.
 *
 * Links are followed where they lead to within the study, or into a folder that its definition allows.
 */
export class StudyTree {
  readonly #problems = new Map<string, FolderProblem>();
  readonly #entries = new Map<string, Entries>();
  readonly #roots: readonly string[];
  readonly #skipped = new Set<string>();
  /** Where links to folders lead. */
  readonly #linked = new Map<string, string>();

  constructor(
    readonly root: string,
    links: readonly string[],
  ) {
    this.#roots = allowedRoots(root, links);
  }

  get problems(): FolderProblem[] {
    return [...this.#problems.values()].sort((a, b) => byCode(a.path, b.path));
  }

  /** Notes what could not be listed. */
  note(path_: string, text: string): void {
    if (!this.#problems.has(path_)) this.#problems.set(path_, { path: path_, text });
  }

  /** A folder's entries, sorted by bytes so that the order is the same everywhere; hidden ones are not among them. */
  entries(folder: string): Entries {
    let found = this.#entries.get(folder);
    if (!found) this.#entries.set(folder, (found = this.#list(folder)));
    return found;
  }

  #list(folder: string): Entries {
    const folders: string[] = [];
    const files: string[] = [];
    let all: fs.Dirent[];
    try {
      all = fs.readdirSync(path.join(this.root, folder), { withFileTypes: true });
    } catch (e) {
      this.note(folder, reasonOf(e));
      return { folders, files };
    }
    for (const e of all) {
      if (e.name.startsWith(".") || skipped.has(e.name)) continue;
      const inner = folder === "" ? e.name : `${folder}/${e.name}`;
      if (e.name.includes("\uFFFD") && !fs.existsSync(path.join(this.root, inner)))
        this.note(inner, "has a name that is not UTF-8 text and cannot be opened by it; rename it");
      else if (e.isDirectory()) folders.push(e.name);
      else if (e.isFile()) files.push(e.name);
      else if (e.isSymbolicLink()) {
        const kind = this.#follow(inner);
        if (kind !== undefined) (kind === "folder" ? folders : files).push(e.name);
      } else this.note(inner, kindOf(e));
    }
    return { folders: folders.sort(byCode), files: files.sort(byCode) };
  }

  /** What a link leads to, where it may be followed. */
  #follow(link: string): "folder" | "file" | undefined {
    const full = path.join(this.root, link);
    try {
      const real = fs.realpathSync.native(full);
      if (!this.#roots.some((r) => isWithin(real, r))) {
        this.note(
          link,
          'is a link that leads out of the study; to follow it, name its folder under "links" in the study definition',
        );
        return undefined;
      }
      const stat = fs.statSync(real);
      if (stat.isFile()) return "file";
      if (!stat.isDirectory()) {
        this.note(link, `is a link to what ${kindOf(stat)}`);
        return undefined;
      }
      // A link to a folder that it lies in would be followed for ever.
      if (isWithin(fs.realpathSync.native(path.dirname(full)), real)) {
        this.note(link, "is a link to a folder that it lies in; it is not followed");
        return undefined;
      }
      this.#linked.set(link, real);
      return "folder";
    } catch (e) {
      this.note(link, (e as NodeJS.ErrnoException).code === "ENOENT" ? "is a link that leads nowhere" : reasonOf(e));
      return undefined;
    }
  }

  /** A folder that is listed under another name already. */
  skip(folder: string): void {
    this.#skipped.add(folder);
  }

  /** Where a folder really is. */
  realOf(folder: string): string {
    try {
      return fs.realpathSync.native(path.join(this.root, folder));
    } catch {
      return path.join(this.root, folder);
    }
  }

  /** Whether any link leads to a folder. */
  get hasLinkedFolders(): boolean {
    return this.#linked.size > 0;
  }

  /**
   * All plain files below a folder, with size and time.
   *
   * @param skip folders, within the study, that are not gone into
   */
  filesBelow(folder: string, skip: (inStudy: string) => boolean = () => false): { files: FoundFile[]; whole: boolean } {
    const out: FoundFile[] = [];
    let whole = true;
    const walk = (relative: string, depth: number, reals: readonly string[]): void => {
      const here = [folder, relative].filter((t) => t !== "").join("/");
      const { folders, files } = this.entries(here);
      for (const f of files) {
        if (out.length >= MOST_FILES) {
          this.note(here, `holds more than ${MOST_FILES} files below it; the rest is not listed`);
          whole = false;
          return;
        }
        const p = relative === "" ? f : `${relative}/${f}`;
        try {
          const s = fs.statSync(path.join(this.root, folder, p));
          out.push({ path: p, size: s.size, mtime: s.mtimeMs });
        } catch (e) {
          this.note(`${here}/${f}`, reasonOf(e));
        }
      }
      for (const d of folders) {
        const inner = relative === "" ? d : `${relative}/${d}`;
        const inStudy = here === "" ? d : `${here}/${d}`;
        if (skip(inStudy) || this.#skipped.has(inStudy)) continue;
        if (depth >= DEEPEST) {
          this.note(inStudy, `lies deeper than ${DEEPEST} folders; it is not listed`);
          whole = false;
          continue;
        }
        const real = this.#linked.get(inStudy);
        if (real !== undefined && reals.some((r) => isWithin(r, real))) {
          this.note(inStudy, "is a link to a folder that it lies in; it is not followed");
          continue;
        }
        walk(inner, depth + 1, real === undefined ? reals : [...reals, real]);
      }
    };
    walk("", 0, []);
    return { files: out, whole };
  }
}

/** Whether a path is a folder or lies in it. Both as they really are, links followed. */
export const isWithin = (real: string, folder: string): boolean =>
  real === folder || real.startsWith(folder.endsWith(path.sep) ? folder : folder + path.sep);

/** The folders that a study's files may lie in: its own, and those that its definition allows links to. */
export function allowedRoots(folder: string, links: readonly string[]): string[] {
  const roots = [fs.realpathSync.native(folder)];
  for (const l of links) {
    try {
      roots.push(fs.realpathSync.native(path.resolve(folder, l)));
    } catch {
      // Not there: nothing lies in it.
    }
  }
  return roots;
}

/**
 * A path inside a folder, after links are followed. The one check that every file of a study goes through.
 *
 * @param links folders outside into which links may lead, as the study's definition allows
 * @throws Error when it leads outside
 */
export function inside(folder: string, relative: string, links: readonly string[] = []): string {
  const full = path.resolve(folder, relative);
  const root = path.resolve(folder);
  if (full !== root && !full.startsWith(root + path.sep)) throw new Error(`"${relative}" leads out of the folder`);
  let real: string;
  try {
    real = fs.realpathSync.native(full);
  } catch (e) {
    if ((e as NodeJS.ErrnoException).code === "ELOOP") throw new Error(`"${relative}" leads through links in a circle`);
    return full;
  }
  if (!allowedRoots(root, links).some((r) => isWithin(real, r)))
    throw new Error(`"${relative}" leads out of the folder through a link`);
  return real;
}
