import { axisOf, makeTable, numbers, numberColumn, textColumn, type Table } from "../tables/table.js";
import { risingAlong } from "../tables/order.js";
import { gapsAlong } from "../tables/calculus.js";
import { missing, type Quantity } from "../tables/quantity.js";

export interface SettlesOptions {
  /** Half-width of the band about the final value, in the column's unit. */
  readonly within: number;
  /** The value to settle at; the last one when not given. */
  readonly to?: number | undefined;
}

/**
 * The axis value from which on a column stays within a band about its final (or a given) value.
 *
 * The entry into the band is interpolated linearly. Missing values are passed over, which a condition says. A column
 * that is in the band only at its very last row has not settled: the result is missing with that reason.
 */
export function settles(table: Table, name: string, options: SettlesOptions): Quantity {
  const t = risingAlong(table);
  const axis = axisOf(t);
  const c = numbers(t, name);
  const present: number[] = [];
  for (let i = 0; i < t.rows; i++) if (c.values[i]! === c.values[i]!) present.push(i);
  if (present.length < 2) return missing(`"${name}" has ${present.length} values; settling needs two`, axis.unit);
  const final = options.to ?? c.values[present[present.length - 1]!]!;
  const off = (i: number): number => Math.abs(c.values[i]! - final) - options.within;
  let k = present.length - 1;
  if (off(present[k]!) > 0)
    return missing(`"${name}" has not settled: it ends ${Math.abs(c.values[present[k]!]! - final)} away`, axis.unit);
  while (k > 0 && off(present[k - 1]!) <= 0) k--;
  const method = `within ±${options.within} of ${options.to === undefined ? "the last value" : options.to}`;
  const gaps = gapsAlong(name, axis, c.values);
  const known = gaps.length > 0 ? { conditions: gaps } : {};
  if (k === 0) return { value: axis.values[present[0]!]!, unit: axis.unit, method, ...known };
  if (k === present.length - 1) return missing(`"${name}" has not settled before the end`, axis.unit);
  const i = present[k - 1]!;
  const j = present[k]!;
  const edge = final + (c.values[i]! > final ? options.within : -options.within);
  const share = (edge - c.values[i]!) / (c.values[j]! - c.values[i]!);
  return { value: axis.values[i]! + share * (axis.values[j]! - axis.values[i]!), unit: axis.unit, method, ...known };
}

/**
 * Where a column passes a level: axis value (interpolated) and whether it rises or falls there. A passage in a gap of
 * missing values has no place and is not listed; a condition says how much of the axis has no value.
 */
export function crossings(
  table: Table,
  name: string,
  level: number,
  which: "both" | "rising" | "falling" = "both",
): Table {
  const t = risingAlong(table);
  const axis = axisOf(t);
  const v = numbers(t, name).values;
  const places: number[] = [];
  const ways: string[] = [];
  let last = -1;
  let gap = false;
  for (let i = 0; i < v.length; i++) {
    if (v[i] !== v[i]) gap = true;
    if (v[i] !== v[i] || v[i] === level) continue;
    if (gap) last = -1;
    gap = false;
    if (last >= 0 && v[last]! < level !== v[i]! < level) {
      const way = v[i]! > level ? "rising" : "falling";
      if (which === "both" || which === way) {
        // Between the two lies either a step across the level or rows exactly on it; the first of those counts.
        const touch = i - last > 1 ? v.subarray(last + 1, i).findIndex((y) => y === level) : -1;
        const x0 = axis.values[last]!;
        places.push(
          touch >= 0
            ? axis.values[last + 1 + touch]!
            : x0 + ((level - v[last]!) / (v[i]! - v[last]!)) * (axis.values[i]! - x0),
        );
        ways.push(way);
      }
    }
    last = i;
  }
  const conditions = gapsAlong(name, axis, v);
  const found = makeTable([numberColumn(axis.name, axis.unit, places), textColumn("direction", ways)], {
    axis: axis.name,
    notes: t.notes,
  });
  return conditions.length > 0 ? { ...found, conditions } : found;
}
