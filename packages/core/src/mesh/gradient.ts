import { cellType } from "./cell-types.js";
import { tetrahedraOf, trianglesOf } from "./decompose.js";
import { cellMeasures } from "./measures.js";
import type { Mesh } from "./mesh.js";
import { pointsToCells } from "./transfer.js";

/** Derivatives in each cell: `components × 3` numbers per cell, ∂f₀/∂x ∂f₀/∂y ∂f₀/∂z ∂f₁/∂x … */
export type Gradient = Float64Array;

/**
 * The gradient of a field in every cell. Of a point field it is that of the cell's shape functions at its middle (of
 * polygons and polyhedra: the mean over their triangles or tetrahedra, weighted by size). Of a cell field it is the
 * plane of least squares through the middles of the cells of its dimension that share a node (T. J. Barth, "A 3-D
 * upwind Euler solver for unstructured meshes", AIAA 91-1548, 1991), weighted by inverse squared distance. Both are
 * exact for linear fields; on surfaces the gradient lies in the surface.
 */
export function cellGradients(mesh: Mesh, on: "point" | "cell", values: Float64Array, components: number): Gradient {
  const out = new Float64Array(mesh.cellCount * components * 3);
  if (on === "cell") leastSquares(mesh, values, components, out);
  else for (let c = 0; c < mesh.cellCount; c++) ofShape(mesh, c, values, components, out);
  return out;
}

const n = new Float64Array(32);
const d = new Float64Array(96);

function ofShape(mesh: Mesh, c: number, values: Float64Array, components: number, out: Float64Array): void {
  const t = cellType(mesh.types[c]!);
  if (t.dimension < 2) {
    out.fill(Number.NaN, c * components * 3, (c + 1) * components * 3);
    return;
  }
  if (t.shape) {
    t.shape(...t.middle!, n, d);
    const nodes = Array.from(mesh.nodes.subarray(mesh.offsets[c]!, mesh.offsets[c + 1]!));
    addSlope(mesh, nodes, d, t.dimension, values, components, 1, out, c);
    return;
  }
  const pieces = t.dimension === 3 ? tetrahedraOf(mesh, c) : trianglesOf(mesh, c);
  const size = t.dimension + 1;
  const simplex = size === 4 ? [-1, -1, -1, 1, 0, 0, 0, 1, 0, 0, 0, 1] : [-1, -1, 0, 1, 0, 0, 0, 1, 0];
  const parts: number[][] = [];
  for (let k = 0; k < pieces.length; k += size) parts.push(pieces.slice(k, k + size));
  const measure = parts.map((p) => sizeOf(mesh.points, p));
  const total = measure.reduce((a, b) => a + b, 0);
  parts.forEach((p, k) => {
    if (measure[k]! > 0) addSlope(mesh, p, simplex, t.dimension, values, components, measure[k]! / total, out, c);
  });
}

function sizeOf(p: Float64Array, nodes: readonly number[]): number {
  const e = nodes.slice(1).map((v) => [0, 1, 2].map((k) => p[3 * v + k]! - p[3 * nodes[0]! + k]!));
  const [u, v, w] = e as [number[], number[], number[] | undefined];
  const x = [u[1]! * v[2]! - u[2]! * v[1]!, u[2]! * v[0]! - u[0]! * v[2]!, u[0]! * v[1]! - u[1]! * v[0]!];
  return w ? Math.abs(x[0]! * w[0]! + x[1]! * w[1]! + x[2]! * w[2]!) : Math.hypot(x[0]!, x[1]!, x[2]!);
}

/**
 * Adds a share of the slope that the nodes' values have, given the shape functions' derivatives in local coordinates.
 */
function addSlope(
  mesh: Mesh,
  nodes: readonly number[],
  by: ArrayLike<number>,
  dimension: number,
  values: Float64Array,
  components: number,
  share: number,
  out: Float64Array,
  cell: number,
): void {
  const { points: p } = mesh;
  // How place changes with the local coordinates, one row for each of them.
  const j = [0, 0, 0, 0, 0, 0, 0, 0, 0];
  nodes.forEach((v, i) => {
    for (let a = 0; a < 3; a++) for (let k = 0; k < 3; k++) j[3 * a + k]! += by[3 * i + a]! * p[3 * v + k]!;
  });
  if (dimension === 2) {
    // The third direction is the surface's normal, along which nothing changes.
    j[6] = j[1]! * j[5]! - j[2]! * j[4]!;
    j[7] = j[2]! * j[3]! - j[0]! * j[5]!;
    j[8] = j[0]! * j[4]! - j[1]! * j[3]!;
  }
  const [a, b, c, e, f, g, h, q, r] = j as [number, number, number, number, number, number, number, number, number];
  const det = a * (f * r - g * q) - b * (e * r - g * h) + c * (e * q - f * h);
  const inverse = [
    f * r - g * q,
    c * q - b * r,
    b * g - c * f,
    g * h - e * r,
    a * r - c * h,
    c * e - a * g,
    e * q - f * h,
    b * h - a * q,
    a * f - b * e,
  ];
  for (let m = 0; m < components; m++) {
    const slope = [0, 0, 0];
    nodes.forEach((v, i) => {
      for (let k = 0; k < dimension; k++) slope[k]! += by[3 * i + k]! * values[v * components + m]!;
    });
    for (let k = 0; k < 3; k++) {
      let sum = 0;
      for (let i = 0; i < dimension; i++) sum += inverse[3 * k + i]! * slope[i]!;
      out[(cell * components + m) * 3 + k]! += (share * sum) / det;
    }
  }
}

