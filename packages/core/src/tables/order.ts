import { mergeConditions, type Condition } from "./condition.js";
import { nearly } from "./nearly.js";
import {
  axisOf,
  column,
  makeTable,
  numbers,
  sliceRows,
  TableError,
  takeRows,
  type Column,
  type Table,
} from "./table.js";
import { convertValues, displayUnit } from "./units.js";
import { exactNumber, formatNumber } from "./number-format.js";

/** The direction in which a column runs; missing values are passed over. */
export function direction(values: Float64Array): "rising" | "falling" | "constant" | "mixed" {
  let up = false;
  let down = false;
  let last = Number.NaN;
  for (let i = 0; i < values.length; i++) {
    const x = values[i]!;
    if (x > last) up = true;
    else if (x < last) down = true;
    if (x === x) last = x;
    if (up && down) return "mixed";
  }
  return up ? "rising" : down ? "falling" : "constant";
}

/** The rows in order of a column, smallest first; equal values keep their order, missing ones come last. */
export function sortBy(table: Table, name: string, order: "rising" | "falling" = "rising"): Table {
  const c = column(table, name);
  const sign = order === "rising" ? 1 : -1;
  const indices = Array.from({ length: table.rows }, (_, i) => i);
  if (c.kind === "number") {
    const v = c.values;
    indices.sort((a, b) => {
      const x = v[a]!;
      const y = v[b]!;
      if (x !== x || y !== y) return x === x ? -1 : y === y ? 1 : a - b;
      return sign * (x - y) || a - b;
    });
  } else {
    const v = c.values;
    indices.sort((a, b) => (v[a]! < v[b]! ? -sign : v[a]! > v[b]! ? sign : a - b));
  }
  return takeRows(table, indices);
}

/** The rows where `keep` is 1; how many fell away is noted. */
export function filterRows(table: Table, keep: Float64Array, what: string): Table {
  const indices: number[] = [];
  let undecided = 0;
  for (let i = 0; i < keep.length; i++) {
    if (keep[i] === 1) indices.push(i);
    else if (keep[i] !== 0) undecided++;
  }
  const notes = undecided > 0 ? [`where ${what}: ${undecided} rows left out because a value is missing`] : [];
  return takeRows(table, indices, notes);
}

export interface WindowOptions {
  /** `need`: a table that does not reach the ends is an error; `warn` (default): it is noted. */
  readonly cover?: "warn" | "need";
}

/**
 * The rows whose axis value lies within [from, to], ends included. Bare numbers are in the axis's unit.
 *
 * @throws TableError with `cover: "need"` when the table does not reach both ends; always when no row is left.
 */
export function windowRows(
  table: Table,
  axis: string,
  range: readonly [number, number],
  options: WindowOptions = {},
): Table {
  const c = numbers(table, axis);
  const [from, to] = range;
  if (!(from <= to)) throw new TableError(`window on "${axis}" from ${from} to ${to}: the start lies behind the end`);
  const v = c.values;
  const unit = c.unit === null ? "" : displayUnit(c.unit);
  const say = (x: number): string => `${formatNumber(x)}${unit ? " " + unit : ""}`;
  let low = Infinity;
  let high = -Infinity;
  let contiguous = true;
  let first = -1;
  let last = -1;
  const indices: number[] = [];
  for (let i = 0; i < v.length; i++) {
    const x = v[i]!;
    if (x < low) low = x;
    if (x > high) high = x;
    if ((x >= from || nearly(x, from)) && (x <= to || nearly(x, to))) {
      if (first < 0) first = i;
      else if (last !== i - 1) contiguous = false;
      last = i;
      indices.push(i);
    }
  }
  if (indices.length === 0)
    throw new TableError(
      v.length === 0
        ? `window on "${axis}": the table has no rows`
        : `window on "${axis}" from ${say(from)} to ${say(to)} holds no row; ` +
            (low <= high ? `the table runs from ${say(low)} to ${say(high)}` : "all of its values are missing"),
    );
  const notes: string[] = [];
  const slack = 1e-9 * Math.max(Math.abs(from), Math.abs(to));
  if (high < to - slack || low > from + slack) {
    const short =
      high < to - slack
        ? `stops at ${say(high)}, the script needs ${say(from)} to ${say(to)}`
        : `begins at ${say(low)}, the script needs ${say(from)} to ${say(to)}`;
    if (options.cover === "need") throw new TableError(`"${axis}" ${short}`);
    notes.push(`window: "${axis}" ${short}`);
  }
  const rows = contiguous ? sliceRows(table, first, last + 1, notes) : takeRows(table, indices, notes);
  if (notes.length === 0) return rows;
  const coverage = notes.map((text): Condition => ({ kind: "coverage", file: "", text }));
  return { ...rows, conditions: mergeConditions(table.conditions, coverage) };
}

