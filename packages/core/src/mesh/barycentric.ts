import type { Mesh } from "./mesh.js";

/** Where a place lies in a cell's own coordinates; what was found last. */
export const local = new Float64Array(3);

/** Whether a place lies in a tetrahedron, with some room; then {@link local} holds where. */
export function inTetra(mesh: Mesh, at: number, x: number, y: number, z: number, room: number): boolean {
  const { points: p, nodes } = mesh;
  const a = 3 * nodes[at]!;
  const b = 3 * nodes[at + 1]!;
  const c = 3 * nodes[at + 2]!;
  const e = 3 * nodes[at + 3]!;
  return barycentric(
    p[a]!,
    p[a + 1]!,
    p[a + 2]!,
    p[b]!,
    p[b + 1]!,
    p[b + 2]!,
    p[c]!,
    p[c + 1]!,
    p[c + 2]!,
    p[e]!,
    p[e + 1]!,
    p[e + 2]!,
    x,
    y,
    z,
    room,
  );
}

/** The same of four corners. */
export function barycentric(
  ax: number,
  ay: number,
  az: number,
  bx: number,
  by: number,
  bz: number,
  cx: number,
  cy: number,
  cz: number,
  ex: number,
  ey: number,
  ez: number,
  x: number,
  y: number,
  z: number,
  room: number,
): boolean {
  const ux = bx - ax,
    uy = by - ay,
    uz = bz - az;
  const vx = cx - ax,
    vy = cy - ay,
    vz = cz - az;
  const wx = ex - ax,
    wy = ey - ay,
    wz = ez - az;
  const qx = x - ax,
    qy = y - ay,
    qz = z - az;
  const mx = vy * wz - vz * wy,
    my = vz * wx - vx * wz,
    mz = vx * wy - vy * wx;
  const det = ux * mx + uy * my + uz * mz;
  if (det === 0) return false;
  const r = (qx * mx + qy * my + qz * mz) / det;
  if (!(r >= -room && r <= 1 + room)) return false;
  const kx = uy * qz - uz * qy,
    ky = uz * qx - ux * qz,
    kz = ux * qy - uy * qx;
  const s = (wx * kx + wy * ky + wz * kz) / det;
  const t = -(vx * kx + vy * ky + vz * kz) / det;
  if (!(s >= -room && t >= -room && r + s + t <= 1 + room)) return false;
  local[0] = r;
  local[1] = s;
  local[2] = t;
  return true;
}
