import { numbers, TableError, textColumn, withColumns, type NumberColumn, type Table } from "../../tables/table.js";
import { formatNumber } from "../../tables/number-format.js";
import { sortBy } from "../../tables/order.js";
import { percentileOfSorted } from "../descriptive.js";
import { moments } from "../moments.js";

/** Ranks from 1, the mean of the places for equal values; missing values have none. */
export function meanRanks(values: Float64Array): Float64Array {
  const order = Array.from(values.keys())
    .filter((i) => values[i]! === values[i]!)
    .sort((a, b) => values[a]! - values[b]!);
  const out = new Float64Array(values.length).fill(Number.NaN);
  for (let k = 0; k < order.length;) {
    let j = k;
    while (j + 1 < order.length && values[order[j + 1]!] === values[order[k]!]) j++;
    for (let q = k; q <= j; q++) out[order[q]!] = (k + j) / 2 + 1;
    k = j + 1;
  }
  return out;
}

/**
 * The rows in order of a column, with their place in `name.rank`: 1 is the first; equal values share the better place
 * and the next one is left free. Missing values come last, with no place.
 *
 * @example rank(peaks, "peak", "falling")
 */
export function rank(table: Table, name: string, order: "rising" | "falling" = "falling"): Table {
  const sorted = sortBy(table, name, order);
  const c = numbers(sorted, name);
  const places = new Float64Array(c.values.length).fill(Number.NaN);
  c.values.forEach((v, i) => {
    if (v === v) places[i] = i > 0 && c.values[i - 1] === v ? places[i - 1]! : i + 1;
  });
  const place: NumberColumn = { kind: "number", name: `${name}.rank`, unit: "1", values: places };
  return withColumns(
    sorted,
    [place, ...sorted.columns],
    [`ranked by "${name}", ${order === "falling" ? "largest" : "smallest"} first; equal values share a place`],
  );
}

export type OutlierRule = "quartiles" | "median" | "deviation";

const rules: Readonly<Record<OutlierRule, { least: number; limit: number; said: (f: number) => string }>> = {
  quartiles: {
    least: 4,
    limit: 1.5,
    said: (f) => `more than ${f} interquartile ranges beyond the quartiles (Tukey 1977)`,
  },
  median: {
    least: 3,
    limit: 3.5,
    said: (f) =>
      `more than ${f} from the median by the modified z-score 0.6745 (y − median) / MAD (Iglewicz and Hoaglin 1993)`,
  },
  deviation: { least: 3, limit: 3, said: (f) => `more than ${f} standard deviations from the mean` },
};

/**
 * Says which values lie far from the others: adds `name.outlier` with `high`, `low` or nothing. Rules: `quartiles` (1.5
 * interquartile ranges beyond the quartiles; J. Tukey, 1977), `median` (modified z-score above 3.5; B. Iglewicz, D.
 * Hoaglin, 1993), `deviation` (3 standard deviations). `limit` gives another number. No row is taken away.
 *
 * @example outliers(peaks, "peak", { rule: "median" })
 */
export function outliers(
  table: Table,
  name: string,
  o: { rule?: OutlierRule | undefined; limit?: number | undefined } = {},
): Table {
  const c = numbers(table, name);
  const { least, limit: usual, said } = rules[o.rule ?? "quartiles"];
  const limit = o.limit ?? usual;
  const sorted = c.values.filter((v) => v === v).sort();
  if (table.rows > 0 && sorted.length < least)
    throw new TableError(
      `outliers: the rule needs ${least} values of "${name}"; there ${sorted.length === 1 ? "is" : "are"} ${sorted.length}`,
    );
  const [low, high] = bounds(sorted, o.rule ?? "quartiles", limit);
  const found = Array.from(c.values, (v) => (v > high ? "high" : v < low ? "low" : ""));
  const count = found.filter((f) => f !== "").length;
  const note =
    `${count} outlier${count === 1 ? "" : "s"} of "${name}": ${said(limit)}, outside ` +
    `${formatNumber(low)} to ${formatNumber(high)}`;
  return withColumns(table, [...table.columns, textColumn(`${name}.outlier`, found)], table.rows > 0 ? [note] : []);
}

function bounds(sorted: Float64Array, rule: OutlierRule, limit: number): [number, number] {
  if (rule === "quartiles") {
    const [a, b] = [percentileOfSorted(sorted, 25), percentileOfSorted(sorted, 75)];
    return [a - limit * (b - a), b + limit * (b - a)];
  }
  if (rule === "median") {
    const m = percentileOfSorted(sorted, 50);
    const mad = percentileOfSorted(sorted.map((v) => Math.abs(v - m)).sort(), 50);
    return [m - (limit * mad) / 0.6745, m + (limit * mad) / 0.6745];
  }
  const m = moments(sorted);
  const std = Math.sqrt((m.m2 * m.count) / (m.count - 1));
  return [m.mean - limit * std, m.mean + limit * std];
}
