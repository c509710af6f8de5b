import type { Extent, Grid } from "./mesh-data.js";

/**
 * How many points grids hold together: those that pieces of one structured grid share are counted once.
 *
 * @example distinctPoints(file.grids) // 27 of two pieces of 18 points with 9 between them
 */
export function distinctPoints(grids: readonly Grid[]): number {
  const wholes = new Map<object, Extent[]>();
  let points = 0;
  for (const g of grids) {
    if (!g.piece) points += g.points;
    else wholes.set(g.piece.of, [...(wholes.get(g.piece.of) ?? []), g.piece.extent]);
  }
  for (const extents of wholes.values()) points += covered(extents, 2);
  return points;
}

/** Places with whole indices that boxes cover in directions 0 to `axis`, slab by slab between their bounds. */
function covered(boxes: readonly Extent[], axis: number): number {
  const [low, high] = [2 * axis, 2 * axis + 1] as const;
  const bounds = [...new Set(boxes.flatMap((b) => [b[low]!, b[high]! + 1]))].sort((a, b) => a - b);
  let sum = 0;
  for (let k = 0; k + 1 < bounds.length; k++) {
    const here = boxes.filter((b) => b[low]! <= bounds[k]! && b[high]! >= bounds[k]!);
    if (here.length === 0) continue;
    sum += (bounds[k + 1]! - bounds[k]!) * (axis === 0 ? 1 : covered(here, axis - 1));
  }
  return sum;
}
