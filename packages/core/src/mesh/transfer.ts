import { cellMeasures } from "./measures.js";
import { cellType } from "./cell-types.js";
import type { Mesh } from "./mesh.js";

/** Values of cells from those of their points: the plain mean over each cell's nodes. */
export function pointsToCells(mesh: Mesh, values: Float64Array, components = 1): Float64Array {
  const out = new Float64Array(mesh.cellCount * components);
  for (let c = 0; c < mesh.cellCount; c++) {
    const [first, end] = [mesh.offsets[c]!, mesh.offsets[c + 1]!];
    for (let k = 0; k < components; k++) {
      let sum = 0;
      for (let i = first; i < end; i++) sum += values[mesh.nodes[i]! * components + k]!;
      out[c * components + k] = sum / (end - first);
    }
  }
  return out;
}

/**
 * Values of points from those of the cells around them, weighted by the cells' volume (or area); NaN where no cell is.
 * Where cells of several dimensions meet, those of the highest count: an area is not a weight beside a volume.
 */
export function cellsToPoints(mesh: Mesh, values: Float64Array, components = 1): Float64Array {
  const size = cellMeasures(mesh);
  const out = new Float64Array(mesh.pointCount * components);
  const weight = new Float64Array(mesh.pointCount);
  const highest = mesh.lowerCells === 0 ? undefined : highestAround(mesh);
  for (let c = 0; c < mesh.cellCount; c++)
    for (let i = mesh.offsets[c]!; i < mesh.offsets[c + 1]!; i++) {
      const v = mesh.nodes[i]!;
      if (highest && cellType(mesh.types[c]!).dimension < highest[v]!) continue;
      weight[v]! += size[c]!;
      for (let k = 0; k < components; k++) out[v * components + k]! += size[c]! * values[c * components + k]!;
    }
  for (let v = 0; v < mesh.pointCount; v++) for (let k = 0; k < components; k++) out[v * components + k]! /= weight[v]!;
  return out;
}

/** By point: the highest dimension of the cells that use it. */
function highestAround(mesh: Mesh): Uint8Array {
  const out = new Uint8Array(mesh.pointCount);
  for (let c = 0; c < mesh.cellCount; c++) {
    const { dimension } = cellType(mesh.types[c]!);
    for (let i = mesh.offsets[c]!; i < mesh.offsets[c + 1]!; i++)
      out[mesh.nodes[i]!] = Math.max(out[mesh.nodes[i]!]!, dimension);
  }
  return out;
}
