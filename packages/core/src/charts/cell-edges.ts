/** Edges of cells about their centres: half-way between, and as far beyond the outer ones. */
export function cellEdges(centres: ArrayLike<number>): number[] {
  const n = centres.length;
  if (n === 1) return [centres[0]! - 0.5, centres[0]! + 0.5];
  const inner = Array.from({ length: n - 1 }, (_, i) => (centres[i]! + centres[i + 1]!) / 2);
  return [2 * centres[0]! - inner[0]!, ...inner, 2 * centres[n - 1]! - inner[n - 2]!];
}
