import {
  numbers,
  TableError,
  textColumn,
  withColumns,
  type Column,
  type NumberColumn,
  type Table,
} from "../../tables/table.js";
import { convertValues, stepOf } from "../../tables/units.js";
import { pairwiseSum } from "../../tables/sums.js";

/** A column's values in the unit of another one. */
function valuesLike(first: NumberColumn, c: NumberColumn): Float64Array {
  if (c.unit === first.unit) return c.values;
  if (c.unit === null || first.unit === null)
    throw new TableError(
      `balance: the unit of "${c.unit === null ? c.name : first.name}" is unknown; say it with .unit()`,
    );
  return convertValues(c.values, c.unit, first.unit);
}

/**
 * How alike many columns of one kind are, row by row (the cells of each worker, the flow of each coil): adds `mean`,
 * `min`, `max`, `spread` (max − min), `imbalance` (max / mean − 1), `maxColumn` and `minColumn` (the columns that have
 * them). Missing values are passed over; a row with none is blank. Also the envelope of several
 * columns.
 *
 * @throws TableError for fewer than two columns, or units that do not agree
 * @example balance(load, ["cells_0", "cells_1", "cells_2"])
 */
export function balance(table: Table, names: readonly string[], as = ""): Table {
  if (names.length < 2)
    throw new TableError(
      `balance: at least two columns; ${names.length === 1 ? `only "${names[0]!}" is` : "none are"} named`,
    );
  const first = numbers(table, names[0]!);
  const values = names.map((name) => valuesLike(first, numbers(table, name)));
  const n = table.rows;
  const make = (): Float64Array => new Float64Array(n).fill(Number.NaN);
  const [mean, min, max, spread, imbalance] = [make(), make(), make(), make(), make()];
  const maxColumn = Array<string>(n).fill("");
  const minColumn = Array<string>(n).fill("");
  const { unit: difference, factor, ownZero: scaled } = stepOf(first.unit);
  for (let i = 0; i < n; i++) {
    let count = 0;
    for (let k = 0; k < values.length; k++) {
      const v = values[k]![i]!;
      if (v !== v) continue;
      if (count === 0 || v > max[i]!) [max[i], maxColumn[i]] = [v, names[k]!];
      if (count === 0 || v < min[i]!) [min[i], minColumn[i]] = [v, names[k]!];
      count++;
    }
    if (count === 0) continue;
    const base = min[i]!;
    mean[i] =
      base + pairwiseSum((k) => (values[k]![i]! === values[k]![i]! ? values[k]![i]! - base : 0), values.length) / count;
    spread[i] = (max[i]! - min[i]!) * factor;
    if (!scaled && mean[i] !== 0) imbalance[i] = max[i]! / mean[i]! - 1;
  }
  const number = (name: string, unit: string | null, v: Float64Array): Column => ({
    kind: "number",
    name: as + name,
    unit,
    values: v,
  });
  const added = [
    number("mean", first.unit, mean),
    number("min", first.unit, min),
    number("max", first.unit, max),
    number("spread", difference, spread),
    number("imbalance", "1", imbalance),
    textColumn(`${as}maxColumn`, maxColumn),
    textColumn(`${as}minColumn`, minColumn),
  ];
  for (const c of added)
    if (table.columns.some((h) => h.name === c.name))
      throw new TableError(
        `balance: there is a column "${c.name}" already; give { as: "…" } to put before the new names`,
      );
  const note =
    `balance of ${names.length} columns (${names[0]!} … ` +
    `${names[names.length - 1]!})${scaled ? "; imbalance of a temperature scale is blank" : ""}`;
  return withColumns(table, [...table.columns, ...added], [note]);
}
