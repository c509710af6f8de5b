import { barycentric, local } from "./barycentric.js";
import { facesOf, ringOf } from "./decompose.js";
import type { Mesh } from "./mesh.js";

/** How far off a surface, in cell sizes, a place may lie to count as on it. */
export const OFF = 1e-6;

/** The middle of some nodes. */
function middleOf(p: Float64Array, list: ArrayLike<number>, out: Float64Array): void {
  out.fill(0);
  for (let i = 0; i < list.length; i++) for (let k = 0; k < 3; k++) out[k]! += p[3 * list[i]! + k]! / list.length;
}

const m = new Float64Array(3);
const g = new Float64Array(3);

/** Which tetrahedron, of a face's edge, the face's middle and the cell's middle, holds a place; −1 when none does. */
export function pieceOfPolyhedron(mesh: Mesh, cell: number, x: number, y: number, z: number, room: number): number {
  const { points: p } = mesh;
  const faces = facesOf(mesh, cell);
  middleOf(
    p,
    [...new Set(faces.flat())].sort((a, b) => a - b),
    g,
  );
  let piece = 0;
  for (const f of faces) {
    middleOf(p, f, m);
    for (let k = 0; k < f.length; k++, piece++) {
      const a = 3 * f[k]!;
      const b = 3 * f[(k + 1) % f.length]!;
      if (
        barycentric(
          p[a]!,
          p[a + 1]!,
          p[a + 2]!,
          p[b]!,
          p[b + 1]!,
          p[b + 2]!,
          m[0]!,
          m[1]!,
          m[2]!,
          g[0]!,
          g[1]!,
          g[2]!,
          x,
          y,
          z,
          room,
        )
      )
        return piece;
    }
  }
  return -1;
}

/** Which triangle, of a polygon's edge and its middle, holds a place; −1 when none does. */
export function pieceOfPolygon(mesh: Mesh, cell: number, x: number, y: number, z: number, room: number): number {
  const { points: p } = mesh;
  const list = ringOf(mesh, cell);
  middleOf(p, list, m);
  for (let k = 0; k < list.length; k++) {
    const a = 3 * list[k]!;
    const b = 3 * list[(k + 1) % list.length]!;
    const ux = p[a]! - m[0]!,
      uy = p[a + 1]! - m[1]!,
      uz = p[a + 2]! - m[2]!;
    const vx = p[b]! - m[0]!,
      vy = p[b + 1]! - m[1]!,
      vz = p[b + 2]! - m[2]!;
    const qx = x - m[0]!,
      qy = y - m[1]!,
      qz = z - m[2]!;
    const uu = ux * ux + uy * uy + uz * uz,
      uv = ux * vx + uy * vy + uz * vz,
      vv = vx * vx + vy * vy + vz * vz;
    const det = uu * vv - uv * uv;
    if (det === 0) continue;
    const qu = qx * ux + qy * uy + qz * uz,
      qv = qx * vx + qy * vy + qz * vz;
    const r = (qu * vv - qv * uv) / det,
      s = (qv * uu - qu * uv) / det;
    if (!(r >= -room && s >= -room && r + s <= 1 + room)) continue;
    const ox = qx - r * ux - s * vx,
      oy = qy - r * uy - s * vy,
      oz = qz - r * uz - s * vz;
    if (ox * ox + oy * oy + oz * oz > Math.max(OFF, room) ** 2 * Math.max(uu, vv)) continue;
    local[0] = r;
    local[1] = s;
    local[2] = 0;
    return k;
  }
  return -1;
}
