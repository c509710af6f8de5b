/**
 * Solves a small system of equations in place, by elimination with row exchange; undefined when it has no one answer.
 */
export function solve(matrix: readonly (readonly number[])[], right: readonly number[]): number[] | undefined {
  const n = right.length;
  const a = matrix.map((row, i) => [...row, right[i]!]);
  const scale = Math.max(...a.flatMap((row) => row.slice(0, n).map(Math.abs)), 1e-300);
  for (let k = 0; k < n; k++) {
    let best = k;
    for (let i = k + 1; i < n; i++) if (Math.abs(a[i]![k]!) > Math.abs(a[best]![k]!)) best = i;
    [a[k], a[best]] = [a[best]!, a[k]!];
    if (!(Math.abs(a[k]![k]!) > 1e-13 * scale)) return undefined;
    for (let i = k + 1; i < n; i++) {
      const f = a[i]![k]! / a[k]![k]!;
      if (f !== 0) for (let j = k; j <= n; j++) a[i]![j]! -= f * a[k]![j]!;
    }
  }
  const x = Array<number>(n).fill(0);
  for (let k = n - 1; k >= 0; k--) {
    let sum = a[k]![n]!;
    for (let j = k + 1; j < n; j++) sum -= a[k]![j]! * x[j]!;
    x[k] = sum / a[k]![k]!;
  }
  return x;
}
