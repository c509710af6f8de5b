import {
  column,
  makeTable,
  numberColumn,
  numbers,
  numbersOf,
  TableError,
  textsOf,
  type Column,
  type NumberColumn,
  type Table,
} from "../../tables/table.js";
import { distinct, nearly } from "../../tables/nearly.js";
import { stepOf } from "../../tables/units.js";
import { exactNumber } from "../../tables/number-format.js";
import { binOf, edgesOf, moments, type HistogramOptions } from "../moments.js";
import { percentileOfSorted } from "../descriptive.js";

/** What can be said of the values in a group. Names such as `p25` are percentiles (definition 7). */
export const groupStatistics = ["count", "mean", "std", "min", "max", "sum", "median"] as const;
export type GroupStatistic = (typeof groupStatistics)[number];

/** The values present of a column in some rows. */
function presentIn(c: NumberColumn, rows: readonly number[]): Float64Array {
  const out = new Float64Array(rows.length);
  let n = 0;
  for (const i of rows) {
    const v = c.values[i]!;
    if (v === v) out[n++] = v;
  }
  return n === out.length ? out : out.slice(0, n);
}

/** Statistics of values present, in the order asked for. */
function statisticsOf(v: Float64Array, what: readonly GroupStatistic[], unit: string | null): number[] {
  const n = v.length;
  const m = what.some((w) => w === "mean" || w === "std" || w === "sum") ? moments(v, 2) : undefined;
  return what.map((w) => {
    if (w === "count") return n;
    if (n === 0) return Number.NaN;
    if (w === "median") return percentileOfSorted(v.slice().sort(), 50);
    if (w === "min" || w === "max") {
      let best = v[0]!;
      for (const x of v) if (w === "min" ? x < best : x > best) best = x;
      return best;
    }
    if (w === "mean") return m!.mean;
    if (w === "sum") return m!.mean * n;
    return n > 1 ? Math.sqrt((m!.m2 * n) / (n - 1)) * stepOf(unit).factor : Number.NaN;
  });
}

/** One statistic of a column's rows. */
const statistic = (c: NumberColumn, rows: readonly number[], what: GroupStatistic): number =>
  statisticsOf(presentIn(c, rows), [what], c.unit)[0]!;

const unitOf = (c: NumberColumn, what: GroupStatistic): string | null =>
  what === "count" ? "1" : what === "std" ? stepOf(c.unit).unit : c.unit;

/** Columns of statistics of groups of rows. */
function statisticColumns(
  columns: readonly NumberColumn[],
  groups: readonly (readonly number[])[],
  show: readonly GroupStatistic[],
): NumberColumn[] {
  return columns.flatMap((c) => {
    const found = groups.map((g) => statisticsOf(presentIn(c, g), show, c.unit));
    return show.map((what, k) => {
      const label = c.label === undefined ? undefined : `${c.label}, ${what}`;
      return numbersOf(found, `${c.name}.${what}`, unitOf(c, what), (f) => f[k]!, { label });
    });
  });
}

/** The number columns meant: those named, or all but the ones given. */
function measured(table: Table, names: readonly string[] | undefined, but: readonly string[]): NumberColumn[] {
  if (names && names.length > 0) return names.map((n) => numbers(table, n));
  return table.columns.flatMap((c) => (c.kind === "number" && !but.includes(c.name) ? [c] : []));
}

export interface GroupOptions {
  /** The columns to compute; all number columns when not given. */
  readonly columns?: readonly string[] | undefined;
  readonly show?: readonly GroupStatistic[] | undefined;
}

/**
 * A key's values, each by the one that stands for it: those that only the rounding of a conversion keeps apart are one.
 */
function settled(key: Column): ArrayLike<number | string> {
  if (key.kind === "text") return key.values;
  const sorted = Float64Array.from(new Set(key.values)).sort();
  const kept = distinct(sorted);
  if (kept.length === sorted.filter((v) => v === v).length) return key.values;
  const standIn = new Map<number, number>();
  let k = 0;
  for (const v of sorted) {
    while (k + 1 < kept.length && !nearly(kept[k]!, v)) k++;
    standIn.set(v, v === v ? kept[k]! : v);
  }
  return key.values.map((v) => standIn.get(v)!);
}

/** Rows with the same values in the key columns, groups in order of the keys. */
function grouped(keys: readonly Column[], rows: number): number[][] {
  const values = keys.map(settled);
  // The values of each key are numbered, and the numbers joined key by key: no text is made of them.
  let codes = new Uint32Array(rows);
  let count = 1;
  for (const key of values) {
    const seen = new Map<number, number>();
    const numbered = new Map<number | string, number>();
    const next = new Uint32Array(rows);
    for (let i = 0; i < rows; i++) {
      const v = key[i]!;
      let k = numbered.get(v);
      if (k === undefined) numbered.set(v, (k = numbered.size));
      const pair = codes[i]! + count * k;
      let code = seen.get(pair);
      if (code === undefined) seen.set(pair, (code = seen.size));
      next[i] = code;
    }
    codes = next;
    count = Math.max(1, seen.size);
  }
  const groups = Array.from({ length: rows === 0 ? 0 : count }, (): number[] => []);
  for (let i = 0; i < rows; i++) groups[codes[i]!]!.push(i);
  return groups.sort((a, b) => {
    for (const key of values) {
      const [x, y] = [key[a[0]!]!, key[b[0]!]!];
      if (x < y || (y !== y && x === x)) return -1;
      if (x > y || (x !== x && y === y)) return 1;
    }
    return 0;
  });
}

