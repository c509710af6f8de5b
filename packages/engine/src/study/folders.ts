import fs from "node:fs";
import path from "node:path";

/** A file of a run, by its path within the run's folder. */
export interface FoundFile {
  readonly path: string;
  readonly size: number;
  readonly mtime: number;
}

const MOST_FILES = 20_000;
const DEEPEST = 6;
const skipped = new Set([".git", "node_modules", ".oxtrum"]);

/** A folder's entries, sorted by bytes so that the order is the same everywhere; hidden ones left out. */
export function entriesOf(folder: string): { folders: string[]; files: string[] } {
  const folders: string[] = [];
  const files: string[] = [];
  let all: fs.Dirent[];
  try {
    all = fs.readdirSync(folder, { withFileTypes: true });
  } catch {
    return { folders, files };
  }
  for (const e of all) {
    if (e.name.startsWith(".") || skipped.has(e.name)) continue;
    if (e.isDirectory()) folders.push(e.name);
    else if (e.isFile()) files.push(e.name);
  }
  return { folders: folders.sort(byCode), files: files.sort(byCode) };
}

export const byCode = (a: string, b: string): number => (a < b ? -1 : a > b ? 1 : 0);

/** All plain files below a folder, with size and time; symbolic links are not followed. */
export function filesBelow(folder: string): FoundFile[] {
  const out: FoundFile[] = [];
  const walk = (relative: string, depth: number): void => {
    const { folders, files } = entriesOf(path.join(folder, relative));
    for (const f of files) {
      if (out.length >= MOST_FILES) return;
      const p = relative === "" ? f : `${relative}/${f}`;
      try {
        const s = fs.lstatSync(path.join(folder, p));
        if (s.isFile()) out.push({ path: p, size: s.size, mtime: s.mtimeMs });
      } catch {
        continue;
      }
    }
    if (depth < DEEPEST) for (const d of folders) walk(relative === "" ? d : `${relative}/${d}`, depth + 1);
  };
  walk("", 0);
  return out;
}

/**
 * A path inside a folder, after links are followed. @throws Error when it leads outside
 */
export function inside(folder: string, relative: string): string {
  const full = path.resolve(folder, relative);
  const root = path.resolve(folder);
  if (full !== root && !full.startsWith(root + path.sep)) throw new Error(`"${relative}" leads out of the folder`);
  let real: string;
  try {
    real = fs.realpathSync(full);
  } catch {
    return full;
  }
  const realRoot = fs.realpathSync(root);
  if (real !== realRoot && !real.startsWith(realRoot + path.sep))
    throw new Error(`"${relative}" leads out of the folder through a link`);
  return real;
}
