import { glob } from "./glob.js";
import {
  column,
  makeTable,
  numbers,
  TableError,
  withColumns,
  type Column,
  type Table,
  type UnitSymbol,
} from "./table.js";
import { convertedUnit, convertValues, displayUnit, parseUnit } from "./units.js";

/** Only the named columns, in the order given; the axis stays with them. @throws NoSuchColumn */
export function pick(table: Table, names: readonly string[]): Table {
  const wanted = table.axis !== undefined && !names.includes(table.axis) ? [table.axis, ...names] : names;
  return withColumns(
    table,
    wanted.map((n) => column(table, n)),
  );
}

/** All columns but the named ones. @throws NoSuchColumn */
export function drop(table: Table, names: readonly string[]): Table {
  names.forEach((n) => column(table, n));
  return withColumns(
    table,
    table.columns.filter((c) => !names.includes(c.name)),
  );
}

/** Other names for columns, old to new. @throws NoSuchColumn, TableError when a new name is taken */
export function rename(table: Table, names: Readonly<Record<string, string>>): Table {
  Object.keys(names).forEach((n) => column(table, n));
  const columns = table.columns.map((c) => (Object.hasOwn(names, c.name) ? { ...c, name: names[c.name]! } : c));
  const axis = table.axis !== undefined && Object.hasOwn(names, table.axis) ? names[table.axis] : table.axis;
  return makeTable(columns, { axis, notes: table.notes });
}

/** The axis along which look-ups, weights and integrals run from now on. @throws NoSuchColumn */
export function along(table: Table, axis: string): Table {
  numbers(table, axis);
  return { ...table, axis };
}

/** Which columns to name: a pattern, a unit or both. */
export interface ColumnQuery {
  /** Shell-style pattern: `cells_*`, `{T,p}_*`. */
  readonly match?: string;
  /** Columns whose unit has this unit's dimensions. */
  readonly unit?: string;
}

/** The names of the number columns that fit, without the axis. @example findColumns(t, { match: "cells_*" }) */
export function findColumns(
  heads: readonly { name: string; kind: string; unit?: UnitSymbol }[],
  axis: string | undefined,
  query: ColumnQuery,
): string[] {
  const fits = query.match === undefined ? () => true : glob(query.match);
  const dims = query.unit === undefined ? undefined : parseUnit(query.unit).dims.join();
  return heads
    .filter((c) => c.kind === "number" && c.name !== axis && fits(c.name))
    .filter(
      (c) => dims === undefined || (c.unit !== null && c.unit !== undefined && parseUnit(c.unit).dims.join() === dims),
    )
    .map((c) => c.name);
}

/** Says what a column's unit is, where the file does not or says it wrongly; the numbers stay. */
export function declareUnit(table: Table, name: string, unit: string): Table {
  numbers(table, name);
  const symbol = parseUnit(unit).symbol;
  return withColumns(
    table,
    table.columns.map((c) => (c.name === name && c.kind === "number" ? { ...c, unit: symbol } : c)),
  );
}

/** @throws TableError naming the column, what it is and what may be done */
function converted(name: string, values: Float64Array, from: string, to: string): Float64Array {
  try {
    return convertValues(values, from, to);
  } catch (e) {
    throw new TableError(
      `column "${name}": ${(e as Error).message}; ask for a unit of the same kind, or choose another column`,
    );
  }
}

/** Converts columns to another unit. @throws UnitError when a unit is unknown or does not agree */
export function convertColumns(table: Table, names: readonly string[], unit: string): Table {
  const target = parseUnit(unit);
  names.forEach((n) => numbers(table, n));
  const columns = table.columns.map((c): Column => {
    if (!names.includes(c.name) || c.kind !== "number") return c;
    if (c.unit === null)
      throw new TableError(
        `the unit of "${c.name}" is unknown, so it cannot be converted to ${displayUnit(target.symbol)}; ` +
          `say it first with .unit("${c.name}", "…")`,
      );
    const symbol = convertedUnit(parseUnit(c.unit), target);
    return { ...c, unit: symbol, values: converted(c.name, c.values, c.unit, unit) };
  });
  return withColumns(table, columns);
}
