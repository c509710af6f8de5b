/** A solution of least squares. */
export interface Solution {
  readonly coefficients: readonly number[];
  /** (XᵀX)⁻¹: times the residual variance it is the coefficients' covariance. */
  readonly spread: readonly (readonly number[])[];
  readonly residuals: Float64Array;
  /** Sum of squared residuals, weighted if weights were given. */
  readonly squares: number;
}

/** Columns that depend on each other: there is no one answer. */
export class SingularFit extends Error {
  override readonly name = "SingularFit";
}

const DEPENDENT = 1e-13;

/**
 * Brings columns to upper triangular form, in place. Gives the reflections that did it, for a further column.
 *
 * @throws SingularFit when a column depends on those before it
 */
function triangulate(a: readonly Float64Array[]): (column: Float64Array) => void {
  const n = a[0]?.length ?? 0;
  const reflections: { v: Float64Array; size: number }[] = [];
  const reflect = (column: Float64Array): void => {
    reflections.forEach(({ v, size }, k) => {
      let dot = 0;
      for (let i = k; i < n; i++) dot += v[i]! * column[i]!;
      const f = (2 * dot) / size;
      for (let i = k; i < n; i++) column[i]! -= f * v[i]!;
    });
  };
  a.forEach((column, k) => {
    reflect(column);
    let length = 0;
    for (let i = k; i < n; i++) length += column[i]! ** 2;
    length = Math.sqrt(length);
    if (!(length > DEPENDENT))
      throw new SingularFit("the terms depend on each other: these points cannot tell them apart");
    const v = column.slice();
    v[k]! += column[k]! < 0 ? -length : length;
    let size = 0;
    for (let i = k; i < n; i++) size += v[i]! ** 2;
    reflections.push({ v, size });
    const head = column[k]! < 0 ? length : -length;
    column[k] = head;
    column.fill(0, k + 1);
  });
  return reflect;
}

/**
 * Linear least squares by Householder reflections of the columns brought to equal length, with one step of refinement
 * (G. Golub, C. Van Loan, "Matrix Computations", 5.3; Å. Björck, "Numerical Methods for Least Squares Problems", 2.9).
 *
 * @param rows one row of terms a point
 * @param weights of the points, in inverse variance; all alike when not given
 * @throws SingularFit when the terms depend on each other
 */
export function leastSquares(
  rows: readonly (readonly number[])[],
  y: ArrayLike<number>,
  weights?: ArrayLike<number>,
): Solution {
  const n = rows.length;
  const p = rows[0]?.length ?? 0;
  const root = Float64Array.from({ length: n }, (_, i) => (weights ? Math.sqrt(weights[i]!) : 1));
  const scale = Array.from({ length: p }, (_, j) =>
    Math.sqrt(rows.reduce((s, r, i) => s + (root[i]! * r[j]!) ** 2, 0)),
  );
  if (scale.some((s) => !(s > 0))) throw new SingularFit("a term is zero everywhere");
  const a = Array.from({ length: p }, (_, j) => Float64Array.from(rows, (r, i) => (root[i]! * r[j]!) / scale[j]!));
  const reflect = triangulate(a);
  const solve = (right: Float64Array): number[] => {
    const q = right.slice();
    reflect(q);
    const x = Array<number>(p).fill(0);
    for (let k = p - 1; k >= 0; k--) {
      let s = q[k]!;
      for (let j = k + 1; j < p; j++) s -= a[j]![k]! * x[j]!;
      x[k] = s / a[k]![k]!;
    }
    return x;
  };
  const residual = (x: readonly number[]): Float64Array =>
    Float64Array.from(rows, (r, i) => y[i]! - r.reduce((s, v, j) => s + v * x[j]!, 0));
  const weighted = (r: Float64Array): Float64Array => r.map((v, i) => v * root[i]!);
  let x = solve(weighted(Float64Array.from(y))).map((v, j) => v / scale[j]!);
  const step = solve(weighted(residual(x))).map((v, j) => v / scale[j]!);
  x = x.map((v, j) => v + step[j]!);
  const residuals = residual(x);
  // R⁻¹ by its columns, then (XᵀX)⁻¹ = R⁻¹ R⁻ᵀ.
  const inverse = Array.from({ length: p }, (_, c) => {
    const u = Array<number>(p).fill(0);
    for (let k = c; k >= 0; k--) {
      let s = k === c ? 1 : 0;
      for (let j = k + 1; j <= c; j++) s -= a[j]![k]! * u[j]!;
      u[k] = s / a[k]![k]!;
    }
    return u;
  });
  const spread = Array.from({ length: p }, (_, i) =>
    Array.from({ length: p }, (__, j) => inverse.reduce((s, u) => s + u[i]! * u[j]!, 0) / (scale[i]! * scale[j]!)),
  );
  let squares = 0;
  for (let i = 0; i < n; i++) squares += (root[i]! * residuals[i]!) ** 2;
  return { coefficients: x, spread, residuals, squares };
}
