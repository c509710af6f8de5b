import { cellType } from "../mesh/cell-types.js";
import { facesOf, ringOf } from "../mesh/decompose.js";
import type { Mesh } from "../mesh/mesh.js";
import { quadratureRule, simplexRule } from "../mesh/quadrature.js";
import { maybeStop } from "../tables/interruption.js";
import { takeRoom } from "../formats/room.js";
import type { Asked, Block } from "./field-set.js";

/**
 * Points of integration in the cells of a block that are not simplices. Values there are those that sampling gives: by
 * the cell's own shape functions, or, in polygons and polyhedra, linear in the pieces about their middles. So integrals
 * agree with sampled values and do not depend on the order of a cell's nodes.
 */
export interface QuadraturePoints {
  /** 2 for surfaces, 3 for volumes. */
  readonly dimension: number;
  /** By point: its cell and the area or volume that it stands for. */
  readonly cell: Int32Array;
  readonly size: Float64Array;
  readonly places: Float64Array;
  /** Unit normals of surfaces. */
  readonly normals: Float64Array | undefined;
  /** By point: where its nodes and their weights begin; one more than there are points. */
  readonly offsets: Int32Array;
  readonly nodes: Int32Array;
  readonly weights: Float64Array;
}

/** Whether a cell is integrated by points rather than by its corners. */
export const integratedByPoints = (type: number): boolean =>
  quadratureRule(type) !== undefined || type === 7 || type === 36 || type === 15 || type === 16 || type === 42;

/** The points of all cells of the mesh's dimension that are not simplices; undefined when there are none. */
export function quadraturePoints(mesh: Mesh): QuadraturePoints | undefined {
  if (mesh.dimension < 2) return undefined;
  const own: number[] = [];
  for (let c = 0; c < mesh.cellCount; c++)
    if (cellType(mesh.types[c]!).dimension === mesh.dimension && integratedByPoints(mesh.types[c]!)) own.push(c);
  if (own.length === 0) return undefined;
  const gather = new Gather(mesh, own);
  own.forEach((c, i) => {
    if (i % 4096 === 0) maybeStop();
    gather.cell(c);
  });
  return gather.result();
}

class Gather {
  readonly #cell: Int32Array;
  readonly #size: Float64Array;
  readonly #places: Float64Array;
  readonly #normals: Float64Array | undefined;
  readonly #offsets: Int32Array;
  readonly #nodes: Int32Array;
  readonly #weights: Float64Array;
  #at = 0;
  #node = 0;

  constructor(
    private readonly mesh: Mesh,
    cells: readonly number[],
  ) {
    let points = 0;
    let nodes = 0;
    for (const c of cells) {
      const rule = quadratureRule(mesh.types[c]!);
      const many = mesh.offsets[c + 1]! - mesh.offsets[c]!;
      const count = rule?.count ?? piecesOf(mesh, c).length * (mesh.dimension + 1);
      points += count;
      nodes += count * (rule ? many : nodesOf(mesh, c).length);
    }
    takeRoom(points * (mesh.dimension === 2 ? 60 : 36) + nodes * 12);
    this.#cell = new Int32Array(points);
    this.#size = new Float64Array(points);
    this.#places = new Float64Array(3 * points);
    this.#normals = mesh.dimension === 2 ? new Float64Array(3 * points) : undefined;
    this.#offsets = new Int32Array(points + 1);
    this.#nodes = new Int32Array(nodes);
    this.#weights = new Float64Array(nodes);
  }

  result(): QuadraturePoints {
    return {
      dimension: this.mesh.dimension,
      cell: this.#cell,
      size: this.#size,
      places: this.#places,
      normals: this.#normals,
      offsets: this.#offsets,
      nodes: this.#nodes,
      weights: this.#weights,
    };
  }

  cell(c: number): void {
    const rule = quadratureRule(this.mesh.types[c]!);
    if (!rule) return this.#pieces(c);
    const { mesh } = this;
    const start = mesh.offsets[c]!;
    const n = mesh.offsets[c + 1]! - start;
    const p = mesh.points;
    const { shape, slope } = rule;
    for (let q = 0; q < rule.count; q++) {
      let [x, y, z] = [0, 0, 0];
      let [xr, yr, zr] = [0, 0, 0];
      let [xs, ys, zs] = [0, 0, 0];
      let [xt, yt, zt] = [0, 0, 0];
      for (let i = 0; i < n; i++) {
        const node = mesh.nodes[start + i]!;
        const px = p[3 * node]!,
          py = p[3 * node + 1]!,
          pz = p[3 * node + 2]!;
        const k = q * n + i;
        const w = shape[k]!,
          dr = slope[3 * k]!,
          ds = slope[3 * k + 1]!,
          dt = slope[3 * k + 2]!;
        x += w * px;
        y += w * py;
        z += w * pz;
        xr += dr * px;
        yr += dr * py;
        zr += dr * pz;
        xs += ds * px;
        ys += ds * py;
        zs += ds * pz;
        xt += dt * px;
        yt += dt * py;
        zt += dt * pz;
        this.#nodes[this.#node] = node;
        this.#weights[this.#node++] = w;
      }
      const nx = yr * zs - zr * ys,
        ny = zr * xs - xr * zs,
        nz = xr * ys - yr * xs;
      const at = this.#at++;
      this.#cell[at] = c;
      this.#places[3 * at] = x;
      this.#places[3 * at + 1] = y;
      this.#places[3 * at + 2] = z;
      this.#offsets[at + 1] = this.#node;
      if (this.#normals) {
        const area = Math.sqrt(nx * nx + ny * ny + nz * nz);
        this.#size[at] = rule.weights[q]! * area;
        if (area > 0) {
          this.#normals[3 * at] = nx / area;
          this.#normals[3 * at + 1] = ny / area;
          this.#normals[3 * at + 2] = nz / area;
        }
      } else this.#size[at] = rule.weights[q]! * Math.abs(nx * xt + ny * yt + nz * zt);
    }
  }

