import { leastSquares, SingularFit, type Solution } from "./least-squares.js";

export interface Bound {
  readonly lower?: number | undefined;
  readonly upper?: number | undefined;
}

const STEPS = 500;

/** How a model's values change with each constant, by central differences: a row per point. */
export function slopesOf(model: (constants: readonly number[]) => Float64Array, c: readonly number[]): number[][] {
  const columns = c.map((v, j) => {
    const h = Math.cbrt(Number.EPSILON) * Math.max(Math.abs(v), 1e-8);
    const at = (d: number): Float64Array => model(c.map((u, k) => (k === j ? u + d : u)));
    const [up, down] = [at(h), at(-h)];
    return up.map((u, i) => (u - down[i]!) / (2 * h));
  });
  return Array.from(columns[0] ?? [], (_, i) => columns.map((col) => col[i]!));
}

/** The step of the free constants. Marquardt's damping as extra rows: the normal equations are never formed. */
function damped(
  slopes: readonly (readonly number[])[],
  residuals: Float64Array,
  free: readonly number[],
  length: readonly number[],
  damping: number,
  weights: Float64Array | undefined,
): readonly number[] {
  const extra = free.map((k) => free.map((q) => (k === q ? Math.sqrt(damping) * length[k]! : 0)));
  return leastSquares(
    [...slopes.map((row) => free.map((k) => row[k]!)), ...extra],
    Float64Array.from([...residuals, ...free.map(() => 0)]),
    weights ? Float64Array.from([...weights, ...free.map(() => 1)]) : undefined,
  ).coefficients;
}

/**
 * Least squares of any model by Levenberg's and Marquardt's method (D. Marquardt, SIAM J. Appl. Math. 11, 1963), with
 * derivatives by central differences; constants are held within their bounds by projection.
 *
 * @param model values at all points for given constants
 * @throws SingularFit when the constants cannot be told apart; Error when it does not settle
 */
export function nonlinearLeastSquares(
  model: (constants: readonly number[]) => Float64Array,
  y: Float64Array,
  start: readonly number[],
  bounds: readonly Bound[] = [],
  weights?: Float64Array,
): Solution & { readonly steps: number } {
  const within = (c: readonly number[]): number[] =>
    c.map((v, j) => Math.min(bounds[j]?.upper ?? Infinity, Math.max(bounds[j]?.lower ?? -Infinity, v)));
  const weight = (i: number): number => (weights ? weights[i]! : 1);
  const off = (c: readonly number[]): { r: Float64Array; s: number } => {
    const r = model(c).map((v, i) => y[i]! - v);
    let s = 0;
    for (let i = 0; i < r.length; i++) s += weight(i) * r[i]! ** 2;
    return { r, s: Number.isNaN(s) ? Infinity : s };
  };
  const slopes = (c: readonly number[]): number[][] => slopesOf(model, c);
  let c = within(start);
  let now = off(c);
  if (!Number.isFinite(now.s))
    throw new Error("the formula has no value at the starting constants; give others to start from");
  let damping = 1e-3;
  let steps = 0;
  let still = 0;
  for (; steps < STEPS && still < 3; steps++) {
    const j = slopes(c);
    const length = c.map((_, k) => Math.sqrt(j.reduce((s, row, i) => s + weight(i) * row[k]! ** 2, 0)));
    if (length.some((l) => !(l > 0)))
      throw new SingularFit("a constant has no influence on the formula at these points");
    // A constant at its bound that wants beyond it stays there for this step.
    const free = c.flatMap((v, k) => {
      const pull = j.reduce((s, row, i) => s + weight(i) * row[k]! * now.r[i]!, 0);
      const held =
        (v >= (bounds[k]?.upper ?? Infinity) && pull > 0) || (v <= (bounds[k]?.lower ?? -Infinity) && pull < 0);
      return held ? [] : [k];
    });
    if (free.length === 0) break;
    const part = damped(j, now.r, free, length, damping, weights);
    const move = c.map((_, k) => (free.includes(k) ? part[free.indexOf(k)]! : 0));
    const next = within(c.map((v, k) => v + move[k]!));
    const then = off(next);
    const small = next.every((v, k) => Math.abs(v - c[k]!) <= 1e-13 * (Math.abs(v) + 1e-300));
    if (then.s <= now.s) {
      still = small || now.s - then.s <= 1e-15 * now.s ? still + 1 : 0;
      c = next;
      now = then;
      damping = Math.max(1e-14, damping / 10);
    } else {
      if (small) still++;
      damping = Math.min(1e12, damping * 10);
    }
  }
  if (steps === STEPS)
    throw new Error(`the fit has not settled after ${STEPS} steps; give other constants to start from`);
  const final = leastSquares(slopes(c), now.r, weights);
  return { ...final, coefficients: c, residuals: now.r, squares: now.s, steps };
}
