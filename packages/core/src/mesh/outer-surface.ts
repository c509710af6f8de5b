import { boundaryFaces } from "./boundary.js";
import { ringOf, trianglesOf } from "./decompose.js";
import type { Mesh } from "./mesh.js";

/** Triangles of several meshes with the points that they use, for drawing. */
export class Surface {
  readonly points: number[] = [];
  readonly triangles: number[] = [];
  readonly owner: number[] = [];
  readonly edges: number[] = [];

  done(): { points: Float32Array; triangles: Uint32Array; owner: Uint16Array; edges: Uint32Array } {
    return {
      points: Float32Array.from(this.points),
      triangles: Uint32Array.from(this.triangles),
      owner: Uint16Array.from(this.owner),
      edges: Uint32Array.from(this.edges),
    };
  }
}

/** Faces that meet at less than this angle are one to the eye. */
const BEND = Math.cos((25 * Math.PI) / 180);

/** Adds a mesh's outer surface, and the edges at which it bends or ends. */
export function surfaceOf(mesh: Mesh, out: Surface, owner: number): void {
  const p = mesh.points;
  const own = new Map<number, number>();
  const point = (v: number): number => {
    let k = own.get(v);
    if (k === undefined) {
      k = out.points.length / 3;
      own.set(v, k);
      out.points.push(p[3 * v]!, p[3 * v + 1]!, p[3 * v + 2]!);
    }
    return k;
  };
  const edges = new Map<number, { normal: readonly number[]; count: number; bent: boolean }>();
  for (const { ring, triangles } of facesToDraw(mesh)) {
    for (const v of triangles) out.triangles.push(point(v));
    for (let k = 0; k < triangles.length; k += 3) out.owner.push(owner);
    const normal = normalOf(p, ring);
    for (let k = 0; k < ring.length; k++) {
      const [a, b] = [ring[k]!, ring[(k + 1) % ring.length]!];
      const key = Math.min(a, b) * mesh.pointCount + Math.max(a, b);
      const old = edges.get(key);
      if (!old) edges.set(key, { normal, count: 1, bent: false });
      else {
        old.count++;
        const n = old.normal;
        if (Math.abs(normal[0]! * n[0]! + normal[1]! * n[1]! + normal[2]! * n[2]!) < BEND) old.bent = true;
      }
    }
  }
  for (const [key, e] of edges)
    if (e.count === 1 || e.bent) out.edges.push(point(Math.floor(key / mesh.pointCount)), point(key % mesh.pointCount));
  if (mesh.dimension < 2) for (let v = 0; v < mesh.pointCount; v++) point(v);
  if (mesh.dimension === 1)
    for (let c = 0; c < mesh.cellCount; c++)
      for (let i = mesh.offsets[c]!; i + 1 < mesh.offsets[c + 1]!; i++)
        out.edges.push(point(mesh.nodes[i]!), point(mesh.nodes[i + 1]!));
}

function* facesToDraw(mesh: Mesh): Generator<{ ring: ArrayLike<number>; triangles: readonly number[] }> {
  if (mesh.dimension === 3) {
    const b = boundaryFaces(mesh);
    for (let f = 0; f < b.cell.length; f++) {
      const ring = b.nodes.subarray(b.offsets[f], b.offsets[f + 1]);
      const triangles: number[] = [];
      for (let k = 1; k + 1 < ring.length; k++) triangles.push(ring[0]!, ring[k]!, ring[k + 1]!);
      yield { ring, triangles };
    }
  } else if (mesh.dimension === 2)
    for (let c = 0; c < mesh.cellCount; c++) {
      const triangles = trianglesOf(mesh, c);
      const type = mesh.types[c]!;
      // Of cells whose nodes do not go around, the triangles are what is drawn.
      if (type === 6 || type === 8 || (type > 20 && type !== 36))
        for (let k = 0; k < triangles.length; k += 3)
          yield { ring: triangles.slice(k, k + 3), triangles: triangles.slice(k, k + 3) };
      else yield { ring: ringOf(mesh, c), triangles };
    }
}

function normalOf(p: Float64Array, f: ArrayLike<number>): readonly number[] {
  let [x, y, z] = [0, 0, 0];
  for (let k = 0; k < f.length; k++) {
    const [a, b] = [3 * f[k]!, 3 * f[(k + 1) % f.length]!];
    x += p[a + 1]! * p[b + 2]! - p[a + 2]! * p[b + 1]!;
    y += p[a + 2]! * p[b]! - p[a]! * p[b + 2]!;
    z += p[a]! * p[b + 1]! - p[a + 1]! * p[b]!;
  }
  const size = Math.hypot(x, y, z) || 1;
  return [x / size, y / size, z / size];
}

/** The edges of triangles that only one of them has, as pairs of places; line pieces as they are. */
export function openEdges(pieces: { readonly corners: 1 | 2 | 3 | 4; readonly places: Float64Array }): Float32Array {
  const { corners, places } = pieces;
  if (corners === 2) return Float32Array.from(places);
  if (corners === 4 || corners === 1) return new Float32Array(0);
  let size = 0;
  for (const v of places) size = Math.max(size, Math.abs(v));
  const grain = 1e-7 * size || 1;
  const name = (i: number): string =>
    `${Math.round(places[3 * i]! / grain)} ${Math.round(places[3 * i + 1]! / grain)} ${Math.round(places[3 * i + 2]! / grain)}`;
  const seen = new Map<string, readonly [number, number] | null>();
  for (let t = 0; t < places.length / 9; t++)
    for (let k = 0; k < 3; k++) {
      const [a, b] = [3 * t + k, 3 * t + ((k + 1) % 3)];
      const [u, v] = [name(a), name(b)];
      if (u === v) continue;
      const key = u < v ? `${u}|${v}` : `${v}|${u}`;
      seen.set(key, seen.has(key) ? null : [a, b]);
    }
  const open = [...seen.values()].filter((e) => e !== null);
  const out = new Float32Array(6 * open.length);
  open.forEach(([a, b], k) => {
    out.set(places.subarray(3 * a, 3 * a + 3), 6 * k);
    out.set(places.subarray(3 * b, 3 * b + 3), 6 * k + 3);
  });
  return out;
}
