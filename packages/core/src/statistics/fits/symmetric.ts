/** Solves a small symmetric positive definite system by Cholesky's factors; NaN where it is singular. */
export function solveSymmetric(a: readonly (readonly number[])[], b: readonly number[]): number[] {
  const n = b.length;
  const l = Array.from({ length: n }, () => Array<number>(n).fill(0));
  for (let i = 0; i < n; i++)
    for (let j = 0; j <= i; j++) {
      let s = a[i]![j]!;
      for (let k = 0; k < j; k++) s -= l[i]![k]! * l[j]![k]!;
      l[i]![j] = i === j ? Math.sqrt(s) : s / l[j]![j]!;
    }
  const x = [...b];
  for (let i = 0; i < n; i++) {
    for (let k = 0; k < i; k++) x[i]! -= l[i]![k]! * x[k]!;
    x[i]! /= l[i]![i]!;
  }
  for (let i = n - 1; i >= 0; i--) {
    for (let k = i + 1; k < n; k++) x[i]! -= l[k]![i]! * x[k]!;
    x[i]! /= l[i]![i]!;
  }
  return x;
}
