import { numbers, TableError, withColumns, type Table } from "../../tables/table.js";

export interface MovingAverageOptions {
  /** Rows of the window. */
  readonly rows: number;
  /** The row and those before it, instead of as many before as behind it. */
  readonly trailing?: boolean | undefined;
}

/**
 * Adds `name.smooth`: the mean of the values in a window of rows, each counting alike, in the order of the rows. At the
 * ends the window is cut off. Missing values are passed over; a window without a value gives none.
 *
 * @throws TableError for a centred window of an even number of rows, or one that is not a whole number above zero
 * @example movingAverage(history, "T", { rows: 5, trailing: true })
 */
export function movingAverage(table: Table, name: string, o: MovingAverageOptions): Table {
  const c = numbers(table, name);
  const { rows, trailing = false } = o;
  if (!(Number.isInteger(rows) && rows >= 1))
    throw new TableError(`smooth: a window of ${rows} rows has to be a whole number, 1 or more`);
  if (!trailing && rows % 2 === 0)
    throw new TableError(
      `smooth: a window of ${rows} rows has no middle row; take an odd number, or { trailing: true }`,
    );
  const v = c.values;
  const n = v.length;
  const half = trailing ? 0 : (rows - 1) / 2;
  const before = trailing ? rows - 1 : half;
  const base = v.find((x) => x === x) ?? 0;
  const values = new Float64Array(n);
  for (let i = 0; i < n; i++) {
    let sum = 0;
    let count = 0;
    // Added up anew for each row: a running sum would carry its rounding along.
    for (let k = Math.max(0, i - before); k <= Math.min(n - 1, i + half); k++)
      if (v[k] === v[k]) {
        sum += v[k]! - base;
        count++;
      }
    values[i] = count === 0 ? Number.NaN : base + sum / count;
  }
  const way = trailing ? "the row and those before it" : "about each row";
  return withColumns(
    table,
    [...table.columns, { ...c, name: `${name}.smooth`, values }],
    [`"${name}.smooth": mean over ${rows} rows, ${way}, cut off at the ends`],
  );
}
