import type { Place, Places } from "./places.js";

/**
 * Places along straight pieces: a number of evenly spaced ones, both ends among them, or those at given distances.
 *
 * @throws Error when the places all coincide, or a distance lies beyond the end
 */
export function along(through: readonly Place[], where: number | readonly number[]): Places {
  const lengths = [0];
  for (let k = 1; k < through.length; k++) {
    const [a, b] = [through[k - 1]!, through[k]!];
    lengths.push(lengths[k - 1]! + Math.hypot(b[0] - a[0], b[1] - a[1], b[2] - a[2]));
  }
  const total = lengths[lengths.length - 1]!;
  if (!(total > 0)) throw new Error("a line needs two places that differ");
  const n = typeof where === "number" ? where : where.length;
  const xyz = new Float64Array(3 * n);
  const tangent = new Float64Array(3 * n);
  const distance = new Float64Array(n);
  let k = 1;
  for (let i = 0; i < n; i++) {
    const s = typeof where === "number" ? (i === n - 1 ? total : (total * i) / (n - 1)) : where[i]!;
    if (!(s >= 0 && s <= total * (1 + 1e-12))) throw new Error(`${s} lies beyond the path, which is ${total} long`);
    while (k > 1 && s < lengths[k - 1]!) k--;
    while (k < lengths.length - 1 && s > lengths[k]!) k++;
    const size = lengths[k]! - lengths[k - 1]!;
    const t = (s - lengths[k - 1]!) / size;
    for (let d = 0; d < 3; d++) {
      const [a, b] = [through[k - 1]![d]!, through[k]![d]!];
      xyz[3 * i + d] = (1 - t) * a + t * b;
      tangent[3 * i + d] = (b - a) / size;
    }
    distance[i] = s;
  }
  return { xyz, distance, tangent };
}

/** Straight pieces for each stretch between two places of a spline. */
const PIECES = 64;

/**
 * A rounded path through places, as short straight pieces: the natural cubic spline over the length of the chords
 * (C. de Boor, "A Practical Guide to Splines", ch. IV). It passes through every place.
 */
export function splineThrough(through: readonly Place[]): Place[] {
  const p = through.filter((q, k) => k === 0 || q.some((v, d) => v !== through[k - 1]![d]));
  const n = p.length;
  if (n < 3) return p;
  const t = [0];
  for (let k = 1; k < n; k++) t.push(t[k - 1]! + Math.hypot(...[0, 1, 2].map((d) => p[k]![d]! - p[k - 1]![d]!)));
  const bends = [0, 1, 2].map((d) =>
    secondDerivatives(
      t,
      p.map((q) => q[d]!),
    ),
  );
  const out: Place[] = [];
  for (let k = 0; k + 1 < n; k++) {
    const h = t[k + 1]! - t[k]!;
    for (let i = 0; i < PIECES; i++) {
      const b = i / PIECES;
      const a = 1 - b;
      out.push(
        [0, 1, 2].map(
          (d) =>
            a * p[k]![d]! +
            b * p[k + 1]![d]! +
            (((a ** 3 - a) * bends[d]![k]! + (b ** 3 - b) * bends[d]![k + 1]!) * h * h) / 6,
        ) as unknown as Place,
      );
    }
  }
  return [...out, p[n - 1]!];
}

/** Second derivatives of the natural cubic spline through values at rising places (three-diagonal elimination). */
function secondDerivatives(t: readonly number[], y: readonly number[]): number[] {
  const n = t.length;
  const c = Array<number>(n).fill(0);
  const m = Array<number>(n).fill(0);
  for (let k = 1; k + 1 < n; k++) {
    const [h0, h1] = [t[k]! - t[k - 1]!, t[k + 1]! - t[k]!];
    const right = 6 * ((y[k + 1]! - y[k]!) / h1 - (y[k]! - y[k - 1]!) / h0);
    const w = 2 * (h0 + h1) - h0 * c[k - 1]!;
    c[k] = h1 / w;
    m[k] = (right - h0 * m[k - 1]!) / w;
  }
  for (let k = n - 2; k > 0; k--) m[k]! -= c[k]! * m[k + 1]!;
  m[0] = 0;
  m[n - 1] = 0;
  return m;
}
