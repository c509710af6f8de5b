import { distinct, nearly } from "../tables/nearly.js";
import {
  axisOf,
  makeTable,
  numberColumn,
  numbers,
  TableError,
  textColumn,
  type Column,
  type NumberColumn,
  type Table,
} from "../tables/table.js";
import { risingAlong } from "../tables/order.js";
import { interpolate, placesOf } from "../tables/resample.js";
import { convertValues, stepOf } from "../tables/units.js";
import { sumDistances } from "../tables/sums.js";
import { percentileOfSorted } from "./descriptive.js";
import { studentQuantile } from "./fits/student.js";

/** How the common axis is chosen: every place any run has, only where all runs are, or a given step. */
export type CommonAxis = "union" | "intersection" | { readonly step: number };

export interface AcrossOptions {
  readonly on?: string | undefined;
  /** Columns to compute; all number columns that every run has when not given. */
  readonly columns?: readonly string[] | undefined;
  readonly axis?: CommonAxis | undefined;
  readonly percentiles?: readonly number[] | undefined;
  /** Adds `.lower` and `.upper`, the ends of the mean's confidence interval (Student's t). */
  readonly confidence?: number | undefined;
  /** Names of the tables' runs: adds `.minRun` and `.maxRun`, the run that governs at each place. */
  readonly governing?: readonly string[] | undefined;
}

/** The statistics a band holds for each column, as suffixes of its name. */
export const bandStatistics = ["mean", "std", "min", "max", "n"] as const;

/** Whether two axes are one. */
export const sameValues = (a: Float64Array, b: Float64Array): boolean => {
  if (a === b) return true;
  if (a.length !== b.length) return false;
  for (let i = 0; i < a.length; i++) if (a[i] !== b[i]) return false;
  return true;
};

/** A table rising along the common axis, with that in the first one's unit. */
export interface Member {
  readonly axis: Float64Array;
  readonly table: Table;
}

/** Each run's table, rising along the axis and in the first run's axis unit. */
export function membersOf(tables: readonly Table[], on: string | undefined): { members: Member[]; axis: NumberColumn } {
  const first = axisOf(tables[0]!, on);
  const list = tables.map((t): Member => {
    const sorted = risingAlong(t, first.name);
    const x = numbers(sorted, first.name);
    if (x.unit === first.unit) return { axis: x.values, table: sorted };
    if (x.unit === null || first.unit === null)
      throw new TableError(`the unit of "${first.name}" is known in some runs only; say it with .unit()`);
    return { axis: convertValues(x.values, x.unit, first.unit), table: sorted };
  });
  const units = new Set(tables.map((t) => numbers(t, first.name).unit));
  return { members: units.size > 1 ? together(list) : list, axis: first };
}

/**
 * Axes of which some were converted: places that only rounding keeps apart become one, so that no run misses its own
 * ends.
 */
function together(list: readonly Member[]): Member[] {
  const all = new Float64Array(list.reduce((n, m) => n + m.axis.length, 0));
  let at = 0;
  for (const m of list) {
    all.set(m.axis, at);
    at += m.axis.length;
  }
  const places = distinct(all.sort());
  return list.map((m) => {
    let k = 0;
    const axis = m.axis.map((v) => {
      while (k < places.length - 1 && places[k]! < v && !nearly(places[k]!, v)) k++;
      return nearly(places[k]!, v) ? places[k]! : v;
    });
    return { ...m, axis };
  });
}

