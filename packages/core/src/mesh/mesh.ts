import { createHash } from "node:crypto";
import { FormatError } from "../formats/source.js";
import type { CellArrays, Grid } from "../formats/mesh-data.js";
import { cellType, cellTypes } from "./cell-types.js";

/** Points and cells in memory, ready for geometry. */
export interface Mesh extends CellArrays {
  /** Coordinates, three a point. */
  readonly points: Float64Array;
  readonly pointCount: number;
  readonly cellCount: number;
  /** The highest dimension of its cells: 3 for volumes, 2 for surfaces. */
  readonly dimension: number;
  /** How many cells have a lower one: faces, lines and points beside volumes. */
  readonly lowerCells: number;
}

/** Reads a grid's points and cells. @throws FormatError for coordinates that are not numbers, cells of too few nodes */
export function loadMesh(grid: Grid, file: string): Mesh {
  const points = grid.readPoints();
  for (let i = 0; i < points.length; i++)
    if (!Number.isFinite(points[i]!))
      throw new FormatError(file, `point ${Math.floor(i / 3)} has a coordinate that is not a number`);
  const cells = grid.readCells();
  const counts = [0, 0, 0, 0];
  for (let c = 0; c < cells.types.length; c++) {
    const t = cellTypes[cells.types[c]!];
    const n = cells.offsets[c + 1]! - cells.offsets[c]!;
    if (!t) throw new FormatError(file, `cell ${c} is of type ${cells.types[c]}, which is not read`);
    if (t.nodes > 0 && n !== t.nodes) throw new FormatError(file, `cell ${c} is a ${t.name}, but has ${n} nodes`);
    counts[t.dimension]!++;
  }
  const dimension = Math.max(
    0,
    counts.findLastIndex((n) => n > 0),
  );
  const lowerCells = cells.types.length - counts[dimension]!;
  return { ...cells, points, pointCount: points.length / 3, cellCount: cells.types.length, dimension, lowerCells };
}

const kinds = new WeakMap<Mesh, Uint8Array>();

/**
 * By type of cell: 1 for those of a mesh's highest dimension, of which it is made; points and lines beside them do not
 * count.
 */
export function ownKinds(mesh: Mesh): Uint8Array {
  let own = kinds.get(mesh);
  if (own) return own;
  own = new Uint8Array(256);
  for (const t of mesh.types) own[t] = 1;
  for (let t = 0; t < 256; t++) if (own[t] === 1 && cellType(t).dimension !== mesh.dimension) own[t] = 0;
  kinds.set(mesh, own);
  return own;
}

/** The digest of where a grid's points and cells are: grids with the same one share sampling plans. */
export function meshDigest(grid: Grid): string {
  const h = createHash("sha256");
  h.update(`${grid.points} ${grid.cells} `);
  grid.digestOf((bytes) => void h.update(bytes));
  return h.digest("hex");
}

/** The box around all points: x0, x1, y0, y1, z0, z1; all NaN without points. */
export function boundsOf(points: Float64Array): number[] {
  const b = [Infinity, -Infinity, Infinity, -Infinity, Infinity, -Infinity];
  for (let i = 0; i < points.length; i++) {
    const k = 2 * (i % 3);
    if (points[i]! < b[k]!) b[k] = points[i]!;
    if (points[i]! > b[k + 1]!) b[k + 1] = points[i]!;
  }
  return points.length === 0 ? b.map(() => Number.NaN) : b;
}

/** How many cells there are of each kind, by name. */
export function countCellTypes(types: Uint8Array): Record<string, number> {
  const counts = new Map<string, number>();
  for (const t of types) {
    const { name } = cellType(t);
    counts.set(name, (counts.get(name) ?? 0) + 1);
  }
  return Object.fromEntries([...counts].sort(([a], [b]) => (a < b ? -1 : 1)));
}
