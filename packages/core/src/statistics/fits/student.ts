/** ln Γ(x) for x > 0 (C. Lanczos, SIAM J. Numer. Anal. B 1, 1964; g = 7, nine terms). */
function logGamma(x: number): number {
  const c = [
    0.99999999999980993, 676.5203681218851, -1259.1392167224028, 771.32342877765313, -176.61502916214059,
    12.507343278686905, -0.13857109526572012, 9.9843695780195716e-6, 1.5056327351493116e-7,
  ];
  if (x < 0.5) return Math.log(Math.PI / Math.sin(Math.PI * x)) - logGamma(1 - x);
  const t = x + 6.5;
  let sum = c[0]!;
  for (let k = 1; k < 9; k++) sum += c[k]! / (x - 1 + k);
  return 0.5 * Math.log(2 * Math.PI) + (x - 0.5) * Math.log(t) - t + Math.log(sum);
}

/**
 * The regularised incomplete beta function I_x(a, b), by its continued fraction (M. Abramowitz, I. A. Stegun, "Handbook
 * of Mathematical Functions", 26.5.8).
 */
export function incompleteBeta(x: number, a: number, b: number): number {
  if (x <= 0) return 0;
  if (x >= 1) return 1;
  if (x > (a + 1) / (a + b + 2)) return 1 - incompleteBeta(1 - x, b, a);
  const front = Math.exp(a * Math.log(x) + b * Math.log1p(-x) - logGamma(a) - logGamma(b) + logGamma(a + b)) / a;
  const tiny = 1e-300;
  let c = 1;
  let d = 1 / Math.max(tiny, Math.abs(1 - ((a + b) * x) / (a + 1)));
  if (1 - ((a + b) * x) / (a + 1) < 0) d = -d;
  let h = d;
  for (let m = 1; m < 500; m++) {
    for (const n of [
      (m * (b - m) * x) / ((a + 2 * m - 1) * (a + 2 * m)),
      (-(a + m) * (a + b + m) * x) / ((a + 2 * m) * (a + 2 * m + 1)),
    ]) {
      d = 1 + n * d;
      c = 1 + n / c;
      d = 1 / (Math.abs(d) < tiny ? tiny : d);
      if (Math.abs(c) < tiny) c = tiny;
      h *= d * c;
    }
    if (Math.abs(d * c - 1) < 1e-15) break;
  }
  return front * h;
}

/**
 * The value that Student's t with so many degrees of freedom lies below with a probability (by halving: to rounding).
 */
export function studentQuantile(probability: number, freedom: number): number {
  if (!(freedom > 0) || !(probability > 0 && probability < 1)) return Number.NaN;
  if (probability < 0.5) return -studentQuantile(1 - probability, freedom);
  const below = (t: number): number => 1 - 0.5 * incompleteBeta(freedom / (freedom + t * t), freedom / 2, 0.5);
  let [low, high] = [0, 1];
  while (below(high) < probability && high < 1e12) high *= 2;
  for (let k = 0; k < 200 && high - low > 1e-15 * high; k++) {
    const middle = (low + high) / 2;
    if (below(middle) < probability) low = middle;
    else high = middle;
  }
  return (low + high) / 2;
}