/**
 * A row for each combination of values of the key columns: the keys, `n` (rows in it), and of each other number column
 * what is to be shown: mean, standard deviation (n−1), smallest and largest unless said otherwise. Unweighted, over the
 * values present.
 *
 * @example groupBy(peaks, ["fan"], { columns: ["peak"], show: ["mean", "max"] })
 */
export function groupBy(table: Table, by: readonly string[], options: GroupOptions = {}): Table {
  if (by.length === 0) throw new TableError("groupBy: name a column to group by");
  const keys = by.map((n) => column(table, n));
  const groups = grouped(keys, table.rows);
  const heads = keys.map((k): Column =>
    k.kind === "text"
      ? textsOf(groups, k.name, (g) => k.values[g[0]!]!)
      : { ...k, values: Float64Array.from(groups, (g) => k.values[g[0]!]!) },
  );
  const columns = [
    ...heads,
    numbersOf(groups, "n", "1", (g) => g.length),
    ...statisticColumns(measured(table, options.columns, by), groups, options.show ?? ["mean", "std", "min", "max"]),
  ];
  const axis = keys.length === 1 && keys[0]!.kind === "number" ? keys[0]!.name : undefined;
  return makeTable(columns, {
    axis,
    notes: [...table.notes, `grouped by ${by.join(", ")}; unweighted, deviations with n−1`],
  });
}

/**
 * The rows sorted into bins of a column: `from`, `to`, `n` and of the other number columns what is to be shown. See
 * `histogram` for how bins are chosen. Empty bins stay, with blanks.
 *
 * @example bins(history, "time", { width: 60, show: ["min", "max"] })
 */
export function bins(table: Table, name: string, options: HistogramOptions & GroupOptions = {}): Table {
  const c = numbers(table, name);
  const { edges, rule } = edgesOf(c.values.filter((v) => Number.isFinite(v)).sort(), options);
  const groups: number[][] = Array.from({ length: Math.max(0, edges.length - 1) }, () => []);
  for (let i = 0; i < table.rows; i++) {
    const k = edges.length > 1 ? binOf(edges, c.values[i]!) : -1;
    if (k >= 0) groups[k]!.push(i);
  }
  return makeTable(
    [
      numberColumn("from", c.unit, edges.slice(0, groups.length)),
      numberColumn("to", c.unit, edges.slice(1)),
      numbersOf(groups, "n", "1", (g) => g.length),
      ...statisticColumns(
        measured(table, options.columns, [name]),
        groups,
        options.show ?? ["mean", "std", "min", "max"],
      ),
    ],
    { axis: "from", notes: [...table.notes, `bins of "${name}", ${rule}; unweighted, deviations with n−1`] },
  );
}

export interface PivotOptions {
  /** The columns whose values name the rows. */
  readonly rows: readonly string[];
  /** The column whose values become columns. */
  readonly columns: string;
  readonly values: string;
  /** Of several rows in one place; their mean unless said otherwise. */
  readonly show?: GroupStatistic | undefined;
}

/**
 * A table turned about: one row for each value of the row columns, one column for each value of another (`fan 50`), in
 * each place the statistic of what falls there. A place with no row is blank.
 *
 * @example pivot(peaks, { rows: ["open"], columns: "fan", values: "peak" })
 */
export function pivot(table: Table, options: PivotOptions): Table {
  const across = column(table, options.columns);
  const value = numbers(table, options.values);
  const keys = options.rows.map((n) => column(table, n));
  const groups = grouped(keys, table.rows);
  const byLevel = grouped([across], table.rows);
  const levels = byLevel.map((g) => across.values[g[0]!]!);
  const levelOf = new Uint32Array(table.rows);
  byLevel.forEach((g, level) => g.forEach((i) => (levelOf[i] = level)));
  if (levels.length > 2000)
    throw new TableError(`pivot: "${across.name}" has ${levels.length} values; 2000 columns are the most`);
  const show = options.show ?? "mean";
  const heads = keys.map((k): Column =>
    k.kind === "text"
      ? textsOf(groups, k.name, (g) => k.values[g[0]!]!)
      : { ...k, values: Float64Array.from(groups, (g) => k.values[g[0]!]!) },
  );
  let doubled = 0;
  const cells = levels.map((level, own) => {
    const values = groups.map((g) => {
      const there = g.filter((i) => levelOf[i] === own);
      if (there.length > 1) doubled++;
      return there.length === 0 ? Number.NaN : statistic(value, there, show);
    });
    return numberColumn(
      `${across.name} ${typeof level === "number" ? exactNumber(level) : level}`,
      unitOf(value, show),
      values,
    );
  });
  const axis = keys.length === 1 && keys[0]!.kind === "number" ? keys[0]!.name : undefined;
  const note = doubled > 0 ? `; ${doubled} places hold several rows: their ${show}` : "";
  return makeTable([...heads, ...cells], {
    axis,
    notes: [...table.notes, `"${value.name}" by ${options.rows.join(", ")} and ${across.name}${note}`],
  });
}
