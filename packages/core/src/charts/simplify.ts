/**
 * Leaves out points that lie on the line between their neighbours, to within `tolerance` of a pixel. Gaps stay; the
 * ends of each stretch stay. Where x rises, once through: from each point that is kept the next one is the last to
 * which a straight line passes all between them (E. Bristol, Swinging door trending, 1990); lines that turn back by U.
 * Ramer (1972) and D. Douglas, T. Peucker (1973).
 *
 * @param xs places in pixels
 * @returns which points to keep, in order
 */
export function simplified(xs: ArrayLike<number>, ys: ArrayLike<number>, tolerance = 0.06): number[] {
  return onceThrough(xs, ys, tolerance) ?? byHalves(xs, ys, tolerance);
}

function onceThrough(xs: ArrayLike<number>, ys: ArrayLike<number>, tolerance: number): number[] | undefined {
  const out: number[] = [];
  let anchor = -1;
  let [low, high] = [-Infinity, Infinity];
  let last = -1;
  for (let i = 0; i < xs.length; i++) {
    const [x, y] = [xs[i]!, ys[i]!];
    if (x - x !== 0 || y - y !== 0) {
      if (last > anchor) out.push(last);
      out.push(i);
      anchor = last = -1;
      continue;
    }
    if (anchor >= 0) {
      if (x < xs[last]!) return undefined;
      const dx = x - xs[anchor]!;
      const slope = (y - ys[anchor]!) / dx;
      if (last > anchor && !(dx > 0 && slope >= low && slope <= high)) {
        out.push(last);
        anchor = last;
        [low, high] = [-Infinity, Infinity];
      }
    } else {
      out.push(i);
      anchor = i;
      [low, high] = [-Infinity, Infinity];
    }
    last = i;
    const dx = x - xs[anchor]!;
    if (dx > 0) {
      const [a, b] = [(y - tolerance - ys[anchor]!) / dx, (y + tolerance - ys[anchor]!) / dx];
      if (a > low) low = a;
      if (b < high) high = b;
    }
  }
  if (last > anchor) out.push(last);
  return out;
}

function byHalves(xs: ArrayLike<number>, ys: ArrayLike<number>, tolerance: number): number[] {
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
