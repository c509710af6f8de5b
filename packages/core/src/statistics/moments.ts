import {
  axisOf,
  makeTable,
  numberColumn,
  numbers,
  numbersOf,
  TableError,
  textsOf,
  type Table,
} from "../tables/table.js";
import { gapsAlong } from "../tables/calculus.js";
import { missing, type Quantity } from "../tables/quantity.js";
import { nearly } from "../tables/nearly.js";
import { parseUnit, plainUnit, powerUnit, stepOf } from "../tables/units.js";
import { risingAlong } from "../tables/order.js";
import { countPresent, pairwiseSum, sumDistances } from "../tables/sums.js";
import { percentileOfSorted } from "./descriptive.js";

/** Mean and central moments of the values present: two passes about a value among them. */
export interface Moments {
  readonly count: number;
  readonly mean: number;
  /** Σ(y−ȳ)ᵏ/n for k = 2, 3, 4. */
  readonly m2: number;
  readonly m3: number;
  readonly m4: number;
}

/** Unweighted moments of the values present, added pairwise; up to the second only when no higher ones are wanted. */
export function moments(values: Float64Array, highest: 2 | 4 = 4): Moments {
  const n = countPresent(values);
  const present = n < values.length ? values.filter((v) => v === v) : values;
  if (n === 0) return { count: 0, mean: Number.NaN, m2: Number.NaN, m3: Number.NaN, m4: Number.NaN };
  const base = present[0]!;
  // The mean is kept as a distance from `base`: beside a large offset it would be rounded by more than the values
  // spread.
  const off = sumDistances(present, { base, off: 0, squared: false }) / n;
  const square = sumDistances(present, { base, off, squared: true }) / n;
  const about = (i: number): number => present[i]! - base - off;
  const power = (k: number): number => (highest < k ? Number.NaN : pairwiseSum((i) => about(i) ** k, n) / n);
  return { count: n, mean: base + off, m2: square, m3: power(3), m4: power(4) };
}

/**
 * How lopsided the values are: the adjusted Fisher–Pearson coefficient G₁ (D. Joanes, C. Gill, The Statistician 47,
 * 1998), 0 for symmetric ones. Unweighted.
 *
 * @example skewness(history, "T")
 */
export function skewness(table: Table, name: string): Quantity {
  const m = moments(numbers(table, name).values);
  if (m.count < 3)
    return missing(`skewness needs three values of "${name}"; there ${m.count === 1 ? "is" : "are"} ${m.count}`, "1");
  if (!(m.m2 > 0)) return missing(`all values of "${name}" are alike`, "1");
  const g = m.m3 / m.m2 ** 1.5;
  return {
    value: (g * Math.sqrt(m.count * (m.count - 1))) / (m.count - 2),
    unit: "1",
    method: "adjusted Fisher–Pearson (G1), unweighted",
  };
}

/**
 * How heavy the tails are: the excess G₂, 0 for a normal distribution (D. Joanes, C. Gill, The Statistician 47, 1998).
 * Unweighted.
 *
 * @example kurtosis(history, "T")
 */
export function kurtosis(table: Table, name: string): Quantity {
  const m = moments(numbers(table, name).values);
  const n = m.count;
  if (n < 4) return missing(`kurtosis needs four values of "${name}"; there ${n === 1 ? "is" : "are"} ${n}`, "1");
  if (!(m.m2 > 0)) return missing(`all values of "${name}" are alike`, "1");
  const g = m.m4 / m.m2 ** 2 - 3;
  return { value: ((n - 1) / ((n - 2) * (n - 3))) * ((n + 1) * g + 6), unit: "1", method: "excess (G2), unweighted" };
}

/**
 * A row per column: how many values, mean, standard deviation (n−1), smallest, quartiles (definition 7), largest,
 * skewness and excess kurtosis; unweighted, in the column's own unit; deviations of °C and °F in K, which a note says.
 *
 * @example describe(rows, ["peak", "back"])
 */
