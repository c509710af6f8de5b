import {
  axisOf,
  numbers,
  TableError,
  withColumns,
  type NumberColumn,
  type Table,
  type UnitSymbol,
} from "../../tables/table.js";
import { risingAlong } from "../../tables/order.js";

/** Steps that differ by more than this share are uneven. */
const EVEN = 1e-6;

/** A column over a rising axis, with the rows that have a value. */
export interface Present {
  readonly table: Table;
  readonly axis: NumberColumn;
  readonly column: NumberColumn;
  /** Rows of the table that have a value, and their places and values. */
  readonly rows: Int32Array;
  readonly x: Float64Array;
  readonly y: Float64Array;
}

/** The values present of a column along its table's axis, which has to run one way. @throws TableError */
export function presentRows(given: Table, name: string): Present {
  const table = risingAlong(given);
  const axis = axisOf(table);
  const column = numbers(table, name);
  let n = 0;
  const rows = new Int32Array(table.rows);
  for (let i = 0; i < table.rows; i++)
    if (column.values[i]! === column.values[i]! && axis.values[i]! === axis.values[i]!) rows[n++] = i;
  const kept = rows.subarray(0, n);
  if (n === table.rows) return { table, axis, column, rows: kept, x: axis.values, y: column.values };
  const pickOf = (v: Float64Array): Float64Array => Float64Array.from(kept, (i) => v[i]!);
  return { table, axis, column, rows: kept, x: pickOf(axis.values), y: pickOf(column.values) };
}

/** Says how many rows had no value, if any. */
export const gapNote = (p: Present, name: string): string[] =>
  p.rows.length === p.table.rows ? [] : [`"${name}": ${p.table.rows - p.rows.length} rows without a value passed over`];

/** The table with a column more, whose values stand in the rows given; the others are missing. */
export function withPresent(
  p: Present,
  name: string,
  unit: UnitSymbol,
  values: Float64Array,
  notes: readonly string[],
): Table {
  const full = p.rows.length === p.table.rows ? values : new Float64Array(p.table.rows).fill(Number.NaN);
  if (full !== values) p.rows.forEach((row, k) => (full[row] = values[k]!));
  const label = p.column.label === undefined ? {} : { label: p.column.label };
  return withColumns(p.table, [...p.table.columns, { kind: "number", name, unit, values: full, ...label }], notes);
}

/** The step of an axis that has even ones. @throws TableError at the first that differs, saying what to do */
export function evenStep(axis: NumberColumn, rows = axis.values.length): number {
  const v = axis.values;
  const step = (v[rows - 1]! - v[0]!) / (rows - 1);
  for (let i = 1; i < rows; i++)
    if (!(Math.abs(v[i]! - v[i - 1]! - step) <= EVEN * Math.abs(step) + 1e-9 * Math.abs(v[i]!)))
      throw new TableError(
        `the steps of "${axis.name}" are uneven at row ${i + 1}: .resample("${axis.name}", { count: ${rows} }) first`,
      );
  if (step === 0) throw new TableError(`"${axis.name}" does not change`);
  return Math.abs(step);
}

/** All values of a column in even steps. @throws TableError for gaps, uneven steps or too few rows */
export function evenRows(
  table: Table,
  name: string,
  what: string,
  least: number,
): { values: Float64Array; step: number; axis: NumberColumn; column: NumberColumn } {
  const axis = axisOf(table);
  const column = numbers(table, name);
  const n = table.rows;
  if (n < least) throw new TableError(`${what} needs at least ${least} rows; there ${n === 1 ? "is" : "are"} ${n}`);
  const bad = column.values.findIndex((v) => !Number.isFinite(v));
  if (bad >= 0)
    throw new TableError(
      `"${name}" is missing in row ${bad + 1}: ${what} needs all values; .window() or .where() them away, then .resample()`,
    );
  return { values: column.values, step: evenStep(axis), axis, column };
}
