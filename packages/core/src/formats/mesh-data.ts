import type { ByteSource } from "./source.js";

/** The kinds of number that mesh files hold, by their plain names. */
export type ScalarType =
  | "int8"
  | "uint8"
  | "int16"
  | "uint16"
  | "int32"
  | "uint32"
  | "int64"
  | "uint64"
  | "float32"
  | "float64";

export type Numbers =
  | Int8Array
  | Uint8Array
  | Int16Array
  | Uint16Array
  | Int32Array
  | Uint32Array
  | BigInt64Array
  | BigUint64Array
  | Float32Array
  | Float64Array;

/** Numbers as they are computed with: the array itself where it is one of doubles already. */
export function doubles(values: Numbers): Float64Array {
  if (values instanceof Float64Array) return values;
  // Whole numbers of 64 bits have to be turned one by one.
  if (values instanceof BigInt64Array || values instanceof BigUint64Array)
    return Float64Array.from(values as unknown as Float64Array, Number);
  return new Float64Array(values);
}

/** Some tuples of `size` numbers each, in the order asked. */
export function someTuples(values: Numbers, which: ArrayLike<number>, size: number): Float64Array {
  const out = new Float64Array(which.length * size);
  for (let i = 0; i < which.length; i++)
    for (let k = 0; k < size; k++) out[i * size + k] = Number(values[which[i]! * size + k]!);
  return out;
}

export const scalarSize: Readonly<Record<ScalarType, number>> = {
  int8: 1,
  uint8: 1,
  int16: 2,
  uint16: 2,
  int32: 4,
  uint32: 4,
  int64: 8,
  uint64: 8,
  float32: 4,
  float64: 8,
};

/** What is known of a field without reading its values. */
export interface FieldHead {
  readonly name: string;
  readonly on: "point" | "cell";
  readonly components: number;
  readonly type: ScalarType;
  /** The range that the file claims, of a scalar; not checked. */
  readonly claimed?: readonly [min: number, max: number];
}

/** Cells as they are stored: node numbers one behind the other. */
export interface CellArrays {
  /** Cell types by the numbers of the open VTK file formats. */
  readonly types: Uint8Array;
  /** Where each cell's nodes begin; one more than there are cells. */
  readonly offsets: Int32Array;
  readonly nodes: Int32Array;
  /** For polyhedra: the nodes of their faces. */
  readonly polyhedra?: PolyhedronFaces;
}

export interface PolyhedronFaces {
  /** By cell: where its faces begin in `faceOffsets`; empty for cells that are not polyhedra. */
  readonly cellOffsets: Int32Array;
  /** By face: where its nodes begin in `nodes`. */
  readonly faceOffsets: Int32Array;
  readonly nodes: Int32Array;
}

/** Some cells with the coordinates of their nodes. */
export interface CellCorners {
  readonly types: Uint8Array;
  readonly offsets: Int32Array;
  readonly nodes: Int32Array;
  /** Three for each of `nodes`. */
  readonly places: Float64Array;
}

/** First and last index in each direction of a structured grid. */
export type Extent = readonly [i0: number, i1: number, j0: number, j1: number, k0: number, k1: number];

/** One grid of a mesh file. Nothing heavy is read before it is asked for. */
export interface Grid {
  /** The name of its block; empty when the file has only one. */
  readonly block: string;
  readonly points: number;
  readonly cells: number;
  readonly fields: readonly FieldHead[];
  /** Of its cells: 3 for volumes, 2 for surfaces, 1 for lines; reads the cells' types at most. */
  dimension(): number;
  /** Coordinates, three a point. */
  readPoints(): Float64Array;
  readCells(): CellArrays;
  /** All values of a field, components together. @throws FormatError for a field it does not have */
  readField(on: "point" | "cell", name: string): Float64Array;
  /** The values at some points or cells only, in the order asked; reads no more than it must. */
  readSome(on: "point" | "cell", name: string, indices: ArrayLike<number>): Float64Array;
  /** Whether some values of a field can be read without the rest; where this is not there, none can. */
  readonly readsParts?: (on: "point" | "cell", name: string) => boolean;
  /** Some cells alone, where the file lets one read no more than these; undefined where it does not. */
  readonly readCorners?: (cells: ArrayLike<number>) => CellCorners | undefined;
  /**
   * Where a piece of a structured grid lies in the whole of it: pieces that touch hold the points between them both.
   */
  readonly piece?: { readonly of: object; readonly extent: Extent };
  /** By cell: its number in the file, where cells of it were left out. */
  readonly cellNumbers?: Int32Array;
  /** What was decided in reading, for the notes of what is sampled. */
  readonly remarks?: readonly string[];
  /** What the reader knows of its worth: it travels with every value that is read from it. */
  readonly notes?: readonly string[];
  /**
   * The bytes that say where points and cells are, for knowing the same mesh again; undefined where they are implied.
   */
  readonly digestOf: (hash: (bytes: Uint8Array) => void) => void;
}

/** A mesh file: one grid or several. */
export interface MeshFile {
  readonly format: string;
  readonly grids: readonly Grid[];
  /** The time that the file says it is of. */
  readonly time?: number;
}

/** A time collection: which files hold which time. */
export interface TimeCollection {
  readonly format: "collection";
  readonly steps: readonly { readonly time: number; readonly file: string; readonly part: string | undefined }[];
}

/** Opens other files by their path from the one being read. */
export interface Siblings {
  open(relative: string): { readonly source: ByteSource; readonly siblings: Siblings };
}
