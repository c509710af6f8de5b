import fs from "node:fs";
import path from "node:path";
import { FormatError, openFile, type ByteSource, type FileSource, type Siblings } from "@oxtrum/core/formats";
import type { ReadNotes } from "../store/partial-identity.js";

/** Files that one step of a field may name, directly or through others. */
const MOST_NAMED = 20_000;
/** Of these, how many are open at once: the system allows a process a few hundred more. */
const MOST_OPEN = 128;

/** A file that is opened when it is read, and closed again when others need its place. */
interface Held {
  readonly full: string;
  readonly name: string;
  readonly size: number;
  /** Which file it is, and when it was last written to. */
  readonly stamp: string;
  source: FileSource | undefined;
}

function stampOf({ descriptor }: FileSource): string {
  const { ino, mtimeNs } = fs.fstatSync(descriptor, { bigint: true });
  return `${ino} ${mtimeNs}`;
}

/**
 * Opens files within a folder, however many they are, and closes them all again. Files that name each other without end
 * are refused; few are held open at once.
 */
export class Opened {
  /** The least lately used first. */
  readonly #open = new Set<Held>();
  readonly names = new Set<string>();
  #named = 0;

  constructor(
    private readonly locate: (relative: string) => string,
    private readonly notes?: ReadNotes,
  ) {}

  /** @throws FormatError when it is not there, not a plain file, or one too many */
  source(relative: string): ByteSource {
    const clean = path.posix.normalize(relative);
    if (++this.#named > MOST_NAMED)
      throw new FormatError(clean, `more than ${MOST_NAMED} files are named by each other`);
    this.names.add(clean);
    let source: FileSource;
    const full = this.locate(clean);
    try {
      source = openFile(full, clean);
    } catch (e) {
      if ((e as NodeJS.ErrnoException).code === "ENOENT") throw new FormatError(clean, `there is no ${clean}`);
      throw e;
    }
    const held: Held = { full, name: clean, size: source.size, stamp: stampOf(source), source };
    this.#take(held);
    const reading: ByteSource = {
      name: clean,
      size: held.size,
      read: (offset, length) => this.#reopened(held).read(offset, length),
    };
    return this.notes ? this.notes.noting(reading) : reading;
  }

  #take(held: Held): void {
    this.#open.delete(held);
    this.#open.add(held);
    for (const oldest of this.#open) {
      if (this.#open.size <= MOST_OPEN) break;
      oldest.source?.close();
      oldest.source = undefined;
      this.#open.delete(oldest);
    }
  }

  #reopened(held: Held): FileSource {
    if (!held.source) {
      const source = openFile(held.full, held.name, held.size);
      if (source.size !== held.size || stampOf(source) !== held.stamp) {
        source.close();
        throw new FormatError(
          held.name,
          "the file changed while it was being read",
          {},
          "Run again when it is no longer written to.",
        );
      }
      held.source = source;
    }
    this.#take(held);
    return held.source;
  }

  siblings(of: string): Siblings {
    return {
      open: (relative) => {
        const file = path.posix.join(path.posix.dirname(of), relative.replace(/\\/g, "/"));
        return { source: this.source(file), siblings: this.siblings(file) };
      },
    };
  }

  /** Closes all files; whatever is read of one later opens it again. */
  close(): void {
    for (const h of this.#open) {
      h.source?.close();
      h.source = undefined;
    }
    this.#open.clear();
  }
}
