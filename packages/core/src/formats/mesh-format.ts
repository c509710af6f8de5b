import type { ByteSource } from "./source.js";
import type { MeshFile, Siblings, TimeCollection } from "./mesh-data.js";

/** A kind of mesh file: whether a file is one by its first bytes, and how it is opened. */
export interface MeshFormat {
  readonly name: string;
  /** Endings of its files, as they are usual: for finding them, never for knowing what they are. */
  readonly endings: readonly string[];
  /** Endings of its files that name others: times, parts, blocks. */
  readonly collections: readonly string[];
  sniff(head: Uint8Array, size: number): boolean;
  open(source: ByteSource, siblings: Siblings): MeshFile | TimeCollection;
}
