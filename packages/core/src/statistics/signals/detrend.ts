import { TableError, type Table } from "../../tables/table.js";
import { stepOf } from "../../tables/units.js";
import { pairwiseSum } from "../../tables/sums.js";
import { gapNote, presentRows, withPresent } from "./rows.js";

/**
 * Adds `name.detrended`: the column less its polynomial trend by least squares (degree 1 unless said otherwise; 0 takes
 * the mean away). The trend is built of polynomials that are orthogonal over the rows (G. Forsythe, J. SIAM 5, 1957).
 *
 * @throws TableError when there are no more rows than the trend has constants
 * @example detrend(history, "level", 1)
 */
export function detrend(table: Table, name: string, degree = 1): Table {
  const p = presentRows(table, name);
  if (!(Number.isInteger(degree) && degree >= 0 && degree <= 8))
    throw new TableError(`detrend: degree ${degree} has to be a whole number from 0 to 8`);
  const n = p.x.length;
  const { unit, factor: scale } = stepOf(p.column.unit);
  if (p.table.rows > 0 && n <= degree)
    throw new TableError(
      `detrend: a trend of degree ${degree} needs more than ${degree + 1} values of "${name}"; there ${n === 1 ? "is" : "are"} ${n}`,
    );
  const rest = n === 0 ? new Float64Array(0) : withoutTrend(p.x, p.y, degree);
  if (scale !== 1) for (let i = 0; i < n; i++) rest[i]! *= scale;
  return withPresent(p, `${name}.detrended`, unit, rest, [
    `"${name}.detrended": less its trend of degree ${degree}`,
    ...gapNote(p, name),
  ]);
}

/** y less its best polynomial in x. */
export function withoutTrend(x: Float64Array, y: Float64Array, degree: number): Float64Array {
  const n = x.length;
  const middle = (x[0]! + x[n - 1]!) / 2;
  const half = (x[n - 1]! - x[0]!) / 2 || 1;
  const s = x.map((v) => (v - middle) / half);
  const base = y[0]!;
  const rest = y.map((v) => v - base);
  let last = new Float64Array(n);
  let now = new Float64Array(n).fill(1);
  let lastSquare = 1;
  for (let k = 0; k <= degree; k++) {
    const square = pairwiseSum((i) => now[i]! * now[i]!, n);
    if (!(square > 1e-24 * n)) break;
    const share = pairwiseSum((i) => now[i]! * rest[i]!, n) / square;
    for (let i = 0; i < n; i++) rest[i]! -= share * now[i]!;
    const alpha = pairwiseSum((i) => s[i]! * now[i]! * now[i]!, n) / square;
    const beta = k === 0 ? 0 : square / lastSquare;
    const next = new Float64Array(n);
    for (let i = 0; i < n; i++) next[i] = (s[i]! - alpha) * now[i]! - beta * last[i]!;
    [last, now, lastSquare] = [now, next, square];
  }
  return rest;
}
