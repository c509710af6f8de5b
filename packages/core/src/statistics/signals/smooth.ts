import { TableError, type Table } from "../../tables/table.js";
import { solve } from "../../tables/linear-system.js";
import { gapNote, presentRows, withPresent } from "./rows.js";

export interface SmoothOptions {
  /** The width of the window on the axis, in the axis's unit. */
  readonly over: number;
  /** `mean`: the mean over the window. `peaks`: a polynomial through it, which keeps the height of peaks. */
  readonly how?: "mean" | "peaks" | undefined;
  /** Of the polynomial: 2 unless said otherwise. */
  readonly degree?: number | undefined;
}

/**
 * Adds `name.smooth`: each row becomes what its window gives.
 *
 * `mean` is the integral mean of the straight lines between rows over a window about the row, cut off at the ends.
 * `peaks` fits a polynomial to the rows of a window by least squares and takes its value at the row; at the ends the
 * window is moved inwards (A. Savitzky, M. Golay, Anal. Chem. 36, 1964; here also on uneven steps).
 *
 * @throws TableError for a window of no width, or with too few rows for the polynomial
 * @example smooth(history, "T", { over: 30, how: "peaks" })
 */
export function smooth(table: Table, name: string, options: SmoothOptions): Table {
  const p = presentRows(table, name);
  const { over, how = "mean", degree = 2 } = options;
  if (!(over > 0) || !Number.isFinite(over))
    throw new TableError(`smooth: the window has to be wider than zero, not ${over}`);
  if (!(Number.isInteger(degree) && degree >= 0 && degree <= 5))
    throw new TableError(`smooth: degree ${degree} has to be a whole number from 0 to 5`);
  const values = how === "mean" ? windowMeans(p.x, p.y, over) : localPolynomials(p.x, p.y, over, degree, name);
  const note =
    how === "mean"
      ? `"${name}.smooth": mean over a window of ${over} along "${p.axis.name}", cut off at the ends`
      : `"${name}.smooth": polynomial of degree ${degree} through a window of ${over} along "${p.axis.name}"`;
  return withPresent(p, `${name}.smooth`, p.column.unit, values, [note, ...gapNote(p, name)]);
}

/** Means of the straight lines between rows over [x − w/2, x + w/2], cut off at the ends. */
export function windowMeans(x: Float64Array, y: Float64Array, width: number): Float64Array {
  const n = x.length;
  const out = new Float64Array(n);
  if (n < 2) return y.slice();
  const base = y[0]!;
  // The running integral of y − base: what a large offset would cost in digits is kept out of it.
  const area = new Float64Array(n);
  for (let i = 1; i < n; i++) area[i] = area[i - 1]! + (x[i]! - x[i - 1]!) * 0.5 * (y[i]! - base + (y[i - 1]! - base));
  let [a, b] = [0, 0];
  const upTo = (i: number, at: number): number => {
    const h = x[i + 1]! - x[i]!;
    const s = h > 0 ? (at - x[i]!) / h : 0;
    const left = y[i]! - base;
    return area[i]! + (at - x[i]!) * (left + 0.5 * s * (y[i + 1]! - y[i]!));
  };
  for (let i = 0; i < n; i++) {
    const low = Math.max(x[0]!, x[i]! - width / 2);
    const high = Math.min(x[n - 1]!, x[i]! + width / 2);
    while (a < n - 2 && x[a + 1]! <= low) a++;
    while (b < n - 2 && x[b + 1]! <= high) b++;
    out[i] = high > low ? base + (upTo(b, high) - upTo(a, low)) / (high - low) : y[i]!;
  }
  return out;
}

function localPolynomials(x: Float64Array, y: Float64Array, width: number, degree: number, name: string): Float64Array {
  const n = x.length;
  const out = new Float64Array(n);
  const slack = 1e-9 * width;
  let [a, b] = [0, 0];
  let kept: { count: number; at: number; weights: Float64Array } | undefined;
  const even = n > 2 && isEven(x);
  for (let i = 0; i < n; i++) {
    // The window about the row, moved inwards at the ends.
    let low = x[i]! - width / 2;
    if (low + width > x[n - 1]!) low = x[n - 1]! - width;
    if (low < x[0]!) low = x[0]!;
    while (a < n - 1 && x[a]! < low - slack) a++;
    while (a > 0 && x[a - 1]! >= low - slack) a--;
    while (b < n && x[b]! <= low + width + slack) b++;
    while (b > a && x[b - 1]! > low + width + slack) b--;
    const count = b - a;
    if (count <= degree)
      throw new TableError(
        `smooth: the window of ${width} at ${x[i]!} holds ${count} row${count === 1 ? "" : "s"} of ` +
          `"${name}", a polynomial of degree ${degree} needs ${degree + 1}; make the window wider`,
      );
    if (!(even && kept?.count === count && kept.at === i - a))
      kept = { count, at: i - a, weights: centreWeights(x.subarray(a, b), x[i]!, degree) };
    let sum = 0;
    for (let k = 0; k < count; k++) sum += kept.weights[k]! * (y[a + k]! - y[i]!);
    out[i] = y[i]! + sum;
  }
  return out;
}

const isEven = (x: Float64Array): boolean => {
  const step = (x[x.length - 1]! - x[0]!) / (x.length - 1);
  for (let i = 1; i < x.length; i++) if (Math.abs(x[i]! - x[i - 1]! - step) > 1e-9 * step) return false;
  return true;
};

/** What each row of a window counts in the value at a place of the polynomial through all of them. */
function centreWeights(x: Float64Array, at: number, degree: number): Float64Array {
  const scale = Math.max(Math.abs(x[0]! - at), Math.abs(x[x.length - 1]! - at)) || 1;
  const terms = Array.from(x, (v) => {
    const s = (v - at) / scale;
    return Array.from({ length: degree + 1 }, (_, k) => s ** k);
  });
  const matrix = Array.from({ length: degree + 1 }, (_, r) =>
    Array.from({ length: degree + 1 }, (__, c) => terms.reduce((sum, t) => sum + t[r]! * t[c]!, 0)),
  );
  // The value at the place is the first coefficient: e₀ᵀ (AᵀA)⁻¹ Aᵀ y.
  const row = solve(
    matrix,
    Array.from({ length: degree + 1 }, (_, k) => (k === 0 ? 1 : 0)),
  );
  if (!row) throw new TableError(`smooth: the rows about ${at} cannot carry a polynomial of degree ${degree}`);
  return Float64Array.from(terms, (t) => t.reduce((sum, v, k) => sum + v * row[k]!, 0));
}
