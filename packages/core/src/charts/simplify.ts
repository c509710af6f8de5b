/**
 * Leaves out points that lie on the line between their neighbours, to within `tolerance` of a pixel (U. Ramer, 1972; D. Douglas,
 * T. Peucker, 1973). Gaps stay; the ends of each stretch stay.
 *
 * @param xs places in pixels
 * @returns which points to keep, in order
 */
export function simplified(xs: ArrayLike<number>, ys: ArrayLike<number>, tolerance = 0.06): number[] {
  const n = xs.length;
  const keep = new Uint8Array(n);
  const stack: [number, number][] = [];
  let start = -1;
  const close = (end: number): void => {
    if (start < 0) return;
    keep[start] = keep[end] = 1;
    stack.push([start, end]);
    start = -1;
  };
  for (let i = 0; i < n; i++) {
    const missing = !Number.isFinite(xs[i]!) || !Number.isFinite(ys[i]!);
    if (missing) {
      close(i - 1);
      keep[i] = 1;
    } else if (start < 0) start = i;
  }
  close(n - 1);
  while (stack.length > 0) {
    const [a, b] = stack.pop()!;
    if (b - a < 2) continue;
    const [dx, dy] = [xs[b]! - xs[a]!, ys[b]! - ys[a]!];
    const length = Math.hypot(dx, dy);
    let [far, most] = [-1, tolerance];
    for (let i = a + 1; i < b; i++) {
      const [px, py] = [xs[i]! - xs[a]!, ys[i]! - ys[a]!];
      // Distance from the stretch itself, not from the endless line: a line that turns back keeps its turns.
      const along = length > 0 ? Math.min(1, Math.max(0, (px * dx + py * dy) / (length * length))) : 0;
      const d = Math.hypot(px - along * dx, py - along * dy);
      if (d > most) [far, most] = [i, d];
    }
    if (far < 0) continue;
    keep[far] = 1;
    stack.push([a, far], [far, b]);
  }
  const out: number[] = [];
  for (let i = 0; i < n; i++) if (keep[i]) out.push(i);
  return out;
}
