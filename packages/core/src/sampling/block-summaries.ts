import { distinctPoints } from "../formats/distinct-points.js";
import { cellType } from "../mesh/cell-types.js";
import { cellMeasures } from "../mesh/measures.js";
import type { Block } from "./field-set.js";

/** What a block or patch holds; its pieces in parallel files together. */
export interface BlockSummary {
  readonly name: string;
  /** The highest dimension of its cells: 3 for volumes, 2 for surfaces. */
  readonly dimension: number;
  readonly cells: number;
  readonly points: number;
  /** Of its lines, faces and volumes, each by themselves; NaN where it has none. */
  readonly sizes: () => { readonly length: number; readonly area: number; readonly volume: number };
}

/** A summary per block, in the order of the file. Sizes are computed when asked for. */
export function blockSummaries(blocks: readonly Block[]): BlockSummary[] {
  const byName = new Map<string, Block[]>();
  for (const b of blocks) byName.set(b.name, [...(byName.get(b.name) ?? []), b]);
  return [...byName].map(([name, own]) => ({
    name,
    dimension: Math.max(0, ...own.map((b) => (b.grid.cells === 0 ? 0 : b.grid.dimension()))),
    cells: own.reduce((n, b) => n + b.grid.cells, 0),
    points: distinctPoints(own.map((b) => b.grid)),
    sizes: () => sizesOf(own),
  }));
}

function sizesOf(blocks: readonly Block[]): ReturnType<BlockSummary["sizes"]> {
  const sums = [Number.NaN, Number.NaN, Number.NaN, Number.NaN];
  for (const { mesh } of blocks)
    cellMeasures(mesh).forEach((size, c) => {
      const { dimension } = cellType(mesh.types[c]!);
      sums[dimension] = (Number.isNaN(sums[dimension]!) ? 0 : sums[dimension]!) + size;
    });
  return { length: sums[1]!, area: sums[2]!, volume: sums[3]! };
}