/** Tables one below the other; columns by name, units converted to the first table's, absent ones missing. */
export function concat(tables: readonly Table[]): Table {
  if (tables.length === 0) throw new TableError("nothing to put together: no tables");
  const first = tables[0]!;
  if (tables.length === 1) return first;
  const names: string[] = [];
  for (const t of tables) for (const c of t.columns) if (!names.includes(c.name)) names.push(c.name);
  const rows = tables.reduce((n, t) => n + t.rows, 0);
  const columns = names.map((name): Column => {
    const model = tables.map((t) => t.columns.find((c) => c.name === name)).find((c) => c !== undefined)!;
    if (model.kind === "text") {
      const values = tables.flatMap((t) => {
        const c = t.columns.find((x) => x.name === name);
        return c === undefined
          ? Array<string>(t.rows).fill("")
          : c.kind === "text"
            ? c.values
            : Array.from(c.values, exactNumber);
      });
      return { ...model, values };
    }
    const values = new Float64Array(rows).fill(Number.NaN);
    let at = 0;
    for (const t of tables) {
      const c = t.columns.find((x) => x.name === name);
      if (c !== undefined) {
        if (c.kind !== "number")
          throw new TableError(`column "${name}" holds numbers in one table and text in another`);
        if (c.unit === model.unit) values.set(c.values, at);
        else if (c.unit === null || model.unit === null)
          throw new TableError(`column "${name}" has a unit in one table and none in another; say it with .unit()`);
        else values.set(convertValues(c.values, c.unit, model.unit), at);
      }
      at += t.rows;
    }
    return { ...model, values };
  });
  return { ...makeTable(columns, { axis: first.axis, notes: [...new Set(tables.flatMap((t) => t.notes))] }), rows };
}

/** Whether the reader found several passes along the axis. */
function hasPasses(table: Table): boolean {
  const pass = table.columns.find((c) => c.name === "pass");
  return pass?.kind === "number" && pass.values.some((v) => v !== pass.values[0]);
}

/**
 * The table with its axis rising: reversed when it falls, sorted (which is noted) when rows are listed in any order.
 *
 * @throws TableError when the axis holds several passes: sorted, they would be mixed row by row
 */
export function risingAlong(table: Table, axis?: string): Table {
  const c = axisOf(table, axis);
  const way = direction(c.values);
  if (way === "rising" || way === "constant") return table;
  if (way === "falling")
    return takeRows(
      table,
      Array.from({ length: table.rows }, (_, i) => table.rows - 1 - i),
    );
  const sorted = sortBy(table, c.name);
  const x = numbers(sorted, c.name).values;
  if (hasPasses(table) || x.some((v, i) => i > 0 && v === x[i - 1]))
    throw new TableError(
      `"${c.name}" runs back and forth: it has several rows for one value or several passes; keep one ` +
        `pass, with .where({ pass: 2 }), or read the file with { restart: "keep-later" }`,
    );
  return { ...sorted, notes: [...sorted.notes, `rows sorted by "${c.name}", which runs back and forth`] };
}
