import {
  axisOf,
  makeTable,
  numberColumn,
  numbers,
  numbersOf,
  TableError,
  textsOf,
  type NumberColumn,
  type Table,
  type UnitSymbol,
} from "../tables/table.js";
import { risingAlong } from "../tables/order.js";
import { interpolate } from "../tables/resample.js";
import { convertValues, displayUnit, plainUnit, stepOf, stepScale } from "../tables/units.js";
import { formatNumber } from "../tables/number-format.js";
import { pairwiseSum } from "../tables/sums.js";
import { pearson } from "./groups/correlation.js";
import { timeShift } from "./signals/shift.js";

export interface AgainstOptions {
  /** The column to judge. */
  readonly y: string;
  /** The reference's column; the same name when not given. */
  readonly reference?: string | undefined;
  readonly on?: string | undefined;
  /** What counts as agreeing: an amount in the column's unit (of a difference), or a fraction of the reference. */
  readonly within?: { readonly amount: number } | { readonly relative: number } | undefined;
  /** Moves this table along its axis before: by so much, or by what makes the two agree best. */
  readonly shift?: number | "estimate" | undefined;
  /** The largest shift to look at. */
  readonly maxLag?: number | undefined;
}

/** How a column agrees with a reference. */
export interface Agreement {
  /** The axis, `y`, `reference`, `difference` and `percent` at each place of the reference that the table reaches. */
  readonly side: Table;
  readonly bias: number;
  readonly rms: number;
  /** The largest deviation, with its sign, and where it is. */
  readonly largest: number;
  readonly where: number;
  /** The share of places within the tolerance; NaN without one. */
  readonly within: number;
  readonly count: number;
  readonly outside: number;
  readonly shift: number;
  readonly correlation: number;
  readonly unit: string | null;
  readonly differenceUnit: string | null;
  readonly axis: { readonly name: string; readonly unit: string | null };
  readonly notes: readonly string[];
}

/** The reference's axis and column in the units of the table. */
function inUnits(from: NumberColumn, to: NumberColumn, what: string): Float64Array {
  if (from.unit === to.unit) return from.values;
  if (from.unit === null || to.unit === null)
    throw new TableError(
      `against: the unit of ${what} "${from.unit === null ? from.name : to.name}" is unknown on one side; say it with .unit()`,
    );
  return convertValues(from.values, from.unit, to.unit);
}

/** By how much the table is moved along its axis, in the axis' unit: as it is given, or where both agree best. */
function shiftOf(
  {
    table,
    reference,
    name,
    x,
    rx,
  }: { table: Table; reference: Table; name: string; x: NumberColumn; rx: NumberColumn },
  options: AgainstOptions,
  notes: string[],
): number {
  if (options.shift === "estimate") {
    const found = timeShift(reference, name, table, {
      other: options.y,
      ...(options.maxLag !== undefined && { maxLag: options.maxLag }),
    });
    if (found.reason !== undefined) throw new TableError(`against: no shift can be estimated: ${found.reason}`);
    const step =
      rx.unit !== null && x.unit !== null && rx.unit !== x.unit
        ? found.value * stepScale(rx.unit, x.unit)
        : found.value;
    const shift = -step;
    notes.push(`moved by ${formatNumber(shift)} ${displayUnit(x.unit)} along "${x.name}": ${found.method!}`);
    return shift;
  }
  const shift = options.shift ?? 0;
  if (shift !== 0) notes.push(`moved by ${formatNumber(shift)} ${displayUnit(x.unit)} along "${x.name}"`);
  return shift;
}

/** The fraction of points within the tolerance; NaN without one. */
function withinOf(
  tolerance: AgainstOptions["within"],
  { difference, raw, reference }: Readonly<Record<"difference" | "raw" | "reference", readonly number[]>>,
  unit: UnitSymbol,
): number {
  if (tolerance === undefined) return Number.NaN;
  if ("relative" in tolerance && stepOf(unit).ownZero)
    throw new TableError(`against: a percentage of ${displayUnit(unit)} says nothing; give the tolerance in K`);
  const holds = (k: number): boolean =>
    "amount" in tolerance
      ? Math.abs(difference[k]!) <= tolerance.amount
      : Math.abs(raw[k]!) <= tolerance.relative * Math.abs(reference[k]!);
  return raw.filter((_, k) => holds(k)).length / raw.length;
}

/** Why a table and its reference have no place in common. */
function apart(y: string, x: ArrayLike<number>, places: ArrayLike<number>): TableError {
  if (x.length === 0 || places.length === 0)
    return new TableError(`against: ${x.length === 0 ? "the table" : "the reference"} has no rows`);
  const ends = (v: ArrayLike<number>): string => `${formatNumber(v[0]!)} to ${formatNumber(v[v.length - 1]!)}`;
  return new TableError(
    `against: no place has both values: "${y}" runs from ${ends(x)}, the reference from ${ends(places)}`,
  );
}