export function describeColumns(table: Table, names: readonly string[]): Table {
  const wanted =
    names.length > 0
      ? names.map((n) => numbers(table, n))
      : table.columns.flatMap((c) => (c.kind === "number" ? [c] : []));
  const rows = wanted.map((c) => {
    const m = moments(c.values);
    const sorted = c.values.filter((v) => v === v).sort();
    const one = { columns: [c], rows: c.values.length, notes: [] };
    const std = m.count > 1 ? Math.sqrt((m.m2 * m.count) / (m.count - 1)) * stepOf(c.unit).factor : Number.NaN;
    return [
      m.count,
      m.mean,
      std,
      sorted[0] ?? Number.NaN,
      percentileOfSorted(sorted, 25),
      percentileOfSorted(sorted, 50),
      percentileOfSorted(sorted, 75),
      sorted[sorted.length - 1] ?? Number.NaN,
      skewness(one, c.name).value,
      kurtosis(one, c.name).value,
    ];
  });
  const heads = ["count", "mean", "std", "min", "p25", "p50", "p75", "max", "skewness", "kurtosis"];
  return makeTable(
    [
      textsOf(wanted, "column", (c) => c.name),
      ...heads.map((h, k) => numbersOf(rows, h, k === 0 || k > 7 ? "1" : null, (r) => r[k]!)),
      textsOf(wanted, "unit", (c) => plainUnit(c.unit) ?? ""),
    ],
    {
      notes: [
        "unweighted; deviation with n−1, percentiles linear between order statistics (definition 7), skewness G1, excess kurtosis G2",
        ...(wanted.some((c) => stepOf(c.unit).ownZero) ? ["deviations of temperatures in K"] : []),
      ],
    },
  );
}

export interface HistogramOptions {
  readonly count?: number | undefined;
  readonly width?: number | undefined;
  readonly edges?: readonly number[] | undefined;
}

/**
 * How often values lie where: `from`, `to`, the column (middle of the bin), `count`, `share` and `density` (share over
 * width). A value on an edge counts above it, on the last edge below. Without a choice the width is that of D. Freedman
 * and P. Diaconis (Z. Wahrscheinlichkeitstheorie 57, 1981): 2 · interquartile range / ∛n.
 *
 * @throws TableError for edges that do not rise, or more than 100 000 bins
 * @example histogram(history, "T", { count: 20 })
 */
export function histogram(table: Table, name: string, options: HistogramOptions = {}): Table {
  const c = numbers(table, name);
  const sorted = c.values.filter((v) => Number.isFinite(v)).sort();
  const { edges, rule } = edgesOf(sorted, options);
  const bins = Math.max(0, edges.length - 1);
  const counts = new Float64Array(bins);
  let outside = 0;
  for (const v of sorted) {
    const k = binOf(edges, v);
    if (k < 0) outside++;
    else counts[k]!++;
  }
  const n = sorted.length;
  const step = stepOf(c.unit);
  const inverse = step.unit === null ? null : step.unit === "1" ? "1" : powerUnit(parseUnit(step.unit), -1).symbol;
  const notes = [
    `${n} values in ${bins} bins, ` +
      `${rule}${outside > 0 ? `; ${outside} lie outside` : ""}${n < c.values.length ? `; ${c.values.length - n} are missing` : ""}`,
  ];
  return makeTable(
    [
      numberColumn("from", c.unit, edges.slice(0, bins)),
      numberColumn("to", c.unit, edges.slice(1)),
      numberColumn(
        name,
        c.unit,
        Float64Array.from({ length: bins }, (_, k) => (edges[k]! + edges[k + 1]!) / 2),
        { label: c.label },
      ),
      numberColumn("count", "1", counts),
      numbersOf(counts, "fraction", "1", (v) => v / n),
      numberColumn(
        "density",
        inverse,
        counts.map((v, k) => v / n / ((edges[k + 1]! - edges[k]!) * step.factor)),
      ),
    ],
    { axis: name, notes: [...table.notes, ...notes] },
  );
}

/**
 * The bin of a value: edges count to the bin above, the last one to the last bin; −1 outside. A value that only the
 * rounding of a conversion keeps from an edge is on it.
 */
export function binOf(edges: ArrayLike<number>, v: number): number {
  const last = edges.length - 1;
  if (v < edges[0]!) return nearly(v, edges[0]!) ? 0 : -1;
  if (!(v <= edges[last]!)) return nearly(v, edges[last]!) ? last - 1 : -1;
  let [low, high] = [0, last];
  while (low + 1 < high) {
    const mid = (low + high) >>> 1;
    if (edges[mid]! <= v) low = mid;
    else high = mid;
  }
  return low + 1 < last && nearly(v, edges[low + 1]!) ? low + 1 : low;
}

