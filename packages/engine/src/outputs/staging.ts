import { createHash } from "node:crypto";
import fs from "node:fs";
import path from "node:path";
import { z } from "zod";
import { isAlive, thisProcess, type ProcessIdentity } from "../store/process-identity.js";
import { digestOfPlain, isInnerPath, manifestName } from "./own-outputs.js";

/** Where files are written before they are placed. */
export const stagingPrefix = ".oxtrum-part-";
const logName = ".oxtrum-staging.jsonl";

const placed = z.object({ file: z.string().refine(isInnerPath), sha256: z.string(), was: z.string().optional() });
const line = z.union([
  z.object({ process: z.object({ pid: z.number(), started: z.string() }), target: z.string() }),
  z.object({ file: z.string().refine(isInnerPath) }),
  z.object({ commit: z.object({ remove: z.array(placed), place: z.array(placed) }) }),
]);

export interface Commit {
  /** Files of the earlier job that are not made any more. */
  readonly remove: readonly { readonly file: string; readonly sha256: string }[];
  /** New files; `was` is the digest of the earlier job's file that they replace. */
  readonly place: readonly { readonly file: string; readonly sha256: string; readonly was?: string | undefined }[];
}

interface Log {
  readonly process: ProcessIdentity;
  readonly target: string;
  readonly files: readonly string[];
  readonly commit: Commit | undefined;
}

/** The log of a staging folder; undefined for a folder that is none of ours. */
function readLog(folder: string): Log | undefined {
  let text: string;
  try {
    text = fs.readFileSync(path.join(folder, logName), "utf8");
  } catch {
    return undefined;
  }
  let head: { process: ProcessIdentity; target: string } | undefined;
  let commit: Commit | undefined;
  const files: string[] = [];
  for (const l of text.split("\n")) {
    let parsed: z.infer<typeof line>;
    try {
      parsed = line.parse(JSON.parse(l));
    } catch {
      break; // A line cut by a crash: what stands before it is true.
    }
    if ("process" in parsed) head = parsed;
    else if ("file" in parsed) files.push(parsed.file);
    else commit = parsed.commit;
  }
  return head && { ...head, files, commit };
}

/** The process that made a staging folder, as the folder's name tells it. */
function makerOf(name: string): ProcessIdentity | undefined {
  const [, pid, started] = /^(\d+)-(\d*)-\d+$/.exec(name.slice(stagingPrefix.length)) ?? [];
  return pid === undefined ? undefined : { pid: Number(pid), started: started! };
}

const head = '{"process":';

/**
 * Removes a staging folder whose process was ended before its log told anything; one with anything else in it stays.
 */
function removeUnborn(folder: string): void {
  const maker = makerOf(path.basename(folder));
  if (!maker || isAlive(maker)) return;
  const names = fs.readdirSync(folder);
  if (names.some((n) => n !== logName)) return;
  const log = path.join(folder, logName);
  if (names.length > 0) {
    if (!fs.lstatSync(log).isFile()) return;
    const text = fs.readFileSync(log, "utf8");
    if (text.includes("\n") || !(text.startsWith(head) || head.startsWith(text))) return;
    fs.rmSync(log, { force: true });
  }
  removeIfEmpty(folder);
}

/** Removes files and the folders that are then empty, and nothing else. */
export function removeFiles(folder: string, files: readonly string[]): void {
  const folders = new Set<string>();
  for (const f of files) {
    fs.rmSync(path.join(folder, f), { force: true });
    for (let d = path.posix.dirname(f); d !== "."; d = path.posix.dirname(d)) folders.add(d);
  }
  for (const d of [...folders].sort((a, b) => b.length - a.length)) removeIfEmpty(path.join(folder, d));
}

function removeIfEmpty(folder: string): void {
  try {
    fs.rmdirSync(folder);
  } catch {
    // Not empty, or not there: left alone.
  }
}

/** Whether anything has that name, a broken link included. */
export function isThere(file: string): boolean {
  try {
    fs.lstatSync(file);
    return true;
  } catch {
    return false;
  }
}

function syncFolder(folder: string): void {
  try {
    const fd = fs.openSync(folder, "r");
    fs.fsyncSync(fd);
    fs.closeSync(fd);
  } catch {
    // Some systems cannot do this; then they keep their own order.
  }
}

/** Files written to a temporary folder, to be placed in a folder together. */
export class Staging {
  readonly #log: number;

  private constructor(
    readonly folder: string,
    readonly target: string,
  ) {
    this.#log = fs.openSync(path.join(folder, logName), "ax");
  }

  /** @param within where the staging folder is made: the target itself, or its parent while it does not exist */
  static begin(within: string, target: string): Staging {
    const { pid, started } = thisProcess();
    for (let k = 0; ; k++) {
      const folder = path.join(within, `${stagingPrefix}${pid}-${started}-${k}`);
      try {
        fs.mkdirSync(folder);
      } catch (e) {
        if ((e as NodeJS.ErrnoException).code === "EEXIST" && k < 1000) continue;
        throw e;
      }
      let staging: Staging | undefined;
      try {
        staging = new Staging(folder, target);
        staging.#append({ process: thisProcess(), target });
        return staging;
      } catch (e) {
        staging?.discard();
        removeIfEmpty(folder);
        throw e;
      }
    }
  }

