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

/** The sum of the numbers present and how many there are; missing ones are passed over. */
export function sumPresent(values: Float64Array): { sum: number; count: number } {
  let count = 0;
  for (const x of values) if (x === x) count++;
  const sum =
    count === values.length
      ? pairwiseSum((i) => values[i]!, values.length)
      : pairwiseSum((i) => (values[i]! === values[i]! ? values[i]! : 0), values.length);
  return { sum, count };
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
