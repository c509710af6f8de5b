import { cellType } from "./cell-types.js";
import type { Mesh } from "./mesh.js";

/**
 * Splits volume cells into tetrahedra by their corner nodes, and surface cells into triangles. A face of four corners
 * is split through its corner with the smallest number, so that neighbours split what they share in the same way (J.
 * Dompierre et al., "How to subdivide pyramids, prisms and hexahedra into tetrahedra", 8th Int. Meshing Roundtable
 * 1999).
 */

/** Triangles of a polygon of mesh nodes, from its corner with the smallest number. */
function fan(nodes: ArrayLike<number>, out: number[]): void {
  let least = 0;
  for (let k = 1; k < nodes.length; k++) if (nodes[k]! < nodes[least]!) least = k;
  const n = nodes.length;
  for (let k = 1; k + 1 < n; k++) out.push(nodes[least]!, nodes[(least + k) % n]!, nodes[(least + k + 1) % n]!);
}

/** The faces of a volume cell as lists of mesh nodes, turned outward. */
export function facesOf(mesh: Mesh, cell: number): number[][] {
  const t = cellType(mesh.types[cell]!);
  const start = mesh.offsets[cell]!;
  if (t.faces) return t.faces.map((f) => f.map((k) => mesh.nodes[start + k]!));
  const p = mesh.polyhedra;
  if (!p) return [];
  const out: number[][] = [];
  for (let f = p.cellOffsets[cell]!; f < p.cellOffsets[cell + 1]!; f++)
    out.push(Array.from(p.nodes.subarray(p.faceOffsets[f]!, p.faceOffsets[f + 1]!)));
  return out;
}

/** The nodes around a polygon, in order; a quadratic one lists its corners first, then the middles of its edges. */
export function ringOf(mesh: Mesh, cell: number): ArrayLike<number> {
  const all = mesh.nodes.subarray(mesh.offsets[cell]!, mesh.offsets[cell + 1]!);
  if (mesh.types[cell] !== 36) return all;
  const half = all.length >> 1;
  return Array.from({ length: 2 * half }, (_, k) => all[k % 2 === 0 ? k / 2 : half + (k - 1) / 2]!);
}

/** Triangles of a surface cell, three mesh nodes each. */
export function trianglesOf(mesh: Mesh, cell: number): number[] {
  const type = mesh.types[cell]!;
  const t = cellType(type);
  const all = mesh.nodes.subarray(mesh.offsets[cell]!, mesh.offsets[cell + 1]!);
  const out: number[] = [];
  if (t.dimension !== 2) return out;
  if (type === 6) {
    for (let k = 0; k + 2 < all.length; k++) out.push(all[k]!, all[k + 1 + (k % 2)]!, all[k + 2 - (k % 2)]!);
    return out;
  }
  const corners =
    type === 36
      ? ringOf(mesh, cell)
      : type === 8
        ? [all[0]!, all[1]!, all[3]!, all[2]!]
        : t.corners
          ? t.corners.map((k) => all[k]!)
          : all;
  fan(corners, out);
  return out;
}

/**
 * Tetrahedra of a volume cell, four mesh nodes each: the cell's corner with the smallest number is tied to the
 * triangles of all faces that do not hold it. Right for convex cells, which mesh cells are.
 */
export function tetrahedraOf(mesh: Mesh, cell: number): number[] {
  if (mesh.types[cell] === 10) return Array.from(mesh.nodes.subarray(mesh.offsets[cell]!, mesh.offsets[cell]! + 4));
  const faces = facesOf(mesh, cell);
  let apex = Infinity;
  for (const f of faces) for (const n of f) if (n < apex) apex = n;
  const out: number[] = [];
  const triangles: number[] = [];
  for (const f of faces) {
    if (f.includes(apex)) continue;
    triangles.length = 0;
    fan(f, triangles);
    for (let k = 0; k < triangles.length; k += 3) out.push(apex, triangles[k]!, triangles[k + 1]!, triangles[k + 2]!);
  }
  return out;
}
