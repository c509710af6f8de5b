import type { Pieces } from "./pieces.js";

/** Some of the pieces of several blocks. */
export interface Connected {
  /** By set of pieces: which of them belong to the part; undefined where all do. */
  readonly own: readonly (readonly number[] | undefined)[];
  /** How many parts the cut falls into. */
  readonly parts: number;
}

/**
 * Of a cut through several blocks the part that is connected to a place: pieces that share a corner are connected, also
 * across blocks (corners count as one within a billionth of the cut's extent). The part whose piece comes nearest is
 * taken.
 */
export function connectedTo(sets: readonly Pieces[], place: readonly number[]): Connected {
  const extent = Math.max(1e-300, ...sets.map((p) => extentOf(p.places)));
  const parent: number[] = [];
  const root = (i: number): number => {
    let r = i;
    while (parent[r] !== r) r = parent[r]!;
    while (parent[i] !== r) [parent[i], i] = [r, parent[i]!];
    return r;
  };
  const atCorner = new Map<string, number>();
  const first: number[] = [];
  for (const p of sets) {
    first.push(parent.length);
    for (let t = 0; t < p.size.length; t++) {
      const me = parent.push(parent.length) - 1;
      for (let k = 0; k < p.corners; k++) {
        const c = 3 * (p.corners * t + k);
        const key = [0, 1, 2].map((d) => Math.round(p.places[c + d]! / (extent * 1e-9))).join(" ");
        const other = atCorner.get(key);
        if (other === undefined) atCorner.set(key, me);
        else parent[root(me)] = root(other);
      }
    }
  }
  let nearest = -1;
  let best = Infinity;
  sets.forEach((p, s) => {
    for (let t = 0; t < p.size.length; t++) {
      const d = distanceTo(p, t, place);
      if (d < best) [best, nearest] = [d, first[s]! + t];
    }
  });
  const roots = new Set(parent.map((_, i) => root(i)));
  if (roots.size < 2) return { own: sets.map(() => undefined), parts: roots.size };
  const wanted = root(nearest);
  const own = sets.map((p, s) =>
    Array.from({ length: p.size.length }, (_, t) => t).filter((t) => root(first[s]! + t) === wanted),
  );
  return { own, parts: roots.size };
}

function extentOf(places: Float64Array): number {
  let most = 0;
  for (const v of places) if (Math.abs(v) > most) most = Math.abs(v);
  return most;
}

/** The distance of a place from a triangle or line piece (C. Ericson, "Real-Time Collision Detection", 2005, ch. 5). */
function distanceTo(p: Pieces, t: number, place: readonly number[]): number {
  const at = (k: number): number[] => [0, 1, 2].map((d) => p.places[3 * (p.corners * t + k) + d]!);
  const minus = (a: readonly number[], b: readonly number[]): number[] => a.map((v, d) => v - b[d]!);
  const dot = (a: readonly number[], b: readonly number[]): number => a[0]! * b[0]! + a[1]! * b[1]! + a[2]! * b[2]!;
  const toLine = (a: readonly number[], b: readonly number[]): number => {
    const ab = minus(b, a);
    const s = Math.min(1, Math.max(0, dot(minus(place, a), ab) / (dot(ab, ab) || 1)));
    return Math.hypot(
      ...minus(
        place,
        a.map((v, d) => v + s * ab[d]!),
      ),
    );
  };
  if (p.corners < 3) return toLine(at(0), at(p.corners - 1));
  const [a, b, c] = [at(0), at(1), at(2)];
  const [u, v, w] = [minus(b, a), minus(c, a), minus(place, a)];
  const [uu, uv, vv, wu, wv] = [dot(u, u), dot(u, v), dot(v, v), dot(w, u), dot(w, v)];
  const det = uu * vv - uv * uv;
  const r = (wu * vv - wv * uv) / det;
  const s = (wv * uu - wu * uv) / det;
  if (r >= 0 && s >= 0 && r + s <= 1) return Math.hypot(...w.map((x, d) => x - r * u[d]! - s * v[d]!));
  return Math.min(toLine(a, b), toLine(b, c), toLine(c, a));
}
