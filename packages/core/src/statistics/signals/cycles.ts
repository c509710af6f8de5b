import { makeTable, numberColumn, numbersOf, TableError, type Table } from "../../tables/table.js";
import { stepOf } from "../../tables/units.js";
import { interpolate } from "../../tables/resample.js";
import { pairwiseSum } from "../../tables/sums.js";
import { gapNote, presentRows, type Present } from "./rows.js";

export interface CycleOptions {
  /** In the axis's unit. */
  readonly period: number;
  /** Where the first cycle begins; the first row when not given. */
  readonly from?: number | undefined;
}

function starts(p: Present, name: string, o: CycleOptions): number[] {
  if (!(o.period > 0)) throw new TableError(`cycles: the period has to be more than zero, not ${o.period}`);
  if (p.table.rows === 0) return [];
  const from = o.from ?? p.x[0]!;
  const last = p.x[p.x.length - 1]!;
  if (p.x.length < 2 || from < p.x[0]! - 1e-9 * o.period)
    throw new TableError(`cycles: "${name}" has no values from ${from} on`);
  const count = Math.floor((last - from) / o.period + 1e-9);
  if (count < 1) throw new TableError(`cycles: from ${from} to ${last} there is no whole period of ${o.period}`);
  if (count > 5_000_000) throw new TableError(`cycles: ${count} periods are too many`);
  return Array.from({ length: count }, (_, k) => from + k * o.period);
}

/**
 * A row a cycle of a given period: where it begins, and `name.mean` (weighted along the axis over exactly one period),
 * `.min`, `.max` and `.amplitude` (half of their difference). Only whole cycles count.
 *
 * @throws TableError when there is no whole period
 * @example cycles(history, "level", { period: 1.6 })
 */
export function cycles(table: Table, name: string, options: CycleOptions): Table {
  const p = presentRows(table, name);
  const begin = starts(p, name, options);
  const rows = begin.map((b) => {
    const end = b + options.period;
    const inner: number[] = [];
    let k = lowerBound(p.x, b);
    while (k < p.x.length && p.x[k]! <= b) k++;
    for (; k < p.x.length && p.x[k]! < end; k++) inner.push(p.x[k]!);
    const at = Float64Array.from([b, ...inner, Math.min(end, p.x[p.x.length - 1]!)]);
    const v = interpolate(p.x, p.y, at);
    const base = v[0]!;
    const area = pairwiseSum((i) => (at[i + 1]! - at[i]!) * 0.5 * (v[i]! - base + (v[i + 1]! - base)), at.length - 1);
    let [low, high] = [Infinity, -Infinity];
    for (const y of v) {
      if (y < low) low = y;
      if (y > high) high = y;
    }
    return { mean: base + area / (at[at.length - 1]! - b), low, high };
  });
  const { unit, factor } = stepOf(p.column.unit);
  return makeTable(
    [
      numbersOf(begin, "cycle", "1", (_, k) => k + 1),
      numberColumn(p.axis.name, p.axis.unit, begin),
      numbersOf(rows, `${name}.mean`, p.column.unit, (r) => r.mean),
      numbersOf(rows, `${name}.min`, p.column.unit, (r) => r.low),
      numbersOf(rows, `${name}.max`, p.column.unit, (r) => r.high),
      numbersOf(rows, `${name}.amplitude`, unit, (r) => ((r.high - r.low) / 2) * factor),
    ],
    {
      axis: p.axis.name,
      notes: [
        ...table.notes,
        `${begin.length} whole periods of ${options.period} along "${p.axis.name}"`,
        ...gapNote(p, name),
      ],
    },
  );
}

/**
 * The mean cycle: at even places of the period the mean over all whole cycles, and their standard deviation (n−1),
 * between rows by straight lines. Columns: `phase` in degrees, `name.mean`, `name.std`.
 *
 * @example phaseAverage(history, "level", { period: 1.6, points: 36 })
 */
export function phaseAverage(
  table: Table,
  name: string,
  options: CycleOptions & { points?: number | undefined },
): Table {
  const points = options.points ?? 72;
  if (!(Number.isInteger(points) && points >= 2 && points <= 100_000))
    throw new TableError(`phaseAverage: points has to be a whole number from 2 to 100 000, not ${points}`);
  const p = presentRows(table, name);
  const begin = starts(p, name, options);
  const { unit, factor } = stepOf(p.column.unit);
  const phase: number[] = [];
  const mean: number[] = [];
  const std: number[] = [];
  for (let k = 0; begin.length > 0 && k < points; k++) {
    const at = Float64Array.from(begin, (b) => b + (options.period * k) / points);
    const v = interpolate(p.x, p.y, at);
    const n = v.length;
    const m = v[0]! + pairwiseSum((i) => v[i]! - v[0]!, n) / n;
    phase.push((360 * k) / points);
    mean.push(m);
    std.push(n > 1 ? factor * Math.sqrt(pairwiseSum((i) => (v[i]! - m) ** 2, n) / (n - 1)) : Number.NaN);
  }
  return makeTable(
    [
      numberColumn("phase", "deg", phase),
      numberColumn(`${name}.mean`, p.column.unit, mean),
      numberColumn(`${name}.std`, unit, std),
    ],
    {
      axis: "phase",
      notes: [...table.notes, `mean of ${begin.length} whole periods of ${options.period}`, ...gapNote(p, name)],
    },
  );
}

function lowerBound(x: Float64Array, v: number): number {
  let [low, high] = [0, x.length];
  while (low < high) {
    const mid = (low + high) >>> 1;
    if (x[mid]! < v) low = mid + 1;
    else high = mid;
  }
  return low;
}