/** The places of the common axis by a rule, and how they were chosen. */
export function commonPlaces(list: readonly Member[], rule: CommonAxis): { places: Float64Array; note: string } {
  const first = list[0]!.axis;
  if (typeof rule === "string" && list.every((m) => sameValues(m.axis, first)))
    return { places: first, note: "all runs share the axis" };
  const filled = list.filter((m) => m.axis.length > 0);
  if (filled.length === 0) throw new TableError("no run has a row");
  const low = Math.max(...filled.map((m) => m.axis[0]!));
  const high = Math.min(...filled.map((m) => m.axis[m.axis.length - 1]!));
  if (rule !== "union" && low > high)
    throw new TableError(
      `the runs' axes do not overlap: one begins at ${low}, another ends at ${high}; ask for { axis: "union" }`,
    );
  if (typeof rule === "object")
    return {
      places: placesOf({ step: rule.step }, low, high),
      note: `common axis: a step of ${rule.step} where all runs are, linear between rows`,
    };
  const all: number[] = [];
  for (const x of filled.map((m) => m.axis))
    for (const v of x) if (rule === "union" || (v >= low && v <= high)) all.push(v);
  const sorted = Float64Array.from(all).sort();
  let n = 0;
  for (const v of sorted) if (n === 0 || v !== sorted[n - 1]) sorted[n++] = v;
  return {
    places: sorted.slice(0, n),
    note: `common axis: ${rule} of the runs' own (${n} places), linear between rows`,
  };
}

/**
 * Statistics across runs on a common axis: for each column `name.mean`, `.std` (n−1), `.min`, `.max`, `.n` and the
 * percentiles asked for (`name.p5`; definition 7). A place that a run does not reach lacks that run; `.n` says how
 * many there are.
 *
 * @throws TableError when there is no run, a column is absent or units do not agree.
 */
export function across(tables: readonly Table[], options: AcrossOptions = {}): Table {
  if (tables.length === 0) throw new TableError("statistics across runs need at least one run");
  const { members: list, axis } = membersOf(tables, options.on);
  const { places, note } = commonPlaces(list, options.axis ?? "union");
  const names = options.columns ?? commonColumns(tables, axis.name);
  const columns: Column[] = [numberColumn(axis.name, axis.unit, places)];
  for (const name of names) columns.push(...bandColumns(list, name, places, options));
  const ci =
    options.confidence === undefined
      ? ""
      : `, ${100 * options.confidence} % intervals of the mean (Student's t; runs taken for independent)`;
  const pct = options.percentiles?.length ? `, percentiles linear between order statistics (definition 7)` : "";
  return makeTable(columns, {
    axis: axis.name,
    notes: [
      `across ${tables.length} runs; ${note}; deviations with n−1${pct}${ci}`,
      ...alone(tables.length),
      ...thin(columns, tables.length),
    ],
  });
}

/** Where not all runs have a value, a mean can jump although no run does: it is said how often. */
function thin(columns: readonly Column[], runs: number): string[] {
  const alike = new Map<string, string[]>();
  for (const c of columns) {
    if (c.kind !== "number" || !c.name.endsWith(".n")) continue;
    const fewer = c.values.reduce((n, v) => n + (v < runs ? 1 : 0), 0);
    if (fewer === 0) continue;
    const least = c.values.reduce((m, v) => Math.min(m, v), runs);
    const where = `fewer than ${runs} runs at ${fewer} of ${c.values.length} places, ${least} at least`;
    alike.set(where, [...(alike.get(where) ?? []), `"${c.name.slice(0, -2)}"`]);
  }
  return [...alike].map(
    ([where, of]) =>
      `${of.slice(0, 8).join(", ")}${of.length > 8 ? ` and ${of.length - 8} more` : ""}: ${where}; a ` +
      `mean can jump there, and { axis: "intersection" } keeps to where all runs are`,
  );
}

const alone = (runs: number): string[] => (runs === 1 ? ["one run alone: there is no deviation and no interval"] : []);

/** The number columns that all tables have, in the first one's order, without the axis. */
export function commonColumns(tables: readonly Table[], axis: string): string[] {
  return tables[0]!.columns
    .filter((c) => c.kind === "number" && c.name !== axis && c.name !== "pass")
    .map((c) => c.name)
    .filter((n) => tables.every((t) => t.columns.some((c) => c.name === n && c.kind === "number")));
}

