import { createHash } from "node:crypto";
import fs from "node:fs";
import path from "node:path";
import { FormatError, openFile, readPlainFile } from "@oxtrum/core/formats";
import { keptPlace } from "./kept-places.js";
import { writeWhole } from "./write-whole.js";

/** Which file this is: its size and the SHA-256 of all its bytes. */
export interface Identity {
  readonly size: number;
  readonly sha256: string;
}

interface Stamp {
  readonly size: string;
  readonly mtime: string;
  readonly ctime: string;
  readonly inode: string;
}

/** A digest remembered for a file whose stamp has not changed. */
export interface Remembered extends Stamp {
  readonly path: string;
  readonly sha256: string;
}

const YOUNG = 10_000;
const CHUNK = 4 * 1024 * 1024;
const IN_MEMORY = 64 * 1024 * 1024;

/** When and how long a file was, to the nanosecond. */
export function stampOf(file: string): Stamp & { modified: number } {
  const s = fs.statSync(file, { bigint: true });
  return {
    size: String(s.size),
    mtime: String(s.mtimeNs),
    ctime: String(s.ctimeNs),
    inode: String(s.ino),
    modified: Number(s.mtimeMs),
  };
}

/** The same file, longer now: what was read of it is what stood there first. */
const onlyGrew = (before: Stamp, after: Stamp): boolean =>
  before.inode === after.inode && BigInt(after.size) > BigInt(before.size);

export const sameStamp = (a: Stamp, b: Stamp): boolean =>
  a.size === b.size && a.mtime === b.mtime && a.ctime === b.ctime && a.inode === b.inode;

/** A file's identity, its bytes where they were read for it, and a check that it has not changed since. */
export interface Identified {
  readonly identity: Identity;
  readonly bytes: Uint8Array | undefined;
  readonly remember: Remembered | undefined;
  /** @throws FormatError when the file is no longer the one that was identified */
  verify(): void;
}

/**
 * Finds a file's identity: from memory when its stamp is known and older than 10 s, from its bytes otherwise.
 *
 * A file that grows meanwhile is taken at the length it had first; any other change is an error.
 *
 * @param shown the file's name in messages
 * @param pinned the length at which the job has read it before, if it has
 */
export function identify(
  file: string,
  shown: string,
  memo: ReadonlyMap<string, Remembered>,
  pinned?: number,
): Identified {
  const now = stampOf(file);
  const before = pinned !== undefined && Number(now.size) > pinned ? { ...now, size: String(pinned) } : now;
  const verify = (): void => {
    const after = stampOf(file);
    if (!sameStamp(before, after) && !onlyGrew(before, after))
      throw new FormatError(
        shown,
        "the file changed while it was being read",
        {},
        "Run again when it is no longer written to.",
      );
  };
  const known = memo.get(file);
  if (known && sameStamp(known, before) && Date.now() - before.modified > YOUNG)
    return {
      identity: { size: Number(before.size), sha256: known.sha256 },
      bytes: undefined,
      remember: undefined,
      verify,
    };
  const size = Number(before.size);
  const hash = createHash("sha256");
  let bytes: Uint8Array | undefined;
  const source = openFile(file, shown);
  const fd = source.descriptor;
  try {
    const whole = size <= IN_MEMORY ? Buffer.allocUnsafeSlow(size) : undefined;
    const buffer = whole ?? Buffer.allocUnsafeSlow(CHUNK);
    let at = 0;
    while (at < size) {
      const n = whole
        ? fs.readSync(fd, buffer, at, size - at, at)
        : fs.readSync(fd, buffer, 0, Math.min(CHUNK, size - at), at);
      if (n === 0) throw new FormatError(shown, "the file became shorter while it was being read");
      if (!whole) hash.update(buffer.subarray(0, n));
      at += n;
    }
    if (whole) hash.update(whole);
    bytes = whole;
  } finally {
    source.close();
  }
  verify();
  const sha256 = hash.digest("hex");
  const { modified: _, ...stamp } = before;
  const still = sameStamp(before, stampOf(file));
  return { identity: { size, sha256 }, bytes, remember: still ? { path: file, sha256, ...stamp } : undefined, verify };
}

/** Digests remembered between jobs, one line per file; the last line for a file counts. */
export class IdentityMemo {
  readonly entries = new Map<string, Remembered>();
  #sorted: string[] | undefined;
  readonly #file: string;

  constructor(folder: string) {
    this.#file = keptPlace(folder, "identities");
    let text = "";
    try {
      text = readPlainFile(this.#file, { most: 1e9 }).toString("utf8");
    } catch {
      return;
    }
    const lines = text.split("\n");
    for (const line of lines) {
      if (line === "") continue;
      try {
        const r = JSON.parse(line) as Remembered;
        this.entries.set(r.path, r);
      } catch {
        continue; // A line cut by a crash.
      }
    }
    if (lines.length > 2 * this.entries.size + 1000) this.#rewrite();
  }

  /** What was remembered of files in a folder when this was first asked. */
  below(folder: string): Remembered[] {
    this.#sorted ??= [...this.entries.keys()].sort();
    const prefix = folder + path.sep;
    let low = 0;
    for (let high = this.#sorted.length; low < high;) {
      const middle = (low + high) >> 1;
      if (this.#sorted[middle]! < prefix) low = middle + 1;
      else high = middle;
    }
    const out: Remembered[] = [];
    for (; low < this.#sorted.length && this.#sorted[low]!.startsWith(prefix); low++)
      out.push(this.entries.get(this.#sorted[low]!)!);
    return out;
  }

  add(list: readonly Remembered[]): void {
    if (list.length === 0) return;
    for (const r of list) this.entries.set(r.path, r);
    try {
      fs.mkdirSync(path.dirname(this.#file), { recursive: true });
      fs.appendFileSync(this.#file, "\n" + list.map((r) => JSON.stringify(r)).join("\n") + "\n");
    } catch {
      // Only a memory: without it files are read again.
    }
  }

  #rewrite(): void {
    try {
      writeWhole(this.#file, [...this.entries.values()].map((r) => JSON.stringify(r)).join("\n") + "\n");
    } catch {
      // Only a memory: it is written anew another time.
    }
  }
}
