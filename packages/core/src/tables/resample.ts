import { axisOf, makeTable, numbers, TableError, type Column, type NumberColumn, type Table } from "./table.js";
import { nearly } from "./nearly.js";
import { risingAlong } from "./order.js";
import { missing, type Quantity } from "./quantity.js";
import { convertValues, displayUnit } from "./units.js";
import { formatNumber } from "./number-format.js";

export type Pick = "exact" | "nearest" | "linear";

/** The last index whose value is ≤ x in a rising array; -1 when x lies before it. */
export function indexBefore(values: Float64Array, x: number): number {
  let low = 0;
  let high = values.length;
  while (low < high) {
    const mid = (low + high) >>> 1;
    if (values[mid]! <= x) low = mid + 1;
    else high = mid;
  }
  return low - 1;
}

/**
 * Linear interpolation of (x, y) at each of `at`; NaN outside the range and beside missing values. x must rise. A place
 * that only the rounding of a conversion keeps from one of x is there.
 */
export function interpolate(x: Float64Array, y: Float64Array, at: Float64Array): Float64Array {
  const out = new Float64Array(at.length);
  const n = x.length;
  let i = 0;
  for (let k = 0; k < at.length; k++) {
    const t = at[k]!;
    if (!(t >= x[0]! && t <= x[n - 1]!)) {
      out[k] = n > 0 && nearly(t, x[0]!) ? y[0]! : n > 0 && nearly(t, x[n - 1]!) ? y[n - 1]! : Number.NaN;
      continue;
    }
    if (i >= n || x[i]! > t) i = Math.max(0, indexBefore(x, t));
    while (i < n - 1 && x[i + 1]! <= t) i++;
    const x0 = x[i]!;
    if (i === n - 1 || nearly(t, x0)) out[k] = y[i]!;
    else if (nearly(t, x[i + 1]!)) out[k] = y[i + 1]!;
    else out[k] = y[i]! + ((t - x0) / (x[i + 1]! - x0)) * (y[i + 1]! - y[i]!);
  }
  return out;
}

/**
 * The value of a column at a place on the axis.
 *
 * `exact` needs a row there (within 1e-9 of the place's size), `nearest` takes the closest row, `linear` interpolates.
 */
export function valueAt(
  table: Table,
  name: string,
  place: number | "first" | "last",
  pick: Pick = "linear",
  axis?: string,
): Quantity {
  const y = numbers(table, name);
  const given = axisOf(table, axis);
  const unit = y.unit;
  if (table.rows === 0) return missing("the table has no rows", unit);
  if (typeof place === "string") return rowValue(table, name, place);
  const rising = risingAlong(table, given.name);
  const x = numbers(rising, given.name).values;
  const v = numbers(rising, name).values;
  const n = x.length;
  const at = (i: number, value = v[i]!, where = x[i]!): Quantity => {
    const place = { name: given.name, value: where, unit: given.unit };
    return value === value
      ? { value, unit, at: place }
      : { value, unit, at: place, reason: `"${name}" is missing there` };
  };
  const say = (p: number): string => `${formatNumber(p)} ${displayUnit(given.unit)}`.trim();
  const before = indexBefore(x, place);
  const candidates = [before, before + 1].filter((i) => i >= 0 && i < n);
  const near = candidates.reduce(
    (best, i) => (Math.abs(x[i]! - place) < Math.abs(x[best]! - place) ? i : best),
    candidates[0]!,
  );
  if (Math.abs(x[near]! - place) <= 1e-9 * Math.max(Math.abs(place), Math.abs(x[n - 1]! - x[0]!) * 1e-3))
    return at(near);
  if (pick === "exact")
    return missing(`no row at ${given.name} = ${say(place)}; the nearest is ${say(x[near]!)}`, unit);
  if (place < x[0]! || place > x[n - 1]!)
    return missing(
      `${given.name} = ${say(place)} lies outside the table, which runs from ${say(x[0]!)} to ${say(x[n - 1]!)}`,
      unit,
    );
  if (pick === "nearest") return at(near);
  return at(before, interpolate(x, v, Float64Array.of(place))[0]!, place);
}

