import { parseUnit, sameDimensions, stepOf } from "../tables/units.js";
import { axisOf, numbers, TableError, type NumberColumn, type Table } from "../tables/table.js";
import { direction } from "../tables/order.js";
import { countPresent, distanceOf, RunningSum, sumDistances, sumSteps, type Distances } from "../tables/sums.js";
import { gapsAlong } from "../tables/calculus.js";
import { methodOf, missingRows } from "../tables/gaps.js";
import { missing, type Quantity } from "../tables/quantity.js";

/** How values count: along the table's axis, alike, or by another column. */
export type Weights = "axis" | "none" | { readonly by: string };

/** Names that are axes without more being said. */
const axisName =
  /^(?:time|t|iter(?:ation)?s?|step|angle|theta|phase|mode|freq(?:uency)?|load ?factor|distance|date|x|y|z|r|s)\b/i;

/**
 * Whether values are weighted along a column: it is an axis by its name or by being a time, or it rises or falls
 * strictly.
 */
function weighs(axis: NumberColumn): "by name" | "strictly" | undefined {
  if (axisName.test(axis.name) || (axis.unit !== null && sameDimensions(parseUnit(axis.unit), parseUnit("s"))))
    return "by name";
  const v = axis.values;
  const sign = Math.sign(v[1]! - v[0]!);
  for (let i = 1; i < v.length; i++) if (!(sign * (v[i]! - v[i - 1]!) > 0)) return undefined;
  return "strictly";
}

function extreme(table: Table, name: string, sign: 1 | -1): Quantity {
  const c = numbers(table, name);
  let best = -1;
  const v = c.values;
  for (let i = 0; i < v.length; i++) if (v[i]! === v[i]! && (best < 0 || sign * v[i]! > sign * v[best]!)) best = i;
  if (best < 0) return missing(emptyReason(table, name), c.unit);
  const axis = table.axis === undefined ? undefined : numbers(table, table.axis);
  const at =
    axis === undefined || axis.name === name
      ? {}
      : { at: { name: axis.name, value: axis.values[best]!, unit: axis.unit } };
  return { value: v[best]!, unit: c.unit, ...at, ...overRows(name, v) };
}

/** The method of a reduction over the rows that have a value, and what is missing. */
function overRows(name: string, values: Float64Array, how = ""): Pick<Quantity, "method" | "conditions"> {
  const m = missingRows(name, values);
  return { ...methodOf(how, m.method), ...(m.conditions.length > 0 && { conditions: m.conditions }) };
}

const emptyReason = (table: Table, name: string): string =>
  table.rows === 0 ? "the table has no rows" : `all ${table.rows} values of "${name}" are missing`;

/** The largest value present and where on the axis it happens first. */
export const max = (table: Table, name: string): Quantity => extreme(table, name, 1);

/** The smallest value present and where on the axis it happens first. */
export const min = (table: Table, name: string): Quantity => extreme(table, name, -1);

/** How many values are present. */
export function count(table: Table, name: string): Quantity {
  return { value: countPresent(numbers(table, name).values), unit: "1" };
}

/** The axis to weigh with, and what is to be said of it; undefined without one. */
function weightAxis(table: Table, c: NumberColumn, weights: Weights): { axis?: NumberColumn; note?: string } {
  if (weights !== "axis" || table.axis === undefined || table.axis === c.name || table.rows < 2) return {};
  const axis = axisOf(table);
  const kind = weighs(axis);
  if (kind === undefined)
    return { note: `not weighted along "${axis.name}", which neither rises nor falls all the way` };
  const way = direction(axis.values);
  if (way === "mixed")
    throw new TableError(
      `"${axis.name}" runs back and forth, so it cannot weigh a mean; keep one pass, or ask for { weights: "none" }`,
    );
  if (way === "constant") return {};
  return { axis, ...(kind === "strictly" && { note: "which rises or falls all the way" }) };
}

/**
 * ∫ f dx / ∫ dx over the steps whose both ends are present, by the trapezoidal rule; f is a distance of the values, or
 * its square.
 */
function weighted(v: Float64Array, from: Distances, x: Float64Array): { value: number; gaps: number } {
  const n = x.length - 1;
  let gaps = 0;
  for (let i = 0; i < n; i++)
    if (Number.isNaN((x[i + 1]! - x[i]!) * 0.5 * (distanceOf(v[i]!, from) + distanceOf(v[i + 1]!, from)))) gaps++;
  const span = gaps === 0 ? x[n]! - x[0]! : sumSteps(v, from, x, "lengths", n);
  return { value: sumSteps(v, from, x, "areas", n) / span, gaps };
}

interface Average {
  readonly value: number;
  readonly method: string;
  /** Weighted, so that no degree of freedom is taken off. */
  readonly axis: boolean;
  readonly conditions?: NonNullable<Quantity["conditions"]>;
}

