import type { Block } from "@oxtrum/core/sampling";

/** A step whose blocks may be asked at any time: its files are opened again when they are. */
export interface HeldStep {
  readonly blocks: readonly Block[];
  /** Closes its files. */
  close(): void;
}

/** What is held between two uses, in bytes, for one batch. */
const MOST_HELD = 256e6;
/** What the head of a block takes, about. */
const HEAD = 10_000;

type Mesh = Block["mesh"];
const sizeOf = ({ points, nodes, offsets, types }: Mesh): number =>
  points.byteLength + nodes.byteLength + offsets.byteLength + types.byteLength;

interface Entry<S> {
  readonly step: S;
  readonly bytes: number;
  readonly meshes: readonly Mesh[];
}

/**
 * Steps of fields, held while a batch is worked on: of what several operations need of a step, its heads are read once,
 * and its points, cells and values unpacked once. Files are closed after each use; what was used longest ago is dropped
 * when all together hold more than `limit` bytes.
 */
export class HeldSteps<S extends HeldStep> {
  /** The least lately used first. */
  readonly #entries = new Map<string, Entry<S>>();
  /** Steps on the same mesh share it. */
  readonly #meshes = new Map<Mesh, number>();
  #bytes = 0;

  constructor(private readonly limit = MOST_HELD) {}

  /** What is held, in bytes. */
  get bytes(): number {
    return this.#bytes;
  }

  /** Does something with a step, opened if it is not held. What fails is opened anew by whoever asks next. */
  with<T>(key: string, open: () => S, use: (step: S) => T): T {
    const step = this.#entries.get(key)?.step ?? open();
    this.#drop(key);
    try {
      const result = use(step);
      this.#drop(key);
      this.#take(key, step);
      return result;
    } finally {
      step.close();
    }
  }

  #take(key: string, step: S): void {
    const meshes = step.blocks.flatMap((b) => b.loadedMesh ?? []);
    const bytes = step.blocks.reduce((n, b) => n + b.heldBytes + HEAD, 0);
    this.#entries.set(key, { step, bytes, meshes });
    this.#bytes += bytes;
    for (const m of meshes) {
      const users = this.#meshes.get(m) ?? 0;
      if (users === 0) this.#bytes += sizeOf(m);
      this.#meshes.set(m, users + 1);
    }
    for (const oldest of this.#entries.keys()) {
      if (this.#bytes <= this.limit) return;
      this.#drop(oldest);
    }
  }

  #drop(key: string): void {
    const entry = this.#entries.get(key);
    if (!entry) return;
    this.#entries.delete(key);
    this.#bytes -= entry.bytes;
    for (const m of entry.meshes) {
      const users = this.#meshes.get(m)! - 1;
      if (users > 0) {
        this.#meshes.set(m, users);
        continue;
      }
      this.#meshes.delete(m);
      this.#bytes -= sizeOf(m);
    }
  }
}