  #point(c: number, size: number, place: readonly number[], normal: readonly number[]): void {
    const k = this.#at++;
    this.#cell[k] = c;
    this.#size[k] = size;
    this.#places.set(place, 3 * k);
    this.#normals?.set(normal, 3 * k);
    this.#offsets[k + 1] = this.#node;
  }

  /** A polygon or polyhedron by the simplices that it is sampled in. */
  #pieces(c: number): void {
    const { mesh } = this;
    const list = nodesOf(mesh, c);
    const row = new Map(list.map((v, i) => [v, i]));
    for (const corners of piecesOf(mesh, c)) {
      const at = corners.map((group) =>
        [0, 1, 2].map((d) => group.reduce((m, v) => m + mesh.points[3 * v + d]!, 0) / group.length),
      );
      const edge = at.slice(1).map((b) => b.map((v, d) => v - at[0]![d]!));
      const [u, v, w] = edge as [number[], number[], number[] | undefined];
      const n = [u[1]! * v[2]! - u[2]! * v[1]!, u[2]! * v[0]! - u[0]! * v[2]!, u[0]! * v[1]! - u[1]! * v[0]!];
      const area = Math.hypot(...n);
      const size = w ? Math.abs(n.reduce((s, a, d) => s + a * w[d]!, 0)) / 6 : area / 2;
      const rule = simplexRule[corners.length as 3 | 4];
      for (const bary of rule) {
        const weights = new Float64Array(list.length);
        corners.forEach((group, k) => group.forEach((node) => (weights[row.get(node)!]! += bary[k]! / group.length)));
        list.forEach((node, i) => {
          this.#nodes[this.#node] = node;
          this.#weights[this.#node++] = weights[i]!;
        });
        const place = [0, 1, 2].map((d) => at.reduce((s, a, k) => s + bary[k]! * a[d]!, 0));
        this.#point(c, size / rule.length, place, area > 0 ? n.map((x) => x / area) : [0, 0, 0]);
      }
    }
  }
}

/** All nodes of a polygon or polyhedron, each once. */
const nodesOf = (mesh: Mesh, c: number): number[] =>
  [...new Set(mesh.dimension === 2 ? Array.from(ringOf(mesh, c)) : facesOf(mesh, c).flat())].sort((a, b) => a - b);

/** Simplices of a polygon or polyhedron: each corner is a group of nodes in whose middle it lies. */
function piecesOf(mesh: Mesh, c: number): number[][][] {
  if (mesh.dimension === 2) {
    const ring = Array.from(ringOf(mesh, c));
    return ring.map((a, k) => [[a], [ring[(k + 1) % ring.length]!], ring]);
  }
  const all = nodesOf(mesh, c);
  return facesOf(mesh, c).flatMap((f) => f.map((a, k) => [[a], [f[(k + 1) % f.length]!], f, all]));
}

/** Columns at points of integration. */
export function quadratureValues(block: Block, q: QuadraturePoints, asked: readonly Asked[]): Float64Array[] {
  return asked.map((a) => {
    const count = q.size.length;
    const out = new Float64Array(count).fill(Number.NaN);
    const on = block.locationOf(a.field);
    if (on === undefined) return out;
    const raw = block.values(on, a.field.stored);
    const { components } = a.field;
    const of = (first: number): number => {
      if (components === 1) return raw[first]!;
      if (a.component >= 0) return raw[first * components + a.component]!;
      return Math.hypot(raw[3 * first]!, raw[3 * first + 1]!, raw[3 * first + 2]!);
    };
    if (on === "cell") {
      for (let k = 0; k < count; k++) out[k] = of(q.cell[k]!);
      return out;
    }
    const parts = a.component < 0 && components > 1 ? [0, 1, 2] : [components === 1 ? 0 : a.component];
    for (let k = 0; k < count; k++) {
      let square = 0;
      let value = 0;
      for (const c of parts) {
        value = 0;
        for (let i = q.offsets[k]!; i < q.offsets[k + 1]!; i++)
          value += q.weights[i]! * raw[q.nodes[i]! * components + c]!;
        square += value * value;
      }
      out[k] = parts.length > 1 ? Math.sqrt(square) : value;
    }
    return out;
  });
}
