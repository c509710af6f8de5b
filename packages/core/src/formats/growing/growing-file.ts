import fs from "node:fs";
import { FormatError, openFile, type FileSource } from "../source.js";

/** What became of a file since it was looked at last. */
export type Growth =
  | { readonly kind: "same" }
  /** Bytes were appended: those from `from` on are new. The file is open; who looked closes it. */
  | { readonly kind: "grown"; readonly from: number; readonly source: FileSource }
  /** It is another file now, was cut, or was written again: what is known of it holds no more. */
  | { readonly kind: "replaced"; readonly why: string }
  | { readonly kind: "gone" };

/** Bytes that are kept of the start and of the end of what was read, and of so many places between. */
const SAMPLE = 1024;
const BETWEEN = 8;
const SMALL = 64;
/** Files of up to so many bytes are read at once to compare them: that takes less than a read for each place. */
const AT_ONCE = 64 * 1024;
/** What is compared is read here. */
const scratch = Buffer.allocUnsafeSlow(AT_ONCE);

interface Mark {
  readonly at: number;
  readonly bytes: Uint8Array;
}

/**
 * Tells what became of a growing file without reading it whole: by its number, size and times, and by the bytes at its
 * start, before the place up to which it was read, and at some places between, which are compared whenever it changed.
 */
export class GrowingFile {
  #known: { ino: number; size: number; mtime: number } | undefined;
  #first: Mark | undefined;
  /** At some places between, chosen anew when the file has become half as long again. */
  #between: readonly Mark[] = [];
  #chosenAt = 0;
  /** Before the place up to which it was read. */
  #last: Mark | undefined;
  /** Bytes that were read, also to compare. */
  bytesRead = 0;

  constructor(
    readonly path: string,
    readonly name: string,
  ) {}

  /** When it was written last, ms; undefined where it has not been there. */
  get written(): number | undefined {
    return this.#known?.mtime;
  }

  /** Compares the file with what is known of it. `read` is the place up to which its content was taken. */
  look(read: number): Growth {
    const growth = this.#growth(read);
    // Of another content nothing is known.
    if (growth.kind === "replaced" || growth.kind === "gone") this.#first = undefined;
    return growth;
  }

  #growth(read: number): Growth {
    let stat: fs.Stats;
    try {
      stat = fs.statSync(this.path);
    } catch (e) {
      const { code } = e as NodeJS.ErrnoException;
      if (code !== "ENOENT" && code !== "ENOTDIR") throw e;
      this.#known = undefined;
      return { kind: "gone" };
    }
    const before = this.#known;
    const now = { ino: stat.ino, size: stat.size, mtime: stat.mtimeMs };
    this.#known = now;
    if (!before) return { kind: "replaced", why: "it is new" };
    if (now.ino === before.ino && now.size === before.size && now.mtime === before.mtime) return { kind: "same" };
    if (now.ino !== before.ino) return { kind: "replaced", why: "another file has its name" };
    if (now.size < before.size || now.size < read) return { kind: "replaced", why: "it is shorter than before" };
    // Written again with the same length: where, nobody knows.
    if (now.size === before.size) return { kind: "replaced", why: "it was written again" };
    const source = this.#ifMarksHold();
    return source
      ? { kind: "grown", from: read, source }
      : { kind: "replaced", why: "its earlier part was written again" };
  }

  /** Keeps the bytes by which the part up to `read` is known again. */
  mark(source: FileSource, read: number): void {
    const keep = (at: number, end: number): Mark => {
      const bytes = source.read(at, end - at);
      this.bytesRead += bytes.length;
      return { at, bytes };
    };
    if (!this.#first || read < this.#chosenAt || read > 1.5 * this.#chosenAt) {
      this.#chosenAt = read;
      const step = Math.floor((read - 2 * SAMPLE) / (BETWEEN + 1));
      const between = step > SMALL ? Array.from({ length: BETWEEN }, (_, k) => SAMPLE + (k + 1) * step) : [];
      this.#first = keep(0, Math.min(SAMPLE, read));
      this.#between = between.map((at) => keep(at, at + SMALL));
    }
    this.#last = keep(Math.max(0, read - SAMPLE), read);
  }

  open(): FileSource {
    return openFile(this.path, this.name);
  }

  /** The file, if it holds what it held. */
  #ifMarksHold(): FileSource | undefined {
    let source: FileSource;
    try {
      source = this.open();
    } catch (e) {
      if (e instanceof FormatError) return undefined;
      throw e;
    }
    const marks = [this.#first, ...this.#between, this.#last].filter((m) => m !== undefined);
    const end = marks.reduce((most, m) => Math.max(most, m.at + m.bytes.length), 0);
    const holds =
      end <= AT_ONCE
        ? this.#read(source, 0, end) && marks.every((m) => isAt(m, m.at))
        : marks.every((m) => this.#read(source, m.at, m.bytes.length) && isAt(m, 0));
    if (holds) return source;
    source.close();
    return undefined;
  }

  /** Reads bytes into the scratch. @returns whether they are all there */
  #read(source: FileSource, at: number, length: number): boolean {
    this.bytesRead += length;
    let got = 0;
    while (got < length) {
      const n = fs.readSync(source.descriptor, scratch, got, length - got, at + got);
      if (n === 0) return false;
      got += n;
    }
    return true;
  }
}

/** Whether a mark's bytes stand at a place of the scratch. */
const isAt = ({ bytes }: Mark, place: number): boolean =>
  scratch.compare(bytes, 0, bytes.length, place, place + bytes.length) === 0;
