import { dimensionOf } from "./cell-building.js";
import { someTuples, type CellArrays, type Grid, type PolyhedronFaces } from "./mesh-data.js";

/**
 * Bits of `vtkGhostType` of the open VTK formats: what is counted elsewhere, replaced by finer cells, or not to be
 * seen.
 */
const CELL_GHOST = 1 | 8 | 32;
const POINT_HIDDEN = 2;

/**
 * A grid without its ghost cells: duplicates of another part's cells, cells that finer ones replace, hidden and blanked
 * ones. They are told by the arrays `vtkGhostType` (of cells, and hidden points) and `vtkGhostLevels`. Cells keep the
 * numbers of the file in `cellNumbers`; a remark says how many are left out. A grid without such cells is given back as
 * it is.
 */
export function withoutGhosts(grid: Grid): Grid {
  const has = (on: "point" | "cell", name: string): boolean => grid.fields.some((f) => f.on === on && f.name === name);
  const byType = has("cell", "vtkGhostType");
  const byLevel = has("cell", "vtkGhostLevels");
  const byPoint = has("point", "vtkGhostType");
  if (!byType && !byLevel && !byPoint) return grid;
  const ghost = new Uint8Array(grid.cells);
  if (byType) grid.readField("cell", "vtkGhostType").forEach((v, c) => void (v & CELL_GHOST && (ghost[c] = 1)));
  if (byLevel) grid.readField("cell", "vtkGhostLevels").forEach((v, c) => void (v > 0 && (ghost[c] = 1)));
  if (byPoint) markHidden(grid, ghost);
  const kept: number[] = [];
  for (let c = 0; c < ghost.length; c++) if (ghost[c] === 0) kept.push(c);
  const fields = grid.fields.filter((f) => f.name !== "vtkGhostType" && f.name !== "vtkGhostLevels");
  const left = grid.cells - kept.length;
  if (left === 0) return { ...grid, fields };
  const numbers = Int32Array.from(kept);
  const ofFile = (cells: ArrayLike<number>): Int32Array => Int32Array.from(cells, (c) => numbers[c]!);
  let cells: CellArrays | undefined;
  const readCells = (): CellArrays => (cells ??= someCells(grid.readCells(), numbers));
  return {
    ...grid,
    cells: numbers.length,
    fields,
    cellNumbers: numbers,
    remarks: [
      ...(grid.remarks ?? []),
      `${left} ghost cell${left === 1 ? "" : "s"} (duplicate, refined or hidden) of ${grid.cells} left out`,
    ],
    dimension: () => dimensionOf(readCells().types),
    readCells,
    readField: (on, name) => {
      const all = grid.readField(on, name);
      return on === "point" ? all : someTuples(all, numbers, all.length / ghost.length);
    },
    readSome: (on, name, indices) => grid.readSome(on, name, on === "point" ? indices : ofFile(indices)),
    ...(grid.readCorners && { readCorners: (some: ArrayLike<number>) => grid.readCorners!(ofFile(some)) }),
    digestOf: (hash) => {
      grid.digestOf(hash);
      hash(ghost);
    },
  };
}

/** A cell with a hidden point is blanked. */
function markHidden(grid: Grid, ghost: Uint8Array): void {
  const flags = grid.readField("point", "vtkGhostType");
  if (!flags.some((v) => (v & POINT_HIDDEN) !== 0)) return;
  const { offsets, nodes } = grid.readCells();
  for (let c = 0; c < ghost.length; c++)
    for (let i = offsets[c]!; i < offsets[c + 1]!; i++) if ((flags[nodes[i]!]! & POINT_HIDDEN) !== 0) ghost[c] = 1;
}

/** Some of the cells, in the order given. */
function someCells(all: CellArrays, which: Int32Array): CellArrays {
  const offsets = new Int32Array(which.length + 1);
  which.forEach((c, i) => (offsets[i + 1] = offsets[i]! + all.offsets[c + 1]! - all.offsets[c]!));
  const nodes = new Int32Array(offsets[which.length]!);
  which.forEach((c, i) => nodes.set(all.nodes.subarray(all.offsets[c]!, all.offsets[c + 1]!), offsets[i]!));
  const types = Uint8Array.from(which, (c) => all.types[c]!);
  return { types, offsets, nodes, ...(all.polyhedra && { polyhedra: someFaces(all.polyhedra, which) }) };
}

function someFaces(all: PolyhedronFaces, which: Int32Array): PolyhedronFaces {
  const cellOffsets = new Int32Array(which.length + 1);
  const faceOffsets = [0];
  const nodes: number[] = [];
  which.forEach((c, i) => {
    for (let f = all.cellOffsets[c]!; f < all.cellOffsets[c + 1]!; f++) {
      for (let k = all.faceOffsets[f]!; k < all.faceOffsets[f + 1]!; k++) nodes.push(all.nodes[k]!);
      faceOffsets.push(nodes.length);
    }
    cellOffsets[i + 1] = faceOffsets.length - 1;
  });
  return { cellOffsets, faceOffsets: Int32Array.from(faceOffsets), nodes: Int32Array.from(nodes) };
}
