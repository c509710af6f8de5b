/** Sines and cosines and the order of rows for transforms of one length, made once. */
class Plan {
  readonly #order: Uint32Array;
  /** Factors of each stage one after the other: stage of size 2h begins at h − 1 and has h of them. */
  readonly #cos: Float64Array;
  readonly #sin: Float64Array;

  constructor(readonly n: number) {
    if (n === 0 || (n & (n - 1)) !== 0) throw new Error(`a length of ${n} is not a power of two`);
    this.#order = new Uint32Array(n);
    for (let i = 1, j = 0; i < n; i++) {
      let bit = n >> 1;
      for (; j & bit; bit >>= 1) j ^= bit;
      j ^= bit;
      this.#order[i] = j;
    }
    this.#cos = new Float64Array(Math.max(1, n - 1));
    this.#sin = new Float64Array(Math.max(1, n - 1));
    // Each factor from its own angle: errors do not add up along the way. Smaller stages take every second of the next
    // larger.
    const last = n >> 1;
    for (let k = 0; k < last; k++) {
      this.#cos[last - 1 + k] = Math.cos((2 * Math.PI * k) / n);
      this.#sin[last - 1 + k] = -Math.sin((2 * Math.PI * k) / n);
    }
    for (let h = last >> 1; h >= 1; h >>= 1)
      for (let k = 0; k < h; k++) {
        this.#cos[h - 1 + k] = this.#cos[2 * h - 1 + 2 * k]!;
        this.#sin[h - 1 + k] = this.#sin[2 * h - 1 + 2 * k]!;
      }
  }

  run(re: Float64Array, im: Float64Array): void {
    const order = this.#order;
    for (let i = 1; i < this.n; i++) {
      const j = order[i]!;
      if (i < j) {
        const [r, m] = [re[i]!, im[i]!];
        re[i] = re[j]!;
        im[i] = im[j]!;
        re[j] = r;
        im[j] = m;
      }
    }
    this.#part(re, im, 0, this.n);
  }

  /** One half after the other down to pieces that lie in the processor's cache, then joined. */
  #part(re: Float64Array, im: Float64Array, start: number, size: number): void {
    if (size > PIECE) {
      this.#part(re, im, start, size >> 1);
      this.#part(re, im, start + (size >> 1), size >> 1);
      this.#join(re, im, start, size);
      return;
    }
    for (let s = 2; s <= size; s *= 2) for (let a = start; a < start + size; a += s) this.#join(re, im, a, s);
  }

  #join(re: Float64Array, im: Float64Array, start: number, size: number): void {
    const half = size >> 1;
    const [cos, sin] = [this.#cos, this.#sin];
    for (let k = 0; k < half; k++) {
      const c = cos[half - 1 + k]!;
      const s = sin[half - 1 + k]!;
      const a = start + k;
      const b = a + half;
      const x = re[b]! * c - im[b]! * s;
      const y = re[b]! * s + im[b]! * c;
      re[b] = re[a]! - x;
      im[b] = im[a]! - y;
      re[a]! += x;
      im[a]! += y;
    }
  }
}

const PIECE = 4096;

let kept: Plan | undefined;

/**
 * The discrete Fourier transform in place, of a length that is a power of two (J. Cooley, J. Tukey, Math. Comp. 19,
 * 1965): Xₖ = Σ xₙ exp(−2πi kn/N).
 */
export function fourier(re: Float64Array, im: Float64Array): void {
  if (kept?.n !== re.length) kept = new Plan(re.length);
  kept.run(re, im);
}
