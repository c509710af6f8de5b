import { cellType } from "./cell-types.js";
import { facesOf, ringOf } from "./decompose.js";
import { inTetra, local } from "./barycentric.js";
import { OFF, pieceOfPolygon, pieceOfPolyhedron } from "./cell-pieces.js";
import type { Mesh } from "./mesh.js";

export { local };

const n = new Float64Array(32);
const d = new Float64Array(96);
const STEPS = 24;
const FAR = 8;

/**
 * Whether a place lies in a cell, with some room in the cell's own coordinates; then {@link local} holds where.
 *
 * Tetrahedra by their barycentric coordinates, hexahedra and all others with shape functions by Newton's method run to
 * convergence, polygons and polyhedra by the triangles and tetrahedra about their middle.
 */
export function placeIn(mesh: Mesh, cell: number, x: number, y: number, z: number, room: number): boolean {
  const type = mesh.types[cell]!;
  if (type === 10) return inTetra(mesh, mesh.offsets[cell]!, x, y, z, room);
  if (type === 12 || type === 11) return inHexahedron(mesh, mesh.offsets[cell]!, type === 11, x, y, z, room);
  const t = cellType(type);
  if (t.shape) return t.dimension === 3 ? inShape(mesh, cell, x, y, z, room) : onShape(mesh, cell, x, y, z, room);
  if (t.dimension === 3) return pieceOfPolyhedron(mesh, cell, x, y, z, room) >= 0;
  if (t.dimension === 2) return pieceOfPolygon(mesh, cell, x, y, z, room) >= 0;
  return false;
}

const hex = new Float64Array(24);

/** The map of a trilinear cell, less a place, as polynomials in r, s and t: into `hex`. */
function trilinearMap(mesh: Mesh, at: number, voxel: boolean, x: number, y: number, z: number): void {
  const { points: p, nodes } = mesh;
  const i2 = voxel ? 3 : 2;
  const i3 = voxel ? 2 : 3;
  for (let k = 0; k < 3; k++) {
    const p0 = p[3 * nodes[at]! + k]!;
    const p1 = p[3 * nodes[at + 1]! + k]!;
    const p2 = p[3 * nodes[at + i2]! + k]!;
    const p3 = p[3 * nodes[at + i3]! + k]!;
    const p4 = p[3 * nodes[at + 4]! + k]!;
    const p5 = p[3 * nodes[at + 5]! + k]!;
    const p6 = p[3 * nodes[at + 4 + i2]! + k]!;
    const p7 = p[3 * nodes[at + 4 + i3]! + k]!;
    hex[8 * k] = p0 - (k === 0 ? x : k === 1 ? y : z);
    hex[8 * k + 1] = p1 - p0;
    hex[8 * k + 2] = p3 - p0;
    hex[8 * k + 3] = p4 - p0;
    hex[8 * k + 4] = p2 - p1 - p3 + p0;
    hex[8 * k + 5] = p7 - p3 - p4 + p0;
    hex[8 * k + 6] = p5 - p1 - p4 + p0;
    hex[8 * k + 7] = p6 - p5 - p7 + p4 - p2 + p1 + p3 - p0;
  }
}

/** Keeps the local coordinates that were found. */
function inside(r: number, s: number, t: number): true {
  local[0] = r;
  local[1] = s;
  local[2] = t;
  return true;
}