/** Differences in percent of the reference; NaN where that is zero. */
const percentOf = (differences: readonly number[], reference: ArrayLike<number>): number[] =>
  differences.map((d, k) => (reference[k] === 0 ? Number.NaN : (100 * d) / Math.abs(reference[k]!)));

/**
 * Compares a column with a reference at the reference's places, this table between rows by straight lines: difference =
 * column − reference. Bias, rms and shares count each place alike. With `shift: "estimate"` the table is first moved
 * along its axis to where it correlates best.
 *
 * @throws TableError when the two do not overlap, units do not agree, or no place has both values
 * @example against(simulated, measured, { y: "S4", reference: "L4", within: { amount: 0.5 } }).rms
 */
export function against(table: Table, reference: Table, options: AgainstOptions): Agreement {
  const t = risingAlong(table, options.on);
  const x = axisOf(t, options.on);
  const y = numbers(t, options.y);
  const name = options.reference ?? options.y;
  const along = options.on ?? (reference.columns.some((c) => c.name === x.name) ? x.name : undefined);
  const ref = risingAlong(reference, along);
  const rx = axisOf(ref, along);
  const ry = inUnits(numbers(ref, name), y, "column");
  const places = inUnits(rx, x, "axis");
  const { unit: dUnit, factor, ownZero: offset } = stepOf(y.unit);
  const notes: string[] = [];
  const shift = shiftOf({ table, reference, name, x, rx }, options, notes);
  const moved = shift === 0 ? x.values : x.values.map((v) => v + shift);
  const mine = interpolate(moved, y.values, places);
  const kept: number[] = [];
  for (let i = 0; i < places.length; i++) if (mine[i]! === mine[i]! && ry[i]! === ry[i]!) kept.push(i);
  if (kept.length === 0) throw apart(options.y, moved, places);
  const n = kept.length;
  const raw = kept.map((i) => mine[i]! - ry[i]!);
  const difference = raw.map((d) => d * factor);
  const bias = pairwiseSum((k) => difference[k]!, n) / n;
  const rms = Math.sqrt(pairwiseSum((k) => difference[k]! ** 2, n) / n);
  const best = raw.reduce((b, d, k) => (Math.abs(d) > Math.abs(raw[b]!) ? k : b), 0);
  const within = withinOf(options.within, { difference, raw, reference: kept.map((i) => ry[i]!) }, y.unit);
  const outside = places.length - n;
  notes.push(
    `"${options.y}" against "${name}" at ${n} places of the reference, straight lines between rows, each place alike`,
  );
  if (outside > 0) notes.push(`${outside} places of the reference have no partner`);
  const pickOf = (v: Float64Array): Float64Array => Float64Array.from(kept, (i) => v[i]!);
  const [a, b] = [pickOf(mine), pickOf(ry)];
  const side = makeTable(
    [
      numberColumn(x.name, x.unit, pickOf(places)),
      { ...y, values: a },
      numberColumn("reference", y.unit, b),
      numberColumn("difference", dUnit, difference),
      ...(offset ? [] : [numberColumn("percent", "%", percentOf(raw, b))]),
    ],
    { axis: x.name, notes: [...t.notes, ...notes] },
  );
  return {
    side,
    bias,
    rms,
    largest: difference[best]!,
    where: places[kept[best]!]!,
    within,
    count: n,
    outside,
    shift,
    correlation: pearson(a, b),
    unit: y.unit,
    differenceUnit: dUnit,
    axis: { name: x.name, unit: x.unit },
    notes,
  };
}

/** The agreement as a table: one row per number, with its unit; what was done is in the notes. */
export function agreementTable(a: Agreement | undefined): Table {
  const rows: [string, number, string | null][] = a
    ? [
        ["bias", a.bias, a.differenceUnit],
        ["rms", a.rms, a.differenceUnit],
        ["largest", a.largest, a.differenceUnit],
        ["largest at", a.where, a.axis.unit],
        ["within", a.within, "1"],
        ["shift", a.shift, a.axis.unit],
        ["correlation", a.correlation, "1"],
        ["places", a.count, "1"],
      ]
    : [];
  const shown = rows.filter(([, v]) => v === v);
  return makeTable(
    [
      textsOf(shown, "measure", (r) => r[0]),
      numbersOf(shown, "value", null, (r) => r[1]),
      textsOf(shown, "unit", (r) => plainUnit(r[2]) ?? ""),
    ],
    { notes: a ? a.notes : [] },
  );
}
