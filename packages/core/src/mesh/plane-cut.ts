import { tetrahedraOf, trianglesOf } from "./decompose.js";
import { maybeStop } from "../tables/interruption.js";
import { ownKinds, type Mesh } from "./mesh.js";

/**
 * A mesh cut by a plane: triangles of a volume mesh, line pieces of a surface. Each corner lies on a mesh edge; its
 * value is `(1 − part) · value[from] + part · value[to]`.
 */
export interface PlaneCut {
  /** 3 corners a piece for triangles, 2 for line pieces. */
  readonly corners: 2 | 3;
  readonly from: Int32Array;
  readonly to: Int32Array;
  readonly part: Float64Array;
  /** By piece: the cell it was cut from, and its area or length. */
  readonly cell: Int32Array;
  readonly size: Float64Array;
  /** Coordinates of the corners, three each. */
  readonly places: Float64Array;
}

/**
 * Cuts a mesh by a plane through a point. Volume cells are cut as tetrahedra that neighbours split alike, so the pieces
 * fit together; areas and means of linear fields are exact.
 *
 * A cell that only touches the plane with a face is cut on the side the normal points away from: faces shared by two
 * cells count once.
 */
export function cutByPlane(mesh: Mesh, point: readonly number[], normal: readonly number[]): PlaneCut {
  const length = Math.hypot(normal[0]!, normal[1]!, normal[2]!);
  if (!(length > 0)) throw new Error("a plane's normal may not be zero");
  const n = [normal[0]! / length, normal[1]! / length, normal[2]! / length] as const;
  const offset = n[0] * point[0]! + n[1] * point[1]! + n[2] * point[2]!;
  const sweep = sweepOf(mesh, n);
  const { along } = sweep;
  const distance = new Float64Array(mesh.pointCount);
  let largest = 0;
  for (let i = 0; i < distance.length; i++) {
    const d = along[i]! - offset;
    distance[i] = d;
    if (d > largest || -d > largest) largest = Math.abs(d);
  }
  // Points within rounding of the plane lie on it; "on" counts as above.
  const near = 1e-12 * (largest + Math.abs(offset));
  for (let i = 0; i < distance.length; i++) if (Math.abs(distance[i]!) <= near) distance[i] = 0;
  const { low, high } = sweep;
  const touched: number[] = [];
  for (let c = 0; c < low.length; c++) if (low[c]! - offset <= near && high[c]! - offset >= -near) touched.push(c);
  const cut = cutAtZero(mesh, distance, touched);
  if (cut.cell.length > 0) return cut;
  // A plane along the mesh's lower side: there the cells lie on the side the normal points to.
  for (let i = 0; i < distance.length; i++) distance[i] = -distance[i]!;
  return cutAtZero(mesh, distance, touched);
}

/** Where points and cells lie along a direction: parallel planes share it. */
interface Sweep {
  readonly key: string;
  readonly along: Float64Array;
  readonly low: Float64Array;
  readonly high: Float64Array;
}
const sweeps = new WeakMap<Mesh, Sweep[]>();
const MOST_SWEEPS = 2;

function sweepOf(mesh: Mesh, [nx, ny, nz]: readonly [number, number, number]): Sweep {
  const key = `${nx} ${ny} ${nz}`;
  const own = sweeps.get(mesh) ?? [];
  sweeps.set(mesh, own);
  const known = own.find((s) => s.key === key);
  if (known) return known;
  const { points: p, offsets, nodes } = mesh;
  const along = new Float64Array(mesh.pointCount);
  for (let i = 0; i < along.length; i++) along[i] = nx * p[3 * i]! + ny * p[3 * i + 1]! + nz * p[3 * i + 2]!;
  const low = new Float64Array(mesh.cellCount);
  const high = new Float64Array(mesh.cellCount);
  for (let c = 0; c < low.length; c++) {
    let a = Infinity;
    let b = -Infinity;
    for (let i = offsets[c]!; i < offsets[c + 1]!; i++) {
      const d = along[nodes[i]!]!;
      if (d < a) a = d;
      if (d > b) b = d;
    }
    low[c] = a;
    high[c] = b;
  }
  const made = { key, along, low, high };
  own.push(made);
  if (own.length > MOST_SWEEPS) own.shift();
  return made;
}

/**
 * The surface on which a quantity at the points has a value (lines on a surface mesh): the same pieces as of a plane,
 * taken as linear in the cells' tetrahedra.
 *
 * @param values one per point; cells with a missing one are left out
 */
