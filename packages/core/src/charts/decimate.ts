/** Fewer points that draw the same: see {@link decimate}. */
export interface Thinned {
  readonly x: Float64Array;
  readonly y: Float64Array;
}

/**
 * Keeps, of each of `buckets` stretches along a rising x, the first, lowest, highest and last point, so that the
 * picture at that many columns stays the same and no peak is lost. Gaps (NaN, and what is infinite) are kept. Short or
 * unordered data come back unchanged.
 */
export function decimate(
  x: ArrayLike<number>,
  y: ArrayLike<number>,
  buckets: number,
  from = -Infinity,
  to = Infinity,
): Thinned {
  const keep = keptPoints(x, [y], buckets, from, to);
  return { x: Float64Array.from(keep, (k) => x[k]!), y: Float64Array.from(keep, (k) => y[k]!) };
}

/**
 * Which points {@link decimate} keeps of several values at the same places, as of the two edges of a band: each of them
 * keeps its lowest and highest points.
 *
 * @returns indices, rising
 */
export function keptPoints(
  x: ArrayLike<number>,
  values: readonly ArrayLike<number>[],
  buckets: number,
  from = -Infinity,
  to = Infinity,
): Int32Array {
  const n = x.length;
  let start = 0;
  let end = n;
  if (from > -Infinity || to < Infinity) {
    while (start < n - 1 && x[start + 1]! < from) start++;
    while (end > start + 1 && x[end - 2]! > to) end--;
  }
  const all = (): Int32Array => Int32Array.from({ length: end - start }, (_, i) => start + i);
  if (end - start <= buckets * 4) return all();
  const low = x[start]!;
  if (low !== low) return all();
  const width = (x[end - 1]! - low) / buckets;
  const keep: number[] = [];
  let before = low;
  let i = start;
  for (let b = 0; b < buckets && i < end; b++) {
    const edge = b === buckets - 1 ? Infinity : low + width * (b + 1);
    const first = i;
    for (; i < end; i++) {
      const at = x[i]!;
      // Where x does not rise nothing may be left out.
      if (!(at >= before)) return all();
      if (at >= edge) break;
      before = at;
    }
    if (i === first) continue;
    const picked = [first, i - 1, ...values.flatMap((y) => extremesOf(y, first, i))].sort((a, c) => a - c);
    for (const k of picked) if (keep[keep.length - 1] !== k) keep.push(k);
  }
  return Int32Array.from(keep);
}

/** Where values are lowest and highest in a stretch, and its last gap. */
function extremesOf(y: ArrayLike<number>, from: number, to: number): number[] {
  let [least, most, gap] = [-1, -1, -1];
  let [lowest, highest] = [Infinity, -Infinity];
  for (let i = from; i < to; i++) {
    const v = y[i]!;
    // What is infinite has no place: beside it the finite ones count.
    if (!Number.isFinite(v)) {
      gap = i;
      continue;
    }
    if (v < lowest || (least < 0 && v === lowest)) {
      lowest = v;
      least = i;
    }
    if (v > highest || (most < 0 && v === highest)) {
      highest = v;
      most = i;
    }
  }
  return [least, most, gap].filter((k) => k >= 0);
}