/** A trilinear cell: its map inverted by Newton's method. */
function inHexahedron(mesh: Mesh, at: number, voxel: boolean, x: number, y: number, z: number, room: number): boolean {
  trilinearMap(mesh, at, voxel, x, y, z);
  let r = 0.5;
  let s = 0.5;
  let t = 0.5;
  for (let step = 0; step < STEPS; step++) {
    const rs = r * s,
      st = s * t,
      rt = r * t,
      rst = rs * t;
    const fx =
      hex[0]! + hex[1]! * r + hex[2]! * s + hex[3]! * t + hex[4]! * rs + hex[5]! * st + hex[6]! * rt + hex[7]! * rst;
    const fy =
      hex[8]! +
      hex[9]! * r +
      hex[10]! * s +
      hex[11]! * t +
      hex[12]! * rs +
      hex[13]! * st +
      hex[14]! * rt +
      hex[15]! * rst;
    const fz =
      hex[16]! +
      hex[17]! * r +
      hex[18]! * s +
      hex[19]! * t +
      hex[20]! * rs +
      hex[21]! * st +
      hex[22]! * rt +
      hex[23]! * rst;
    const xr = hex[1]! + hex[4]! * s + hex[6]! * t + hex[7]! * st,
      xs = hex[2]! + hex[4]! * r + hex[5]! * t + hex[7]! * rt,
      xt = hex[3]! + hex[5]! * s + hex[6]! * r + hex[7]! * rs;
    const yr = hex[9]! + hex[12]! * s + hex[14]! * t + hex[15]! * st,
      ys = hex[10]! + hex[12]! * r + hex[13]! * t + hex[15]! * rt,
      yt = hex[11]! + hex[13]! * s + hex[14]! * r + hex[15]! * rs;
    const zr = hex[17]! + hex[20]! * s + hex[22]! * t + hex[23]! * st,
      zs = hex[18]! + hex[20]! * r + hex[21]! * t + hex[23]! * rt,
      zt = hex[19]! + hex[21]! * s + hex[22]! * r + hex[23]! * rs;
    const cx = ys * zt - yt * zs,
      cy = yt * zr - yr * zt,
      cz = yr * zs - ys * zr;
    const det = xr * cx + xs * cy + xt * cz;
    if (det === 0) return false;
    const dr = (fx * cx + xs * (yt * fz - fy * zt) + xt * (fy * zs - ys * fz)) / det;
    const ds = (xr * (fy * zt - yt * fz) + fx * cy + xt * (yr * fz - fy * zr)) / det;
    const dt = (xr * (ys * fz - fy * zs) + xs * (fy * zr - yr * fz) + fx * cz) / det;
    r -= dr;
    s -= ds;
    t -= dt;
    const size = Math.abs(dr) + Math.abs(ds) + Math.abs(dt);
    if (size < 1e-13) break;
    if (!(r > -FAR && r < FAR && s > -FAR && s < FAR && t > -FAR && t < FAR)) return false;
    if (step === STEPS - 1 && size > 1e-9) return false;
  }
  if (!(r >= -room && r <= 1 + room && s >= -room && s <= 1 + room && t >= -room && t <= 1 + room)) return false;
  return inside(r, s, t);
}

/** The tip of a pyramid, where its map has no inverse: all of its base maps there. */
function atTip({ points: p, nodes }: Mesh, at: number, x: number, y: number, z: number): boolean {
  const tip = 3 * nodes[at + 4]!;
  const base = 3 * nodes[at]!;
  const size = Math.hypot(p[tip]! - p[base]!, p[tip + 1]! - p[base + 1]!, p[tip + 2]! - p[base + 2]!);
  return Math.hypot(x - p[tip]!, y - p[tip + 1]!, z - p[tip + 2]!) <= 1e-9 * size;
}

function inShape(mesh: Mesh, cell: number, x: number, y: number, z: number, room: number): boolean {
  const t = cellType(mesh.types[cell]!);
  const at = mesh.offsets[cell]!;
  const { points: p, nodes } = mesh;
  if ((mesh.types[cell] === 14 || mesh.types[cell] === 27) && atTip(mesh, at, x, y, z)) {
    return inside(0.5, 0.5, 1);
  }
  let [r, s, u] = t.middle!;
  for (let step = 0; step < STEPS; step++) {
    t.shape!(r, s, u, n, d);
    let fx = -x,
      fy = -y,
      fz = -z;
    let [xr, xs, xt] = [0, 0, 0];
    let [yr, ys, yt] = [0, 0, 0];
    let [zr, zs, zt] = [0, 0, 0];
    for (let i = 0; i < t.nodes; i++) {
      const v = 3 * nodes[at + i]!;
      const px = p[v]!,
        py = p[v + 1]!,
        pz = p[v + 2]!;
      const dr = d[3 * i]!,
        ds = d[3 * i + 1]!,
        dt = d[3 * i + 2]!;
      fx += n[i]! * px;
      fy += n[i]! * py;
      fz += n[i]! * pz;
      xr += dr * px;
      xs += ds * px;
      xt += dt * px;
      yr += dr * py;
      ys += ds * py;
      yt += dt * py;
      zr += dr * pz;
      zs += ds * pz;
      zt += dt * pz;
    }
    const cx = ys * zt - yt * zs,
      cy = yt * zr - yr * zt,
      cz = yr * zs - ys * zr;
    const det = xr * cx + xs * cy + xt * cz;
    if (det === 0) break; // The tip of a pyramid: all of its base maps there.
    const dr = (fx * cx + xs * (yt * fz - fy * zt) + xt * (fy * zs - ys * fz)) / det;
    const ds = (xr * (fy * zt - yt * fz) + fx * cy + xt * (yr * fz - fy * zr)) / det;
    const dt = (xr * (ys * fz - fy * zs) + xs * (fy * zr - yr * fz) + fx * cz) / det;
    r -= dr;
    s -= ds;
    u -= dt;
    const size = Math.abs(dr) + Math.abs(ds) + Math.abs(dt);
    if (size < 1e-13) break;
    if (!(Math.abs(r) < FAR && Math.abs(s) < FAR && Math.abs(u) < FAR)) return false;
    if (step === STEPS - 1 && size > 1e-9) return false;
  }
  if ((mesh.types[cell] === 14 || mesh.types[cell] === 27) && u > 1 - 1e-7 && u < 1 + room)
    [r, s, u] = [0.5, 0.5, Math.min(u, 1)];
  if (!t.inside!(r, s, u, room)) return false;
  return inside(r, s, u);
}

