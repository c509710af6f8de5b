/**
 * The discrete Fourier transform in place, of a length that is a power of two (J. Cooley, J. Tukey, Math. Comp. 19, 1965):
 * Xₖ = Σ xₙ exp(−2πi kn/N).
 */
export function fourier(re: Float64Array, im: Float64Array): void {
  const n = re.length;
  if (n === 0 || (n & (n - 1)) !== 0) throw new Error(`a length of ${n} is no power of two`);
  for (let i = 1, j = 0; i < n; i++) {
    let bit = n >> 1;
    for (; j & bit; bit >>= 1) j ^= bit;
    j ^= bit;
    if (i < j) {
      [re[i], re[j]] = [re[j]!, re[i]!];
      [im[i], im[j]] = [im[j]!, im[i]!];
    }
  }
  // Each factor from its own angle: errors do not add up along the way.
  const cos = new Float64Array(n >> 1);
  const sin = new Float64Array(n >> 1);
  for (let k = 0; k < cos.length; k++) {
    cos[k] = Math.cos((2 * Math.PI * k) / n);
    sin[k] = -Math.sin((2 * Math.PI * k) / n);
  }
  for (let size = 2; size <= n; size *= 2) {
    const half = size >> 1;
    const stride = n / size;
    for (let start = 0; start < n; start += size)
      for (let k = 0; k < half; k++) {
        const [c, s] = [cos[k * stride]!, sin[k * stride]!];
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