  #append(entry: object): void {
    fs.writeSync(this.#log, JSON.stringify(entry) + "\n");
  }

  /** Writes one file; a half-written one is taken away again. @throws the system's error */
  write(file: string, content: Uint8Array | string): void {
    if (!isInnerPath(file)) throw new Error(`${file} would lie outside of the outputs' folder`);
    this.#append({ file });
    const full = path.join(this.folder, file);
    fs.mkdirSync(path.dirname(full), { recursive: true });
    try {
      const fd = fs.openSync(full, "wx");
      try {
        fs.writeFileSync(fd, content);
        fs.fsyncSync(fd);
      } finally {
        fs.closeSync(fd);
      }
    } catch (e) {
      removeFiles(this.folder, [file]);
      throw e;
    }
  }

  remove(files: readonly string[]): void {
    removeFiles(this.folder, files);
  }

  /** Places all files. From here on a process that is killed leaves a log from which {@link tidyStaging} goes on. */
  commit(commit: Commit): void {
    this.#append({ commit });
    fs.fsyncSync(this.#log);
    if (path.dirname(this.folder) === this.target) {
      fs.closeSync(this.#log);
      carryThrough(this.folder, this.target, commit);
      return;
    }
    fs.closeSync(this.#log);
    // Nothing was there before: the whole folder appears at once.
    fs.renameSync(this.folder, this.target);
    fs.rmSync(path.join(this.target, logName), { force: true });
    syncFolder(path.dirname(this.target));
  }

  /** Takes away all that was written. */
  discard(): void {
    try {
      fs.closeSync(this.#log);
    } catch {
      // Closed already.
    }
    clearAway(this.folder);
  }
}

/** Does what a commit says, or the rest of it. The manifest goes first and comes last: one that is there is true. */
function carryThrough(folder: string, target: string, { remove, place }: Commit): void {
  const manifest = place.find((p) => p.file === manifestName);
  const old = remove.find((r) => r.file === manifestName);
  const rest = place.filter((p) => p !== manifest);
  const staged = (file: string): boolean => fs.existsSync(path.join(folder, file));
  // What somebody has put there meanwhile is not ours to replace.
  const foreign = (p: Commit["place"][number]): boolean =>
    staged(p.file) && isThere(path.join(target, p.file)) && digestOfPlain(path.join(target, p.file)) !== p.was;
  if (place.some(foreign)) return;
  if (
    old &&
    manifest &&
    staged(manifest.file) &&
    digestOfPlain(path.join(target, old.file)) === old.sha256 &&
    (rest.some((p) => staged(p.file)) || remove.length > 1)
  )
    fs.rmSync(path.join(target, old.file));
  removeFiles(
    target,
    remove.filter((r) => r !== old && digestOfPlain(path.join(target, r.file)) === r.sha256).map((r) => r.file),
  );
  for (const p of [...rest, ...(manifest ? [manifest] : [])]) {
    if (!staged(p.file)) continue;
    const full = path.join(target, p.file);
    fs.mkdirSync(path.dirname(full), { recursive: true });
    fs.renameSync(path.join(folder, p.file), full);
  }
  syncFolder(target);
  clearAway(folder);
}

function clearAway(folder: string): void {
  const log = readLog(folder);
  removeFiles(folder, log?.files ?? []);
  fs.rmSync(path.join(folder, logName), { force: true });
  removeIfEmpty(folder);
}

/**
 * Finishes or clears away what processes that were ended have left of placing outputs in `target`.
 *
 * @param own a staging folder of the caller's, which is let be
 * @returns whether a process that still runs is placing outputs there
 */
export function tidyStaging(target: string, own?: string): boolean {
  // A folder that was renamed into place and not told so any more.
  const renamed = readLog(target);
  if (renamed?.target === target && renamed.commit && !isAlive(renamed.process))
    fs.rmSync(path.join(target, logName), { force: true });
  let busy = false;
  for (const parent of [target, path.dirname(target)]) {
    let names: string[] = [];
    try {
      names = fs
        .readdirSync(parent)
        .filter((n) => n.startsWith(stagingPrefix))
        .sort();
    } catch {
      continue;
    }
    for (const name of names) {
      const folder = path.join(parent, name);
      if (folder === own) continue;
      if (!fs.lstatSync(folder, { throwIfNoEntry: false })?.isDirectory()) continue;
      const log = readLog(folder);
      if (!log) removeUnborn(folder);
      if (log?.target !== target) continue;
      if (isAlive(log.process)) busy = true;
      else if (log.commit && parent === target) carryThrough(folder, target, log.commit);
      else clearAway(folder);
    }
  }
  return busy;
}

export const sha256Of = (content: Uint8Array | string): string => createHash("sha256").update(content).digest("hex");
