import { createHash } from "node:crypto";
import type { ByteSource } from "@oxtrum/core/formats";
import type { ReadWatch } from "@oxtrum/core/sampling";

/** Bytes of a block: what is read of a large file is noted in such pieces. */
export const BLOCK = 16 * 1024;

/** The digest of one block, by its number. */
export type BlockDigest = readonly [block: number, sha256: string];

interface Noted {
  readonly source: ByteSource;
  readonly blocks: Set<number>;
}

/**
 * Notes which blocks of which files a result depends on, and makes their digests: so a probe in a large file knows the
 * file by what it used of it, and reads no more.
 */
export class ReadNotes implements ReadWatch {
  readonly #files = new Map<string, Noted>();
  #aside = 0;
  #whole = false;

  /** Whether a result depends on all of a file: its blocks do not settle it then. */
  get isWhole(): boolean {
    return this.#whole;
  }

  whole(): void {
    this.#whole = true;
  }

  aside<T>(work: () => T): T {
    this.#aside++;
    try {
      return work();
    } finally {
      this.#aside--;
    }
  }

  /** A source whose reads are noted. Its digests have to be made before it is closed. */
  noting(source: ByteSource): ByteSource {
    const noted = this.#files.get(source.name) ?? { source, blocks: new Set<number>() };
    this.#files.set(source.name, { source, blocks: noted.blocks });
    return {
      name: source.name,
      size: source.size,
      read: (offset, length) => {
        const end = Math.min(source.size, offset + length);
        if (this.#aside === 0) for (let b = Math.floor(offset / BLOCK); b * BLOCK < end; b++) noted.blocks.add(b);
        return source.read(offset, length);
      },
    };
  }

  /** The digests of the blocks that were read of a file, in their order; none when nothing was. */
  digests(
    open: (name: string) => ByteSource & { close(): void },
  ): Map<string, { size: number; blocks: BlockDigest[] }> {
    const out = new Map<string, { size: number; blocks: BlockDigest[] }>();
    for (const [name, { blocks }] of this.#files) {
      const source = open(name);
      try {
        out.set(name, {
          size: source.size,
          blocks: [...blocks]
            .sort((a, b) => a - b)
            .map(
              (b) =>
                [
                  b,
                  createHash("sha256")
                    .update(source.read(b * BLOCK, BLOCK))
                    .digest("hex"),
                ] as const,
            ),
        });
      } finally {
        source.close();
      }
    }
    return out;
  }
}

/** One digest for a file of which blocks were read. */
export function digestOfBlocks(size: number, blocks: readonly BlockDigest[]): string {
  const h = createHash("sha256").update(`${size} ${BLOCK}`);
  for (const [b, sha] of blocks) h.update(` ${b} ${sha}`);
  return h.digest("hex");
}