/** Edges of bins over sorted values by count, width or as given, and the rule in words. */
export function edgesOf(sorted: Float64Array, o: HistogramOptions): { edges: number[]; rule: string } {
  if (o.edges) {
    if (o.edges.length < 2 || o.edges.some((e, i) => i > 0 && !(e > o.edges![i - 1]!)))
      throw new TableError("bins: the edges have to rise, two or more of them");
    return { edges: [...o.edges], rule: "edges given" };
  }
  if (sorted.length === 0) return { edges: [], rule: "no values" };
  const [low, high] = [sorted[0]!, sorted[sorted.length - 1]!];
  if (o.width !== undefined) {
    if (!(o.width > 0)) throw new TableError(`bins: the width has to be more than zero, not ${o.width}`);
    const first = Math.floor(low / o.width + 1e-9);
    const count = Math.max(1, Math.ceil(high / o.width - 1e-9) - first);
    limit(count);
    return { edges: Array.from({ length: count + 1 }, (_, k) => (first + k) * o.width!), rule: `of width ${o.width}` };
  }
  let count = o.count;
  let rule = `${count ?? 0} of equal width`;
  if (count === undefined) {
    const spread = percentileOfSorted(sorted, 75) - percentileOfSorted(sorted, 25);
    const width = (2 * spread) / Math.cbrt(sorted.length);
    count = high > low && width > 0 ? Math.min(500, Math.max(1, Math.ceil((high - low) / width))) : 1;
    rule = "width by Freedman and Diaconis";
  }
  if (!(Number.isInteger(count) && count >= 1))
    throw new TableError(`bins: a count of ${count} has to be a whole number, 1 or more`);
  limit(count);
  const [a, b] = high > low ? [low, high] : [low - 0.5, low + 0.5];
  return { edges: Array.from({ length: count + 1 }, (_, k) => (k === count ? b : a + ((b - a) * k) / count)), rule };
}

function limit(count: number): void {
  if (!(count <= 100_000)) throw new TableError(`bins: ${count} bins are too many (100 000 at most)`);
}

/**
 * For how much of the axis a column lies above a level (`above`) or below it: straight lines between rows, so the
 * passages count exactly. Steps with a missing end do not count; the method says how many.
 *
 * @example exceedance(history, "T", 278, "above")
 */
export function exceedance(table: Table, name: string, level: number, way: "above" | "below"): Quantity {
  const t = risingAlong(table);
  const axis = axisOf(t);
  const v = numbers(t, name).values;
  if (t.rows < 2)
    return missing(`time ${way} a level needs two rows; there ${t.rows === 1 ? "is one" : "are none"}`, axis.unit);
  const sign = way === "above" ? 1 : -1;
  let gaps = 0;
  const value = pairwiseSum((i) => {
    const [a, b] = [sign * (v[i]! - level), sign * (v[i + 1]! - level)];
    const h = axis.values[i + 1]! - axis.values[i]!;
    if (a + b !== a + b) {
      gaps++;
      return 0;
    }
    if (a <= 0 && b <= 0) return 0;
    return a >= 0 && b >= 0 ? h : (h * Math.max(a, b)) / Math.abs(a - b);
  }, t.rows - 1);
  if (gaps === t.rows - 1) return missing(`no step of "${name}" has a value at both ends`, axis.unit);
  return {
    value,
    unit: axis.unit,
    ...(gaps > 0 && { conditions: gapsAlong(name, axis, v) }),
    method: `straight lines between rows${gaps ? `, ${gaps} of ${t.rows - 1} steps without a value` : ""}`,
  };
}

/** Adds `name.running`: the largest (or smallest) value so far. @example running(history, "T", "max") */
export function running(table: Table, name: string, what: "max" | "min"): Table {
  const t = table.axis === undefined ? table : risingAlong(table);
  const c = numbers(t, name);
  const values = new Float64Array(t.rows);
  let best = Number.NaN;
  for (let i = 0; i < t.rows; i++) {
    const v = c.values[i]!;
    if (v === v && !(what === "max" ? v <= best : v >= best)) best = v;
    values[i] = best;
  }
  return {
    ...t,
    columns: [...t.columns, { ...c, name: `${name}.running`, values }],
    notes: [...t.notes, `"${name}.running": the ${what === "max" ? "largest" : "smallest"} so far`],
  };
}
