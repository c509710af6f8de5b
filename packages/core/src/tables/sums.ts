const BLOCK = 128;

/**
 * The sum of n numbers given by index, added pairwise in fixed blocks.
 *
 * The error grows with log n instead of n, and the order of additions depends on n alone.
 * Source: N. J. Higham, "The accuracy of floating point summation", SIAM J. Sci. Comput. 14 (1993) 783–799.
 */
export function pairwiseSum(term: (i: number) => number, n: number, start = 0): number {
  if (n <= BLOCK) {
    let s = 0;
    for (let i = start; i < start + n; i++) s += term(i);
    return s;
  }
  const half = Math.ceil(n / 2 / BLOCK) * BLOCK;
  return pairwiseSum(term, half, start) + pairwiseSum(term, n - half, start + half);
}

/**
 * Distances from a place, or their squares: ((value − base) − off)ᵖ. Two steps keep digits that one would lose beside a
 * large base.
 */
export interface Distances {
  readonly base: number;
  readonly off: number;
  readonly squared: boolean;
}

/** The distance of one value, or its square. */
export function distanceOf(y: number, { base, off, squared }: Distances): number {
  const d = y - base - off;
  return squared ? d * d : d;
}

/**
 * The sum of the distances of those numbers that are present, added as {@link pairwiseSum} does; missing ones count as
 * nothing.
 *
 * @example sumDistances(values, { base: values[0], off: 0, squared: false })
 */
export function sumDistances(values: Float64Array, from: Distances, n = values.length, start = 0): number {
  if (n <= BLOCK) {
    const { base, off, squared } = from;
    let s = 0;
    for (let i = start; i < start + n; i++) {
      const y = values[i]!;
      if (y !== y) continue;
      const d = y - base - off;
      s += squared ? d * d : d;
    }
    return s;
  }
  const half = Math.ceil(n / 2 / BLOCK) * BLOCK;
  return sumDistances(values, from, half, start) + sumDistances(values, from, n - half, start + half);
}

/**
 * The sum of the steps along x whose both ends have a value, added as {@link pairwiseSum} does: of their areas under
 * the distances of the values (trapezoidal rule), or of their lengths. Missing where a value has no place.
 *
 * @param of what is summed up
 * @example sumSteps(y, { base: 0, off: 0, squared: false }, x, "areas", x.length - 1)
 */
export function sumSteps(
  values: Float64Array,
  from: Distances,
  x: Float64Array,
  of: "areas" | "lengths",
  n: number,
  start = 0,
): number {
  if (n <= BLOCK) {
    let s = 0;
    for (let i = start; i < start + n; i++) {
      const dx = x[i + 1]! - x[i]!;
      const twice = distanceOf(values[i]!, from) + distanceOf(values[i + 1]!, from);
      const step = of === "areas" ? dx * 0.5 * twice : dx;
      if (of === "areas" ? step === step : twice === twice) s += step;
    }
    return s;
  }
  const half = Math.ceil(n / 2 / BLOCK) * BLOCK;
  return sumSteps(values, from, x, of, half, start) + sumSteps(values, from, x, of, n - half, start + half);
}

/** How many numbers are present. */
export function countPresent(values: Float64Array): number {
  let count = 0;
  for (let i = 0; i < values.length; i++) if (values[i]! === values[i]!) count++;
  return count;
}

/**
 * A running sum that keeps what rounding drops (A. Neumaier, Z. Angew. Math. Mech. 54, 1974).
 * @example const s = new RunningSum(); s.add(0.1); s.value
 */
export class RunningSum {
  #sum = 0;
  #rest = 0;

  add(x: number): void {
    const next = this.#sum + x;
    this.#rest += Math.abs(this.#sum) >= Math.abs(x) ? this.#sum - next + x : x - next + this.#sum;
    this.#sum = next;
  }

  get value(): number {
    return this.#sum + this.#rest;
  }
}