/** By point: the cells that use it, one list behind the other. */
export function cellsOfPoints(mesh: Mesh): { readonly offsets: Int32Array; readonly cells: Int32Array } {
  const offsets = new Int32Array(mesh.pointCount + 1);
  for (const v of mesh.nodes) offsets[v + 1]!++;
  for (let v = 0; v < mesh.pointCount; v++) offsets[v + 1]! += offsets[v]!;
  const cells = new Int32Array(mesh.nodes.length);
  const next = offsets.slice();
  for (let c = 0; c < mesh.cellCount; c++)
    for (let i = mesh.offsets[c]!; i < mesh.offsets[c + 1]!; i++) cells[next[mesh.nodes[i]!]!++] = c;
  return { offsets, cells };
}

function leastSquares(mesh: Mesh, values: Float64Array, components: number, out: Float64Array): void {
  const at = cellsOfPoints(mesh);
  const middle = pointsToCells(mesh, mesh.points, 3);
  const size = cellMeasures(mesh);
  const dimension = (cell: number): number => cellType(mesh.types[cell]!).dimension;
  const seen = new Int32Array(mesh.cellCount).fill(-1);
  for (let c = 0; c < mesh.cellCount; c++) {
    seen[c] = c;
    const m = new Float64Array(9);
    const right = new Float64Array(3 * components);
    for (let i = mesh.offsets[c]!; i < mesh.offsets[c + 1]!; i++)
      for (let q = at.offsets[mesh.nodes[i]!]!; q < at.offsets[mesh.nodes[i]! + 1]!; q++) {
        const other = at.cells[q]!;
        if (seen[other] === c || !(size[other]! > 0) || dimension(other) !== dimension(c)) continue;
        seen[other] = c;
        const u = [0, 1, 2].map((k) => middle[3 * other + k]! - middle[3 * c + k]!);
        const w = 1 / (u[0]! ** 2 + u[1]! ** 2 + u[2]! ** 2);
        for (let a = 0; a < 3; a++) {
          for (let b = 0; b < 3; b++) m[3 * a + b]! += w * u[a]! * u[b]!;
          for (let k = 0; k < components; k++)
            right[3 * k + a]! += w * u[a]! * (values[other * components + k]! - values[c * components + k]!);
        }
      }
    for (let k = 0; k < components; k++)
      out.set(solveSymmetric(m, right.subarray(3 * k, 3 * k + 3)), (c * components + k) * 3);
  }
}

/**
 * Solves a symmetric 3 × 3 system. Directions without spread (a flat mesh) get no slope: by a small ridge where the
 * flat lies slanted.
 */
function solveSymmetric(m: Float64Array, right: Float64Array, ridge = 0): [number, number, number] {
  const scale = m[0]! + m[4]! + m[8]!;
  if (!(scale > 0)) return [Number.NaN, Number.NaN, Number.NaN];
  const own = (k: number): number => m[4 * k]! + ridge + (m[4 * k]! <= 1e-14 * scale ? 1 : 0);
  const [a, b, c, e, f, i] = [own(0), m[1]!, m[2]!, own(1), m[5]!, own(2)];
  const det = a * (e * i - f * f) - b * (b * i - f * c) + c * (b * f - e * c);
  if (ridge === 0 && Math.abs(det) <= 1e-14 * scale ** 3) return solveSymmetric(m, right, 1e-9 * scale);
  const [x, y, z] = right as unknown as [number, number, number];
  return [
    (x * (e * i - f * f) + y * (c * f - b * i) + z * (b * f - c * e)) / det,
    (x * (f * c - b * i) + y * (a * i - c * c) + z * (b * c - a * f)) / det,
    (x * (b * f - e * c) + y * (c * b - a * f) + z * (a * e - b * b)) / det,
  ];
}
