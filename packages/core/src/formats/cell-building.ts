import { FormatError } from "./source.js";
import type { CellArrays, Numbers } from "./mesh-data.js";
import { takeRoom } from "./room.js";

/** Numbers of the open VTK file formats for the cells that other readers make. */
export const vtkCell = {
  vertex: 1,
  polyVertex: 2,
  line: 3,
  polyLine: 4,
  triangle: 5,
  strip: 6,
  polygon: 7,
  pixel: 8,
  quad: 9,
  tetra: 10,
  voxel: 11,
  hexahedron: 12,
  wedge: 13,
  pyramid: 14,
  polyhedron: 42,
} as const;

const volumes = new Set([10, 11, 12, 13, 14, 15, 16, 24, 25, 26, 27, 29, 31, 32, 33, 42]);
const surfaces = new Set([5, 6, 7, 8, 9, 22, 23, 28, 30, 34, 36]);

/** The highest dimension among cells of these types. */
export function dimensionOf(types: ArrayLike<number>): number {
  let highest = 0;
  for (let i = 0; i < types.length && highest < 3; i++) {
    const t = types[i]!;
    const d = volumes.has(t) ? 3 : surfaces.has(t) ? 2 : t > 2 ? 1 : 0;
    if (d > highest) highest = d;
  }
  return highest;
}

/** Whole numbers of any width as 32-bit ones. @throws FormatError for one that does not fit or is negative */
export function toIndices(values: Numbers, file: string, what: string): Int32Array {
  if (values instanceof Int32Array) {
    for (let i = 0; i < values.length; i++)
      if (values[i]! < 0) throw new FormatError(file, `${what}: ${values[i]} at place ${i} is negative`);
    return values;
  }
  takeRoom(4 * values.length);
  const out = new Int32Array(values.length);
  for (let i = 0; i < values.length; i++) {
    const v = Number(values[i]!);
    if (!(v >= 0 && v < 2 ** 31) || v !== Math.floor(v))
      throw new FormatError(file, `${what}: ${v} at place ${i} is not a number of a point or cell`);
    out[i] = v;
  }
  return out;
}

/** Checks that cells name only nodes that are there. @throws FormatError naming the first cell that does not */
export function checkCells(cells: CellArrays, points: number, file: string): CellArrays {
  const { offsets, nodes } = cells;
  const n = cells.types.length;
  if (offsets.length !== n + 1)
    throw new FormatError(file, `${n} cell types, but offsets for ${offsets.length - 1} cells`);
  for (let c = 0; c < n; c++)
    if (offsets[c + 1]! < offsets[c]! || offsets[c + 1]! > nodes.length)
      throw new FormatError(file, `cell ${c}: its nodes end at ${offsets[c + 1]}, of ${nodes.length}`);
  if (offsets[0] !== 0 || offsets[n] !== nodes.length)
    throw new FormatError(file, `the cells list ${nodes.length} nodes, of which they use ${offsets[n]! - offsets[0]!}`);
  for (let i = 0; i < nodes.length; i++)
    if (!(nodes[i]! >= 0 && nodes[i]! < points))
      throw new FormatError(file, `a cell names point ${nodes[i]}, but there are only ${points} points`);
  checkPolyhedra(cells, points, file);
  return cells;
}

/** Checks that polyhedra have faces, of three nodes at least, that name only points that are there. */
function checkPolyhedra({ types, polyhedra }: CellArrays, points: number, file: string): void {
  if (!polyhedra) {
    const c = types.indexOf(vtkCell.polyhedron);
    if (c >= 0) throw new FormatError(file, `cell ${c} is a polyhedron, but its faces are not listed`);
    return;
  }
  const { cellOffsets, faceOffsets, nodes } = polyhedra;
  for (let i = 0; i < nodes.length; i++)
    if (!(nodes[i]! >= 0 && nodes[i]! < points))
      throw new FormatError(
        file,
        `a face of a polyhedron names point ${nodes[i]}, but there are only ${points} points`,
      );
  for (let c = 0; c < types.length; c++) {
    if (types[c] !== vtkCell.polyhedron) continue;
    const [first, end] = [cellOffsets[c]!, cellOffsets[c + 1]!];
    if (end - first < 4) throw new FormatError(file, `cell ${c} is a polyhedron of ${end - first} faces`);
    for (let f = first; f < end; f++)
      if (faceOffsets[f + 1]! - faceOffsets[f]! < 3)
        throw new FormatError(file, `cell ${c}: a face has ${faceOffsets[f + 1]! - faceOffsets[f]!} nodes`);
  }
}

/**
 * Refuses a block of structured points that its file cannot hold values for: such a grid costs a line of text and would
 * take all memory. A field takes a byte per point at least, a thousandth of that where it is packed.
 */
export function checkStructured(points: number, fileSize: number, file: string): void {
  if (points > Math.max(1e6, 4096 * fileSize))
    throw new FormatError(
      file,
      `the file claims ${points} points, more than its ${fileSize} bytes can hold values for`,
    );
}

/** Cells that all have the same type and number of nodes. */
export function uniformCells(type: number, size: number, nodes: Int32Array): CellArrays {
  const n = nodes.length / size;
  return {
    types: new Uint8Array(n).fill(type),
    offsets: Int32Array.from({ length: n + 1 }, (_, c) => c * size),
    nodes,
  };
}

/** Number of points and cells of a block of structured points. */
export function structuredCounts(dims: readonly [number, number, number]): { points: number; cells: number } {
  const points = dims[0] * dims[1] * dims[2];
  const cells = dims.reduce((n, d) => n * Math.max(1, d - 1), 1);
  return { points, cells: dims.every((d) => d < 2) ? (points > 0 ? 1 : 0) : cells };
}

/** The cells of structured points: hexahedra, or quads or lines where directions are flat. */
export function structuredCells(dims: readonly [number, number, number]): CellArrays {
  const full = [0, 1, 2].filter((d) => dims[d]! > 1);
  const stride = [1, dims[0], dims[0] * dims[1]];
  const [a, b, c] = full.map((d) => stride[d]!);
  const corners =
    full.length === 3
      ? [0, a!, a! + b!, b!, c!, c! + a!, c! + a! + b!, c! + b!]
      : full.length === 2
        ? [0, a!, a! + b!, b!]
        : full.length === 1
          ? [0, a!]
          : [0];
  const type = [vtkCell.vertex, vtkCell.line, vtkCell.quad, vtkCell.hexahedron][full.length]!;
  const { cells } = structuredCounts(dims);
  takeRoom(cells * (4 * corners.length + 5));
  const nodes = new Int32Array(cells * corners.length);
  let at = 0;
  for (let k = 0; k < Math.max(1, dims[2] - 1); k++)
    for (let j = 0; j < Math.max(1, dims[1] - 1); j++)
      for (let i = 0; i < Math.max(1, dims[0] - 1); i++) {
        const first = i + dims[0] * (j + dims[1] * k);
        for (const o of corners) nodes[at++] = first + o;
      }
  return uniformCells(type, corners.length, nodes);
}
