import type { Scene } from "./description.js";

const sizeOf = (t: Float64Array, o: number): number =>
  Math.abs(t[o + 3]! - t[o]!) +
  Math.abs(t[o + 4]! - t[o + 1]!) +
  Math.abs(t[o + 5]! - t[o + 2]!) +
  Math.abs(t[o + 6]! - t[o]!) +
  Math.abs(t[o + 7]! - t[o + 1]!) +
  Math.abs(t[o + 8]! - t[o + 2]!);

/** Lines on which a scene's values are equal: six coordinates a piece, cut from its triangles. */
export function contourPieces(scene: Scene, level: number): Float64Array {
  const { triangles: t, values: v } = scene;
  const out: number[] = [];
  for (let k = 0; k < v.length / 3; k++) {
    const w = [v[3 * k]! - level, v[3 * k + 1]! - level, v[3 * k + 2]! - level];
    if (w.some((x) => x !== x)) continue;
    const ends: number[] = [];
    for (let e = 0; e < 3; e++) {
      const [a, b] = [w[e]!, w[(e + 1) % 3]!];
      // A corner exactly on the level belongs to the upper side: each line has two ends.
      if (a >= 0 === b >= 0) continue;
      const f = a / (a - b);
      for (let d = 0; d < 3; d++) {
        const [p, q] = [t[9 * k + 3 * e + d]!, t[9 * k + 3 * ((e + 1) % 3) + d]!];
        ends.push(p + f * (q - p));
      }
    }
    // Where the level runs through a corner there are pieces without length.
    if (
      ends.length === 6 &&
      Math.hypot(ends[0]! - ends[3]!, ends[1]! - ends[4]!, ends[2]! - ends[5]!) > 1e-9 * sizeOf(t, 9 * k)
    )
      out.push(...ends);
  }
  return Float64Array.from(out);
}

/** Pieces that meet, joined to lines; the longest first. Ends closer than `grain` are one. */
export function joined(pieces: Float64Array, grain: number): Float64Array[] {
  const key = (k: number): string =>
    `${Math.round(pieces[k]! / grain)} ${Math.round(pieces[k + 1]! / grain)} ${Math.round(pieces[k + 2]! / grain)}`;
  const at = new Map<string, number[]>();
  const count = pieces.length / 6;
  for (let p = 0; p < count; p++)
    for (const end of [6 * p, 6 * p + 3]) {
      const list = at.get(key(end));
      if (list) list.push(p);
      else at.set(key(end), [p]);
    }
  const used = new Uint8Array(count);
  const lines: number[][] = [];
  const follow = (line: number[], from: string): void => {
    let here = from;
    for (;;) {
      const next = at.get(here)?.find((p) => used[p] === 0);
      if (next === undefined) return;
      used[next] = 1;
      const [a, b] = [6 * next, 6 * next + 3];
      const far = key(a) === here ? b : a;
      line.push(pieces[far]!, pieces[far + 1]!, pieces[far + 2]!);
      here = key(far);
    }
  };
  for (let p = 0; p < count; p++) {
    if (used[p]) continue;
    used[p] = 1;
    const forward = [...pieces.subarray(6 * p + 3, 6 * p + 6)];
    follow(forward, key(6 * p + 3));
    const back = [...pieces.subarray(6 * p, 6 * p + 3)];
    follow(back, key(6 * p));
    const line: number[] = [];
    for (let k = back.length - 3; k >= 0; k -= 3) line.push(back[k]!, back[k + 1]!, back[k + 2]!);
    lines.push([...line, ...forward]);
  }
  return lines.sort((a, b) => b.length - a.length).map((l) => Float64Array.from(l));
}