/** A surface cell with shape functions: the nearest place on it by Gauss-Newton, which has to be near enough. */
function onShape(mesh: Mesh, cell: number, x: number, y: number, z: number, room: number): boolean {
  const t = cellType(mesh.types[cell]!);
  const at = mesh.offsets[cell]!;
  const { points: p, nodes } = mesh;
  let [r, s] = t.middle!;
  let size2 = 0;
  let off2 = Infinity;
  for (let step = 0; step < STEPS; step++) {
    t.shape!(r, s, 0, n, d);
    let fx = -x,
      fy = -y,
      fz = -z,
      xr = 0,
      xs = 0,
      yr = 0,
      ys = 0,
      zr = 0,
      zs = 0;
    for (let i = 0; i < t.nodes; i++) {
      const v = 3 * nodes[at + i]!;
      const px = p[v]!,
        py = p[v + 1]!,
        pz = p[v + 2]!,
        dr = d[3 * i]!,
        ds = d[3 * i + 1]!;
      fx += n[i]! * px;
      fy += n[i]! * py;
      fz += n[i]! * pz;
      xr += dr * px;
      xs += ds * px;
      yr += dr * py;
      ys += ds * py;
      zr += dr * pz;
      zs += ds * pz;
    }
    const rr = xr * xr + yr * yr + zr * zr,
      rs = xr * xs + yr * ys + zr * zs,
      ss = xs * xs + ys * ys + zs * zs;
    size2 = Math.max(rr, ss);
    off2 = fx * fx + fy * fy + fz * fz;
    const det = rr * ss - rs * rs;
    if (det === 0) return false;
    const gr = xr * fx + yr * fy + zr * fz,
      gs = xs * fx + ys * fy + zs * fz;
    const dr = (gr * ss - gs * rs) / det,
      ds = (gs * rr - gr * rs) / det;
    r -= dr;
    s -= ds;
    const moved = Math.abs(dr) + Math.abs(ds);
    if (moved < 1e-13) break;
    if (!(Math.abs(r) < FAR && Math.abs(s) < FAR)) return false;
    if (step === STEPS - 1 && moved > 1e-9) return false;
  }
  if (off2 > Math.max(OFF, room) ** 2 * size2 || !t.inside!(r, s, 0, room)) return false;
  local[0] = r;
  local[1] = s;
  local[2] = 0;
  return true;
}

/**
 * The nodes and weights that give a linear field's value at a place in a cell, appended to two lists. The place is that
 * of {@link local}, as {@link placeIn} has just found it.
 */
export function weightsAt(
  mesh: Mesh,
  cell: number,
  x: number,
  y: number,
  z: number,
  room: number,
  nodes: number[],
  weights: number[],
): void {
  const t = cellType(mesh.types[cell]!);
  const start = mesh.offsets[cell]!;
  if (t.shape) {
    t.shape(local[0]!, local[1]!, local[2]!, n, d);
    for (let i = 0; i < t.nodes; i++) {
      nodes.push(mesh.nodes[start + i]!);
      weights.push(n[i]!);
    }
    return;
  }
  const add = (list: ArrayLike<number>, w: number): void => {
    for (let i = 0; i < list.length; i++) {
      nodes.push(list[i]!);
      weights.push(w / list.length);
    }
  };
  if (t.dimension === 2) {
    // Found anew: `local` is then that of the piece.
    const k = pieceOfPolygon(mesh, cell, x, y, z, room);
    const [r, s] = [local[0]!, local[1]!];
    const list = ringOf(mesh, cell);
    add([list[k]!], r);
    add([list[(k + 1) % list.length]!], s);
    add(list, 1 - r - s);
    return;
  }
  let k = pieceOfPolyhedron(mesh, cell, x, y, z, room);
  const [r, s, u] = [local[0]!, local[1]!, local[2]!];
  const faces = facesOf(mesh, cell);
  const face = faces.find((f) => (k < f.length ? true : ((k -= f.length), false)))!;
  add([face[k]!], 1 - r - s - u);
  add([face[(k + 1) % face.length]!], r);
  add(face, s);
  add(
    [...new Set(faces.flat())].sort((a, b) => a - b),
    u,
  );
}
