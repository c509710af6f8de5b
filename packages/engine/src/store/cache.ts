import fs from "node:fs";
import path from "node:path";
import { packValue, unpackValue } from "./serialize.js";
import { sha256 } from "./keys.js";
import { isAlive } from "./process-identity.js";
import { writeWhole } from "./write-whole.js";

interface Entry {
  readonly key: string;
  readonly offset: number;
  readonly length: number;
  readonly digest: string;
}

const LARGEST = 64 * 1024 * 1024;
const MAGIC = "OXP1";
const FLUSH = 8 * 1024 * 1024;

/**
 * Results by key, in a folder that any number of processes may share without a lock.
 *
 * Results are gathered into packs; a pack is written under a temporary name, renamed to the digest of its content and
 * never changed. Each entry carries its own digest: one that does not fit counts as absent.
 */
export class ResultCache {
  readonly #index = new Map<string, Entry & { pack: string }>();
  #waiting: { key: string; bytes: Uint8Array }[] = [];
  #waitingSize = 0;

  constructor(private readonly folder: string) {
    let packs: string[] = [];
    try {
      packs = fs.readdirSync(folder).filter((f) => packName.test(f));
    } catch {
      return;
    }
    for (const pack of packs) this.#load(pack);
  }

  #load(pack: string): void {
    try {
      const fd = fs.openSync(path.join(this.folder, pack), "r");
      try {
        const head = Buffer.alloc(8);
        fs.readSync(fd, head, 0, 8, 0);
        const length = head.readUInt32LE(4);
        if (head.toString("latin1", 0, 4) !== MAGIC || length > 256 * 1024 * 1024) return;
        const index = Buffer.alloc(length);
        fs.readSync(fd, index, 0, length, 8);
        for (const e of JSON.parse(index.toString("utf8")) as Entry[])
          this.#index.set(e.key, { ...e, offset: e.offset + 8 + length, pack });
      } finally {
        fs.closeSync(fd);
      }
    } catch {
      return;
    }
  }

  has(key: string): boolean {
    return this.#index.has(key);
  }

  /** The value of a key, or undefined when it is not kept or no longer whole. */
  get(key: string): unknown {
    const e = this.#index.get(key);
    if (!e) return undefined;
    try {
      const fd = fs.openSync(path.join(this.folder, e.pack), "r");
      try {
        const bytes = Buffer.allocUnsafeSlow(e.length);
        const whole = fs.readSync(fd, bytes, 0, e.length, e.offset) === e.length;
        if (whole && sha256(bytes) === e.digest) return unpackValue(bytes);
      } finally {
        fs.closeSync(fd);
      }
    } catch {
      // Gone or damaged: computed again.
    }
    this.#index.delete(key);
    return undefined;
  }

  /** Keeps a value; small ones wait until enough are together or `flush` is called. */
  put(key: string, value: unknown): void {
    if (this.#index.has(key)) return;
    const bytes = packValue(value);
    if (bytes.length > LARGEST) return;
    this.#waiting.push({ key, bytes });
    this.#waitingSize += bytes.length;
    if (this.#waitingSize > FLUSH) this.flush();
  }

  /** Writes what waits. A full disk costs the cache, not the job. */
  flush(): void {
    if (this.#waiting.length === 0) return;
    const entries: Entry[] = [];
    let offset = 0;
    for (const { key, bytes } of this.#waiting) {
      entries.push({ key, offset, length: bytes.length, digest: sha256(bytes) });
      offset += bytes.length;
    }
    const index = Buffer.from(JSON.stringify(entries), "utf8");
    const head = Buffer.alloc(8);
    head.write(MAGIC, "latin1");
    head.writeUInt32LE(index.length, 4);
    const whole = Buffer.concat([head, index, ...this.#waiting.map((w) => w.bytes)]);
    this.#waiting = [];
    this.#waitingSize = 0;
    const name = `${sha256(whole).slice(0, 40)}.pack`;
    try {
      writeWhole(path.join(this.folder, name), whole);
      for (const e of entries) this.#index.set(e.key, { ...e, offset: e.offset + 8 + index.length, pack: name });
    } catch {
      // Without a pack these results are computed again.
    }
  }
}

const packName = /^[0-9a-f]{40}\.pack$/;
/** What a process that was ended while it wrote a pack has left. */
const partName = /^[0-9a-f]{40}\.pack\.(\d+)\.part$/;

/** Whether a file is one of our packs, by its name and its first bytes, or what is left of writing one. */
function isPack(folder: string, file: string): boolean {
  const part = partName.exec(file);
  if (part) return !isAlive({ pid: Number(part[1]), started: "" });
  if (!packName.test(file)) return false;
  let fd: number | undefined;
  try {
    fd = fs.openSync(path.join(folder, file), fs.constants.O_RDONLY | fs.constants.O_NONBLOCK);
    const head = Buffer.alloc(4);
    return fs.fstatSync(fd).isFile() && fs.readSync(fd, head, 0, 4, 0) === 4 && head.toString("latin1") === MAGIC;
  } catch {
    return false;
  } finally {
    if (fd !== undefined) fs.closeSync(fd);
  }
}

/** Removes the oldest packs until the folder holds at most `bytes`. Not to be called while a job uses the folder. */
export function trimCache(folder: string, bytes: number): void {
  let packs: { file: string; size: number; time: number }[];
  try {
    packs = fs
      .readdirSync(folder)
      .filter((f) => isPack(folder, f))
      .map((f) => {
        const s = fs.statSync(path.join(folder, f));
        return { file: f, size: s.size, time: s.mtimeMs };
      });
  } catch {
    return;
  }
  let total = packs.reduce((n, p) => n + p.size, 0);
  for (const p of packs.sort((a, b) => a.time - b.time)) {
    if (total <= bytes) return;
    fs.rmSync(path.join(folder, p.file), { force: true });
    total -= p.size;
  }
}