/** Moments of a column: the mean of distances of its values, weighted along the axis or plain. */
function average(table: Table, c: NumberColumn, weights: Weights, from: Distances): Average | undefined {
  const v = c.values;
  if (typeof weights === "object") return averageBy(table, c, weights.by, from);
  const { axis, note } = weightAxis(table, c, weights);
  if (axis !== undefined) {
    const { value, gaps } = weighted(v, from, axis.values);
    if (value !== value) return undefined;
    return {
      value,
      axis: true,
      method:
        `weighted along "${axis.name}"${note === undefined ? "" : `, ${note}`} ` +
        `(trapezoidal)${gaps ? `, ${gaps} of ${v.length - 1} steps without a value` : ""}`,
      ...(gaps > 0 && { conditions: gapsAlong(c.name, axis, v) }),
    };
  }
  const present = countPresent(v);
  if (present === 0) return undefined;
  const sum = sumDistances(v, from);
  const { method, conditions } = overRows(
    c.name,
    v,
    `unweighted over ${present} values${note === undefined ? "" : `, ${note}`}`,
  );
  return { value: sum / present, axis: false, method: method!, ...(conditions && { conditions }) };
}

const described = (m: Average): Pick<Quantity, "method" | "conditions"> => ({
  method: m.method,
  ...(m.conditions && { conditions: m.conditions }),
});

/** The mean of distances weighted by another column. @throws TableError for a negative weight */
function averageBy(table: Table, c: NumberColumn, by: string, from: Distances): Average | undefined {
  const w = numbers(table, by).values;
  const v = c.values;
  const [sum, total] = [new RunningSum(), new RunningSum()];
  let count = 0;
  for (let i = 0; i < v.length; i++) {
    if (v[i] !== v[i] || w[i] !== w[i]) continue;
    if (w[i]! < 0) throw new TableError(`the weight "${by}" is ${w[i]!} in row ${i + 1}: weights are not negative`);
    sum.add(w[i]! * distanceOf(v[i]!, from));
    total.add(w[i]!);
    count++;
  }
  if (!(total.value > 0)) return undefined;
  const left = v.length - count;
  const method = `weighted by "${by}" over ${count} values${left > 0 ? `, ${left} of ${v.length} rows lack a value or a weight` : ""}`;
  return { value: sum.value / total.value, axis: true, method };
}

/** The mean, weighted along the table's axis unless `weights: "none"` is asked for or the table has no axis. */
export function mean(table: Table, name: string, weights: Weights = "axis"): Quantity {
  const c = numbers(table, name);
  const base = reference(c.values);
  const m = average(table, c, weights, { base, off: 0, squared: false });
  return m === undefined
    ? missing(emptyReason(table, name), c.unit)
    : { value: m.value + base, unit: c.unit, ...described(m) };
}

/** A value near the data: differences from it keep the digits that a large offset would cost. */
function reference(values: Float64Array): number {
  for (const x of values) if (x === x && Math.abs(x) !== Infinity) return x;
  return 0;
}

/** The root of the mean square, weighted like {@link mean}. Temperatures count from absolute zero only when in K. */
export function rms(table: Table, name: string, weights: Weights = "axis"): Quantity {
  const c = numbers(table, name);
  const m = average(table, c, weights, { base: 0, off: 0, squared: true });
  return m === undefined
    ? missing(emptyReason(table, name), c.unit)
    : { value: Math.sqrt(m.value), unit: c.unit, ...described(m) };
}

/**
 * The standard deviation, by two passes. Weighted along the axis it is sqrt(∫(y−ȳ)²dx/∫dx); unweighted it has
 * n−1 degrees of freedom, or n for a whole population. Unit: that of a difference (K for °C and °F).
 */
export function std(table: Table, name: string, weights: Weights = "axis", population = false): Quantity {
  const c = numbers(table, name);
  const { unit, factor } = stepOf(c.unit);
  // About the mean as a distance from a value near it: beside a large offset the mean itself is rounded too much.
  const base = reference(c.values);
  const m = average(table, c, weights, { base, off: 0, squared: false });
  if (m === undefined) return missing(emptyReason(table, name), unit);
  const v = average(table, c, weights, { base, off: m.value, squared: true })!;
  if (v.axis) return { value: Math.sqrt(v.value) * factor, unit, ...described(v) };
  const n = countPresent(c.values);
  if (population) return { value: Math.sqrt(v.value) * factor, unit, ...described(v), method: `${v.method}, n` };
  if (n < 2) return missing("a deviation needs two values; there is one", unit);
  return { value: Math.sqrt((v.value * n) / (n - 1)) * factor, unit, ...described(v), method: `${v.method}, n−1` };
}

/**
 * A percentile of the values present, linear between order statistics.
 *
 * Method: definition 7 of R. J. Hyndman & Y. Fan, "Sample quantiles in statistical packages", Am. Stat. 50 (1996)
 * 361–365.
 */
export function percentileOfSorted(sorted: ArrayLike<number>, percent: number): number {
  const n = sorted.length;
  if (n === 0) return Number.NaN;
  const h = ((n - 1) * percent) / 100;
  const low = Math.floor(h);
  const a = sorted[low]!;
  return low + 1 >= n || h === low ? a : a + (h - low) * (sorted[low + 1]! - a);
}

/** A percentile of a column, unweighted; see {@link percentileOfSorted}. @throws TableError outside 0 to 100 */
export function percentile(table: Table, name: string, percent: number): Quantity {
  const c = numbers(table, name);
  if (!(percent >= 0 && percent <= 100)) throw new TableError(`percentile ${percent}: has to lie within 0 and 100`);
  const sorted = c.values.filter((x) => x === x).sort();
  if (sorted.length === 0) return missing(emptyReason(table, name), c.unit);
  return {
    value: percentileOfSorted(sorted, percent),
    unit: c.unit,
    ...overRows(name, c.values, "linear between order statistics (definition 7), unweighted"),
  };
}
