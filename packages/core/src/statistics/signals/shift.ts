import { axisOf, makeTable, numberColumn, numbers, TableError, type Table } from "../../tables/table.js";
import { risingAlong } from "../../tables/order.js";
import { interpolate } from "../../tables/resample.js";
import { formatNumber } from "../../tables/number-format.js";
import { missing, type Quantity } from "../../tables/quantity.js";
import { convertValues } from "../../tables/units.js";
import { pearson, presentPairs } from "../groups/correlation.js";
import { presentRows } from "./rows.js";

export interface ShiftOptions {
  /** The column of the other table; the same name when not given. */
  readonly other?: string | undefined;
  /** The largest shift to look at, in the axis's unit; a quarter of the overlap when not given. */
  readonly maxLag?: number | undefined;
}

/** Work that is never exceeded: products of values and shifts. */
const MOST_WORK = 4e8;

interface Trials {
  readonly shifts: Float64Array;
  readonly correlation: Float64Array;
  readonly unit: string | null;
  readonly axis: string;
  readonly step: number;
}

/** The other table's axis and column, in the first one's axis unit. */
function otherRows(a: Table, b: Table, name: string): { x: Float64Array; y: Float64Array } {
  const p = presentRows(b, name);
  const [from, to] = [p.axis.unit, axisOf(a).unit];
  if (from === to) return p;
  if (from === null || to === null)
    throw new TableError(`shift along "${p.axis.name}": its unit is known in one table only; say it with .unit()`);
  return { x: convertValues(p.x, from, to), y: p.y };
}

function trials(table: Table, name: string, other: Table, o: ShiftOptions): Trials {
  const a = presentRows(table, name);
  const b = otherRows(table, other, o.other ?? name);
  if (a.x.length < 8 || b.x.length < 8)
    throw new TableError(`a shift needs eight values of both; there are ${a.x.length} and ${b.x.length}`);
  const [aEnd, bEnd] = [a.x[a.x.length - 1]!, b.x[b.x.length - 1]!];
  const overlap = Math.min(aEnd, bEnd) - Math.max(a.x[0]!, b.x[0]!);
  const span = Math.min(aEnd - a.x[0]!, bEnd - b.x[0]!);
  const most = o.maxLag ?? (overlap > 0 ? overlap : span) / 4;
  if (!(most > 0)) throw new TableError(`the largest shift has to be more than zero, not ${most}`);
  if (overlap + most <= 0)
    throw new TableError(
      `the axes do not overlap: one runs from ${a.x[0]!} to ${aEnd}, the other from ${b.x[0]!} to ${bEnd}`,
    );
  const finest = Math.min((aEnd - a.x[0]!) / (a.x.length - 1), (bEnd - b.x[0]!) / (b.x.length - 1));
  const step = Math.max(finest, Math.sqrt(((aEnd - a.x[0]!) * 2 * most) / MOST_WORK));
  const count = Math.max(1, Math.floor(most / step + 1e-9));
  const n = Math.floor((aEnd - a.x[0]!) / step + 1e-9) + 1;
  const at = Float64Array.from({ length: n }, (_, i) => a.x[0]! + i * step);
  const first = interpolate(a.x, a.y, at);
  const shifts = Float64Array.from({ length: 2 * count + 1 }, (_, k) => (k - count) * step);
  const least = Math.max(8, 0.5 * Math.min(n, span / step));
  // Shifts at which the two overlap by less than half are not computed: nothing comes of them.
  const [early, late] = [b.x[0]! - aEnd + span / 2 - 2 * step, bEnd - a.x[0]! - span / 2 + 2 * step];
  const correlation = shifts.map((s) => {
    if (s < early || s > late) return Number.NaN;
    const second = interpolate(
      b.x,
      b.y,
      at.map((v) => v + s),
    );
    const [p, q] = presentPairs(first, second);
    return p.length < least ? Number.NaN : pearson(p, q);
  });
  return { shifts, correlation, unit: a.axis.unit, axis: a.axis.name, step };
}

/**
 * The correlation of two histories against how much later the second one is: columns `shift` and `correlation`
 * (Pearson's, over the places where both are; at least half of the shorter one). Between rows by straight lines, in
 * steps of the finer history.
 *
 * @throws TableError when the axes do not overlap or there are less than eight values
 * @example crossCorrelation(measured, "T", simulated, { other: "S4", maxLag: 120 })
 */
export function crossCorrelation(table: Table, name: string, other: Table, options: ShiftOptions = {}): Table {
  axisOf(other);
  numbers(other, options.other ?? name);
  if (table.rows === 0 || other.rows === 0) {
    numbers(table, name);
    return makeTable([numberColumn("shift", axisOf(table).unit, []), numberColumn("correlation", "1", [])], {
      axis: "shift",
    });
  }
  const t = trials(table, name, other, options);
  return makeTable([numberColumn("shift", t.unit, t.shifts), numberColumn("correlation", "1", t.correlation)], {
    axis: "shift",
    notes: [
      `correlation of "${name}" with "${options.other ?? name}" shifted along "${t.axis}", in steps of ${t.step}`,
    ],
  });
}

/**
 * How much later along the axis the second history shows what the first one shows: where their correlation is largest,
 * between steps by a parabola; of equal correlations the smallest shift. A constant difference and another scale do not
 * matter.
 *
 * @example timeShift(measured, "T", simulated, { other: "S4" }).value // 40: the measured clock is behind
 */
export function timeShift(table: Table, name: string, other: Table, options: ShiftOptions = {}): Quantity {
  const { unit } = axisOf(table);
  if (table.rows === 0 || other.rows === 0) {
    crossCorrelation(table, name, other, options);
    return missing("a table has no rows", unit);
  }
  const { shifts, correlation: c, step } = trials(table, name, other, options);
  // Of equal ones, as of a periodic history, the smallest shift; equal is within rounding.
  let best = -1;
  const middle = c.length >> 1;
  for (let d = 0; d <= middle; d++)
    for (const k of d === 0 ? [middle] : [middle - d, middle + d])
      if (c[k]! === c[k]! && (best < 0 || c[k]! > c[best]! + 1e-9)) best = k;
  if (best < 0) return missing("at no shift do the two overlap by half and both change", unit);
  const [l, m, r] = [c[best - 1], c[best]!, c[best + 1]];
  if (l === undefined || r === undefined || l !== l || r !== r)
    return missing(
      `the correlation is largest at the last shift looked at, ${shifts[best]!}: give a larger "maxLag"`,
      unit,
    );
  if (m < 0.3)
    return missing(`the two hardly resemble each other at any shift (correlation ${m.toPrecision(2)} at most)`, unit);
  const bend = l - 2 * m + r;
  const shift = bend < 0 ? (0.5 * (l - r)) / bend : 0;
  return {
    value: shifts[best]! + shift * step,
    unit,
    method: `where the correlation is largest (${m.toFixed(4)}), steps of ${formatNumber(step, 4)} and a parabola`,
  };
}

/** The table with its axis moved by so much. @example moveAxis(history, -40) */
export function moveAxis(table: Table, by: number, what: string): Table {
  const sorted = risingAlong(table);
  const axis = axisOf(sorted);
  const columns = sorted.columns.map((c) =>
    c.name === axis.name ? { ...axis, values: axis.values.map((v) => v + by) } : c,
  );
  return makeTable(columns, { axis: axis.name, notes: [...sorted.notes, `"${axis.name}" ${what}`] });
}
