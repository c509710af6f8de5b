/**
 * How many even boxes to lay over a region in x, y and z: cubes in the directions in which it spreads, one box in the
 * others. Sizes so small or large that their steps could not be told apart from rounding give one box.
 *
 * @param size of the region, one number per direction
 * @param wanted how many boxes, about
 * @param most boxes in one direction
 * @example
 *   evenBoxes([2, 1, 0], 50, 1024); // { dims: [10, 5, 1], wide: [true, true, false] }
 */
export function evenBoxes(
  size: readonly number[],
  wanted: number,
  most: number,
): { readonly dims: number[]; readonly wide: boolean[] } {
  const widest = Math.max(...size);
  const usable = widest > 1e-100 && widest < 1e100;
  const wide = size.map((s) => usable && s > 1e-9 * widest);
  const spread = Math.max(1, wide.filter(Boolean).length);
  const share = size.reduce((a, s, k) => (wide[k] ? a * (s / widest) : a), 1);
  const edge = widest * (share / Math.max(1, wanted)) ** (1 / spread);
  return { dims: size.map((s, k) => (wide[k] ? Math.max(1, Math.min(most, Math.ceil(s / edge))) : 1)), wide };
}
