import { numbers, TableError, type UnitSymbol } from "../tables/table.js";
import type { FieldAtTime } from "./columns.js";
import { sampleSite } from "./sample.js";
import type { Column } from "./sites/index.js";

interface Level {
  readonly value: number;
  readonly unit: UnitSymbol;
}

/**
 * The height of a free surface in a column from a fill fraction: the last place going up at which it passes a value
 * (linear between the places), or its integral over the height, as if all the fill stood at the bottom. A column filled
 * to its top stands at its top, an empty one at its bottom.
 */
export function columnLevel(
  f: FieldAtTime,
  column: Column,
  fill: string,
  how: { readonly at?: number | undefined; readonly by?: "crossing" | "sum" | undefined },
  notes: Set<string>,
): Level {
  const table = sampleSite(f, column, [fill]);
  const height = numbers(table, column.along).values;
  const value = numbers(table, fill).values;
  const there = Array.from(value, (_, i) => i).filter((i) => !Number.isNaN(value[i]!));
  if (there.length < 2) return { value: Number.NaN, unit: f.lengthUnit };
  if (there.length < value.length)
    notes.add(`${value.length - there.length} of ${value.length} places of the column lie outside the mesh`);
  if (how.by === "sum") {
    let sum = 0;
    for (let k = 1; k < there.length; k++) {
      const [i, j] = [there[k - 1]!, there[k]!];
      if (j === i + 1) sum += ((value[i]! + value[j]!) / 2) * (height[j]! - height[i]!);
    }
    return { value: height[there[0]!]! + sum, unit: f.lengthUnit };
  }
  const limit = how.at ?? 0.5;
  const top = there[there.length - 1]!;
  if (value[top]! >= limit) return { value: height[top]!, unit: f.lengthUnit };
  for (let k = there.length - 1; k > 0; k--) {
    const [i, j] = [there[k - 1]!, there[k]!];
    if (value[i]! >= limit && value[j]! < limit) {
      const t = (value[i]! - limit) / (value[i]! - value[j]!);
      return { value: height[i]! + t * (height[j]! - height[i]!), unit: f.lengthUnit };
    }
  }
  return { value: height[there[0]!]!, unit: f.lengthUnit };
}

/** How a level is found among particles. */
export interface ParticleLevelOptions {
  readonly radius?: number | undefined;
  readonly at?: number | undefined;
  readonly by?: "crossing" | "sum" | undefined;
}

/**
 * The height of a free surface from particles about a column. The density at a particle is the number of particles
 * within the radius of the column and of its own height; the bulk density is the median of these. The level is the
 * height of the highest particle at which the density is at least the share `at` (0.25) of the bulk: at a plane surface
 * it is half of it, at a drop above the surface next to none. Missing where no particle is within the radius.
 *
 * @throws TableError without a radius, and for `by`, which particles do not have
 */
export function particleLevel(f: FieldAtTime, column: Column, o: ParticleLevelOptions): Level {
  const { radius } = o;
  if (!(radius !== undefined && radius > 0))
    throw new TableError("a level from particles needs a radius: { level: true, radius: 0.05 }");
  if (o.by !== undefined)
    throw new TableError('a level from particles has no "by"; it has a radius and the share "at" of the bulk density');
  const limit = o.at ?? 0.25;
  if (!(limit > 0 && limit < 1))
    throw new TableError(`level: "at" is a share of the bulk density between 0 and 1, not ${limit}`);
  const heights = heightsWithin(f, column, radius);
  if (heights.length === 0) return { value: Number.NaN, unit: f.lengthUnit };
  const density = new Float64Array(heights.length);
  for (let i = 0, low = 0, high = 0; i < heights.length; i++) {
    while (heights[i]! - heights[low]! > radius) low++;
    while (high < heights.length && heights[high]! - heights[i]! <= radius) high++;
    density[i] = high - low;
  }
  const bulk = density.slice().sort()[density.length >> 1]!;
  let top = heights.length - 1;
  while (density[top]! < limit * bulk) top--;
  return { value: heights[top]!, unit: f.lengthUnit };
}

/** Heights of the particles within a radius of a column, rising. */
function heightsWithin(f: FieldAtTime, column: Column, radius: number): Float64Array {
  const k = "xyz".indexOf(column.along);
  const [i, j] = [0, 1, 2].filter((d) => d !== k) as [number, number];
  const out: number[] = [];
  for (const { mesh } of f.blocks) {
    const p = mesh.points;
    for (let v = 0; v < mesh.pointCount; v++) {
      const height = p[3 * v + k]!;
      if ((column.from !== undefined && height < column.from) || (column.to !== undefined && height > column.to))
        continue;
      if (Math.hypot(p[3 * v + i]! - column.place[0], p[3 * v + j]! - column.place[1]) <= radius) out.push(height);
    }
  }
  return Float64Array.from(out).sort();
}
