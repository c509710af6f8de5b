import { cellType } from "./cell-types.js";
import { facesOf, trianglesOf } from "./decompose.js";
import type { Mesh } from "./mesh.js";

/** Half the cross product of two edges of a triangle: its area as a vector. */
export function triangleArea(p: Float64Array, a: number, b: number, c: number, out: Float64Array): void {
  const [ax, ay, az] = [p[3 * a]!, p[3 * a + 1]!, p[3 * a + 2]!];
  const [ux, uy, uz] = [p[3 * b]! - ax, p[3 * b + 1]! - ay, p[3 * b + 2]! - az];
  const [vx, vy, vz] = [p[3 * c]! - ax, p[3 * c + 1]! - ay, p[3 * c + 2]! - az];
  out[0] = (uy * vz - uz * vy) / 2;
  out[1] = (uz * vx - ux * vz) / 2;
  out[2] = (ux * vy - uy * vx) / 2;
}

/**
 * The volume of each cell (of volume cells), area (of surface cells) or length (of lines).
 *
 * Volumes are sums over faces split about their middle (divergence theorem), the same for both cells that share a face:
 * so volumes add up whatever the faces' warp.
 */
export function cellMeasures(mesh: Mesh): Float64Array {
  const out = new Float64Array(mesh.cellCount);
  const { points: p } = mesh;
  const area = new Float64Array(3);
  for (let c = 0; c < mesh.cellCount; c++) {
    const { dimension } = cellType(mesh.types[c]!);
    if (dimension === 3) out[c] = volume(mesh, c);
    else if (dimension === 2) {
      const t = trianglesOf(mesh, c);
      // The vector sum: right also for polygons that are not convex.
      let [x, y, z] = [0, 0, 0];
      for (let k = 0; k < t.length; k += 3) {
        triangleArea(p, t[k]!, t[k + 1]!, t[k + 2]!, area);
        x += area[0]!;
        y += area[1]!;
        z += area[2]!;
      }
      out[c] = Math.hypot(x, y, z);
    } else if (dimension === 1)
      for (let i = mesh.offsets[c]!; i + 1 < mesh.offsets[c + 1]!; i++) {
        const [a, b] = [3 * mesh.nodes[i]!, 3 * mesh.nodes[i + 1]!];
        out[c]! += Math.hypot(p[b]! - p[a]!, p[b + 1]! - p[a + 1]!, p[b + 2]! - p[a + 2]!);
      }
  }
  return out;
}

function volume(mesh: Mesh, cell: number): number {
  const { points: p } = mesh;
  let sum = 0;
  const first = 3 * mesh.nodes[mesh.offsets[cell]!]!;
  const [ox, oy, oz] = [p[first]!, p[first + 1]!, p[first + 2]!];
  for (const f of facesOf(mesh, cell)) {
    const n = f.length;
    let [mx, my, mz] = [0, 0, 0];
    for (const v of f) {
      mx += p[3 * v]!;
      my += p[3 * v + 1]!;
      mz += p[3 * v + 2]!;
    }
    mx = mx / n - ox;
    my = my / n - oy;
    mz = mz / n - oz;
    for (let k = 0; k < n; k++) {
      const [a, b] = [3 * f[k]!, 3 * f[(k + 1) % n]!];
      const [ax, ay, az] = [p[a]! - ox, p[a + 1]! - oy, p[a + 2]! - oz];
      const [bx, by, bz] = [p[b]! - ox, p[b + 1]! - oy, p[b + 2]! - oz];
      sum += mx * (ay * bz - az * by) + my * (az * bx - ax * bz) + mz * (ax * by - ay * bx);
    }
  }
  return Math.abs(sum) / 6;
}
