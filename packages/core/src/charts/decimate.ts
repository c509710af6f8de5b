/** Fewer points that draw the same: see {@link decimate}. */
export interface Thinned {
  readonly x: Float64Array;
  readonly y: Float64Array;
}

/**
 * Keeps, of each of `buckets` stretches along a rising x, the first, lowest, highest and last point, so that the
 * picture at that many columns stays the same and no peak is lost. Gaps (NaN) are kept. Short or unordered data come
 * back unchanged.
 */
export function decimate(
  x: ArrayLike<number>,
  y: ArrayLike<number>,
  buckets: number,
  from = -Infinity,
  to = Infinity,
): Thinned {
  const n = x.length;
  let start = 0;
  let end = n;
  if (from > -Infinity || to < Infinity) {
    while (start < n - 1 && x[start + 1]! < from) start++;
    while (end > start + 1 && x[end - 2]! > to) end--;
  }
  const all = (): Thinned => ({
    x: Float64Array.from({ length: end - start }, (_, i) => x[start + i]!),
    y: Float64Array.from({ length: end - start }, (_, i) => y[start + i]!),
  });
  if (end - start <= buckets * 4) return all();
  for (let i = start + 1; i < end; i++) if (!(x[i]! >= x[i - 1]!)) return all();
  const keep: number[] = [];
  const low = x[start]!;
  const width = (x[end - 1]! - low) / buckets;
  let i = start;
  for (let b = 0; b < buckets && i < end; b++) {
    const edge = b === buckets - 1 ? Infinity : low + width * (b + 1);
    const first = i;
    let least = -1;
    let most = -1;
    let gap = -1;
    while (i < end && x[i]! < edge) {
      const v = y[i]!;
      if (v !== v) gap = i;
      else {
        if (least < 0 || v < y[least]!) least = i;
        if (most < 0 || v > y[most]!) most = i;
      }
      i++;
    }
    if (i === first) continue;
    const picked = [first, least, most, gap, i - 1].filter((k) => k >= 0).sort((a, c) => a - c);
    for (const k of picked) if (keep[keep.length - 1] !== k) keep.push(k);
  }
  return { x: Float64Array.from(keep, (k) => x[k]!), y: Float64Array.from(keep, (k) => y[k]!) };
}