/** The value of the first or last row as they are listed, with its place on the axis if the table has one. */
export function rowValue(table: Table, name: string, place: "first" | "last"): Quantity {
  const c = numbers(table, name);
  if (table.rows === 0) return missing("the table has no rows", c.unit);
  const row = place === "first" ? 0 : table.rows - 1;
  const axis = table.axis === undefined || table.axis === name ? undefined : numbers(table, table.axis);
  const at = axis && { at: { name: axis.name, value: axis.values[row]!, unit: axis.unit } };
  const value = c.values[row]!;
  if (value === value) return { value, unit: c.unit, ...at };
  return { value, unit: c.unit, ...at, reason: `"${name}" is missing in the ${place} row` };
}

/** Where to put rows: a step, or given places, in the axis's unit. */
export type Spacing =
  | { readonly step: number; readonly from?: number; readonly to?: number }
  | { readonly at: readonly number[] }
  | { readonly count: number };

const MOST_ROWS = 50_000_000;

/** The places a spacing asks for over [low, high]. */
export function placesOf(spacing: Spacing, low: number, high: number): Float64Array {
  if ("at" in spacing) return Float64Array.from(spacing.at).sort();
  if ("count" in spacing) {
    if (!(spacing.count >= 2)) throw new TableError("resample: count has to be 2 or more");
    return Float64Array.from({ length: spacing.count }, (_, i) =>
      i === spacing.count - 1 ? high : low + ((high - low) * i) / (spacing.count - 1),
    );
  }
  const from = spacing.from ?? low;
  const to = spacing.to ?? high;
  if (!(spacing.step > 0)) throw new TableError("resample: the step has to be more than zero");
  const count = Math.floor((to - from) / spacing.step + 1e-9) + 1;
  if (!(count >= 1 && count <= MOST_ROWS))
    throw new TableError(
      `resample: a step of ${spacing.step} over ${from} to ${to} makes ${count} rows (${MOST_ROWS} at most)`,
    );
  return Float64Array.from({ length: count }, (_, i) => from + i * spacing.step);
}

/** The table on other places of its axis, number columns interpolated linearly, text columns left out. */
export function resample(table: Table, spacing: Spacing, axis?: string): Table {
  const sorted = risingAlong(table, axis);
  const x = axisOf(sorted, axis);
  if (table.rows < 1) throw new TableError("resample: the table has no rows");
  const places = placesOf(spacing, x.values[0]!, x.values[x.values.length - 1]!);
  const columns = sorted.columns
    .filter((c): c is NumberColumn => c.kind === "number")
    .map((c) => ({ ...c, values: c.name === x.name ? places : interpolate(x.values, c.values, places) }));
  const dropped = sorted.columns.filter((c) => c.kind === "text").map((c) => c.name);
  const notes = [
    `resampled along "${x.name}" at ${places.length} places, linear between rows`,
    ...(dropped.length ? [`text columns left out: ${dropped.join(", ")}`] : []),
  ];
  return makeTable(columns, { axis: x.name, notes: [...sorted.notes, ...notes] });
}

/** The two tables side by side on the first one's axis; the second is interpolated. Equal names get `suffix`. */
export function join(
  left: Table,
  right: Table,
  options: { on?: string | undefined; suffix?: string | undefined } = {},
): Table {
  const x = axisOf(left, options.on);
  const sorted = risingAlong(right, options.on ?? (right.columns.some((c) => c.name === x.name) ? x.name : undefined));
  const rx = axisOf(sorted, options.on ?? (sorted.columns.some((c) => c.name === x.name) ? x.name : undefined));
  if ((x.unit === null) !== (rx.unit === null))
    throw new TableError(`join on "${x.name}": its unit is known in one table only; say it with .unit()`);
  const places = x.unit === null || rx.unit === null ? rx.values : convertValues(rx.values, rx.unit, x.unit);
  const suffix = options.suffix ?? ".2";
  const taken = new Set(left.columns.map((c) => c.name));
  const added = sorted.columns
    .filter((c): c is NumberColumn => c.kind === "number" && c.name !== rx.name)
    .map((c): Column => ({
      ...c,
      name: taken.has(c.name) ? c.name + suffix : c.name,
      values: interpolate(places, c.values, x.values),
    }));
  return makeTable([...left.columns, ...added], {
    axis: x.name,
    notes: [...left.notes, `joined on "${x.name}", the second table interpolated linearly`, ...sorted.notes],
  });
}