export function isoSurface(mesh: Mesh, values: Float64Array, level: number): PlaneCut {
  return cutAtZero(
    mesh,
    Float64Array.from(values, (v) => v - level),
  );
}

/** Corners of a cut, each on an edge of a cell, and the cell of each piece. */
class CutCorners {
  readonly from: number[] = [];
  readonly to: number[] = [];
  readonly part: number[] = [];
  readonly cell: number[] = [];
  readonly #up = [0, 0, 0, 0];
  readonly #down = [0, 0, 0, 0];

  /** @param size nodes of a piece: 4 of a tetrahedron, 3 of a triangle */
  constructor(
    private readonly distance: Float64Array,
    private readonly size: 3 | 4,
  ) {}

  /** Where a cut edge's corner lies. */
  #corner(a: number, b: number): void {
    this.from.push(a);
    this.to.push(b);
    this.part.push(this.distance[a]! / (this.distance[a]! - this.distance[b]!));
  }

  /** Cuts one tetrahedron or triangle of a cell, whose nodes stand in a list. */
  cut(list: ArrayLike<number>, first: number, c: number): void {
    const up = this.#up;
    const down = this.#down;
    let u = 0;
    let d = 0;
    for (let i = first; i < first + this.size; i++)
      if (this.distance[list[i]!]! >= 0) up[u++] = list[i]!;
      else down[d++] = list[i]!;
    if (u === 0 || d === 0) return;
    if (this.size === 4 && u === 2) {
      this.#corner(up[0]!, down[0]!);
      this.#corner(up[0]!, down[1]!);
      this.#corner(up[1]!, down[1]!);
      this.#corner(up[0]!, down[0]!);
      this.#corner(up[1]!, down[1]!);
      this.#corner(up[1]!, down[0]!);
      this.cell.push(c, c);
      return;
    }
    const [single, rest, n] = u === 1 ? [up, down, d] : [down, up, u];
    for (let i = 0; i < n; i++) this.#corner(single[0]!, rest[i]!);
    this.cell.push(c);
  }
}

/** Cuts a mesh, or some of its cells, where a quantity at its points is zero. */
function cutAtZero(mesh: Mesh, distance: Float64Array, some?: readonly number[]): PlaneCut {
  const { points: p, types, offsets, nodes } = mesh;
  const volumes = mesh.dimension === 3;
  const size = volumes ? 4 : 3;
  const made = new CutCorners(distance, size);
  const wanted = ownKinds(mesh);
  const count = some ? some.length : mesh.cellCount;
  for (let q = 0; q < count; q++) {
    if (q % 8192 === 0) maybeStop();
    const c = some ? some[q]! : q;
    if (wanted[types[c]!] === 0) continue;
    const first = offsets[c]!;
    let above = false;
    let below = false;
    for (let i = first; i < offsets[c + 1]!; i++) {
      const d = distance[nodes[i]!]!;
      if (d >= 0) above = true;
      else if (d < 0) below = true;
      else {
        above = false;
        break;
      }
    }
    if (!above || !below) continue;
    if (types[c] === 10 || types[c] === 5) made.cut(nodes, first, c);
    else {
      const pieces = volumes ? tetrahedraOf(mesh, c) : trianglesOf(mesh, c);
      for (let k = 0; k < pieces.length; k += size) made.cut(pieces, k, c);
    }
  }
  const { from, to, part, cell } = made;
  const places = new Float64Array(3 * from.length);
  for (let i = 0; i < from.length; i++)
    for (let k = 0; k < 3; k++)
      places[3 * i + k] = (1 - part[i]!) * p[3 * from[i]! + k]! + part[i]! * p[3 * to[i]! + k]!;
  const corners = volumes ? 3 : 2;
  const measure = new Float64Array(cell.length);
  for (let t = 0; t < cell.length; t++) measure[t] = pieceSize(places, corners * t, corners);
  return {
    corners,
    from: Int32Array.from(from),
    to: Int32Array.from(to),
    part: Float64Array.from(part),
    cell: Int32Array.from(cell),
    size: measure,
    places,
  };
}

function pieceSize(x: Float64Array, first: number, corners: 2 | 3): number {
  const a = 3 * first;
  const u = [x[a + 3]! - x[a]!, x[a + 4]! - x[a + 1]!, x[a + 5]! - x[a + 2]!] as const;
  if (corners === 2) return Math.hypot(u[0], u[1], u[2]);
  const v = [x[a + 6]! - x[a]!, x[a + 7]! - x[a + 1]!, x[a + 8]! - x[a + 2]!] as const;
  return Math.hypot(u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]) / 2;
}