/** The values of all members at the places, in the first one's unit. */
function valuesAt(list: readonly Member[], name: string, places: Float64Array): ArrayLike<number>[] {
  const model = numbers(list[0]!.table, name);
  return list.map(({ axis, table }) => {
    const c = numbers(table, name);
    if ((c.unit === null) !== (model.unit === null))
      throw new TableError(`the unit of "${name}" is known in some runs only; say it with .unit()`);
    const v = c.unit === null ? c.values : convertValues(c.values, c.unit, model.unit!);
    return axis === places || sameValues(axis, places) ? v : interpolate(axis, v, places);
  });
}

/** Quantiles of Student's distribution for an interval, by degrees of freedom, each computed once. */
function studentOf(confidence: number): (freedom: number) => number {
  const known = new Map<number, number>();
  return (freedom) => {
    let t = known.get(freedom);
    if (t === undefined) known.set(freedom, (t = studentQuantile(0.5 + confidence / 2, freedom)));
    return t;
  };
}

function bandColumns(
  list: readonly Member[],
  name: string,
  places: Float64Array,
  { percentiles = [], confidence, governing }: AcrossOptions,
): Column[] {
  const { unit, label } = numbers(list[0]!.table, name);
  const runs = valuesAt(list, name, places);
  const n = places.length;
  const make = (): Float64Array => new Float64Array(n).fill(Number.NaN);
  const [mean, std, low, high] = [make(), make(), make(), make()];
  const counts = new Float64Array(n);
  const pct = percentiles.map(make);
  const scratch = new Float64Array(runs.length);
  const half = confidence === undefined ? undefined : { values: make(), t: studentOf(confidence) };
  const who = governing && [Array<string>(n).fill(""), Array<string>(n).fill("")];
  const step = stepOf(unit);
  for (let i = 0; i < n; i++) {
    const present = presentAt(runs, i, scratch);
    const k = (counts[i] = present.length);
    if (k === 0) continue;
    const base = present[0]!;
    const off = sumDistances(present, { base, off: 0, squared: false }) / k;
    mean[i] = base + off;
    if (k > 1) std[i] = Math.sqrt(sumDistances(present, { base, off, squared: true }) / (k - 1)) * step.factor;
    const least = (low[i] = extreme(present, 1));
    const most = (high[i] = extreme(present, -1));
    if (half && k > 1) half.values[i] = (half.t(k - 1) * std[i]!) / step.factor / Math.sqrt(k);
    if (who) {
      who[0]![i] = governing[runs.findIndex((r) => r[i] === least)]!;
      who[1]![i] = governing[runs.findIndex((r) => r[i] === most)]!;
    }
    if (pct.length > 0) {
      present.sort();
      percentiles.forEach((p, q) => (pct[q]![i] = percentileOfSorted(present, p)));
    }
  }
  const col = (suffix: string, u: string | null, values: Float64Array): NumberColumn =>
    numberColumn(`${name}.${suffix}`, u, values, { label: label === undefined ? undefined : `${label}, ${suffix}` });
  const bound = (suffix: string, sign: number): NumberColumn[] => {
    if (!half) return [];
    const values = mean.map((m, i) => m + sign * half.values[i]!);
    return [col(suffix, unit, values)];
  };
  return [
    col("mean", unit, mean),
    col("std", step.unit, std),
    col("min", unit, low),
    col("max", unit, high),
    col("n", "1", counts),
    ...percentiles.map((p, q) => col(`p${p}`, unit, pct[q]!)),
    ...bound("lower", -1),
    ...bound("upper", 1),
    ...(who ? [textColumn(`${name}.minRun`, who[0]!), textColumn(`${name}.maxRun`, who[1]!)] : []),
  ];
}

/** The values that are there in a row of all runs, in scratch. */
function presentAt(runs: readonly ArrayLike<number>[], row: number, scratch: Float64Array): Float64Array {
  let k = 0;
  for (const r of runs) {
    const x = r[row]!;
    if (x === x) scratch[k++] = x;
  }
  return scratch.subarray(0, k);
}

/** The least value, or with sign −1 the largest one. */
function extreme(values: Float64Array, sign: 1 | -1): number {
  let found = values[0]!;
  for (let j = 1; j < values.length; j++) if (sign * values[j]! < sign * found) found = values[j]!;
  return found;
}
