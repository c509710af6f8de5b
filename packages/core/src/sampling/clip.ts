import type { Clipped, Pieces } from "./piece-kinds.js";
import type { Axis, Box } from "./places.js";

/** A corner of a polygon within a piece: its shares, and where it lies. */
interface Corner {
  readonly shares: readonly number[];
  readonly place: readonly number[];
}

/**
 * The parts of triangles or line pieces that lie in a box, as pieces again (I. E. Sutherland, G. W. Hodgman, "Reentrant
 * polygon clipping", CACM 17, 1974). Areas and means of linear fields stay exact.
 */
export function clipped(pieces: Pieces, box: Box): Pieces {
  const k = pieces.corners;
  const sides = (Object.keys(box).sort() as Axis[]).flatMap((a) => {
    const d = "xyz".indexOf(a);
    return [
      { d, at: box[a]![0], sign: 1 },
      { d, at: box[a]![1], sign: -1 },
    ];
  });
  const piece: number[] = [];
  const shares: number[] = [];
  const places: number[] = [];
  for (let t = 0; t < pieces.size.length; t++) {
    let ring: Corner[] = Array.from({ length: k }, (_, i) => ({
      shares: Array.from({ length: k }, (__, j) => (i === j ? 1 : 0)),
      place: Array.from(pieces.places.subarray(3 * (k * t + i), 3 * (k * t + i) + 3)),
    }));
    for (const s of sides) ring = ring.length === 0 ? ring : cutSide(ring, s, k === 3);
    for (let i = 1; k === 3 ? i + 1 < ring.length : i < Math.min(2, ring.length); i++) {
      piece.push(t);
      for (const c of k === 3 ? [ring[0]!, ring[i]!, ring[i + 1]!] : [ring[0]!, ring[1]!]) {
        shares.push(...c.shares);
        places.push(...c.place);
      }
    }
  }
  const n = piece.length;
  const all = Float64Array.from(places);
  const size = new Float64Array(n);
  const normals = pieces.normals && new Float64Array(3 * n);
  for (let t = 0; t < n; t++) {
    const e = (c: number, d: number): number => all[3 * (k * t + c) + d]! - all[3 * k * t + d]!;
    const [x, y, z] = [0, 1, 2].map((d) =>
      k === 3 ? e(1, (d + 1) % 3) * e(2, (d + 2) % 3) - e(1, (d + 2) % 3) * e(2, (d + 1) % 3) : e(1, d),
    ) as [number, number, number];
    size[t] = Math.hypot(x, y, z) / (k === 3 ? 2 : 1);
    for (let d = 0; normals && d < 3; d++) normals[3 * t + d] = pieces.normals![3 * piece[t]! + d]!;
  }
  const cell = Int32Array.from(piece, (t) => pieces.cell[t]!);
  const none = new Int32Array(0);
  return {
    corners: k,
    from: none,
    to: none,
    part: new Float64Array(0),
    cell,
    size,
    places: all,
    normals,
    clipped: { of: pieces, piece: Int32Array.from(piece), shares: Float64Array.from(shares) },
  };
}

function cutSide(ring: readonly Corner[], s: { d: number; at: number; sign: number }, closed: boolean): Corner[] {
  const height = (c: Corner): number => s.sign * (c.place[s.d]! - s.at);
  const out: Corner[] = [];
  for (let i = 0; i < ring.length; i++) {
    const [a, b] = [ring[i]!, ring[(i + 1) % ring.length]!];
    const [ha, hb] = [height(a), height(b)];
    if (ha >= 0) out.push(a);
    if (!closed && i === ring.length - 1) break;
    if (ha >= 0 === hb >= 0) continue;
    const t = ha / (ha - hb);
    const mix = (u: readonly number[], v: readonly number[]): number[] => u.map((x, j) => (1 - t) * x + t * v[j]!);
    const place = mix(a.place, b.place);
    place[s.d] = s.at;
    out.push({ shares: mix(a.shares, b.shares), place });
  }
  return out;
}

/** Values at the corners of clipped pieces from those at the corners of what they are parts of. */
export function valuesOfClipped(c: Clipped, corners: number, values: Float64Array): Float64Array {
  const out = new Float64Array(c.piece.length * corners);
  for (let i = 0; i < out.length; i++) {
    const first = corners * c.piece[Math.floor(i / corners)]!;
    for (let k = 0; k < corners; k++) {
      const share = c.shares[corners * i + k]!;
      if (share !== 0) out[i]! += share * values[first + k]!;
    }
  }
  return out;
}
