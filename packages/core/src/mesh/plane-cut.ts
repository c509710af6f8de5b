import { cellType } from "./cell-types.js";
import { tetrahedraOf, trianglesOf } from "./decompose.js";
import type { Mesh } from "./mesh.js";

/**
 * A mesh cut by a plane: triangles of a volume mesh, line pieces of a surface. Each corner lies on a mesh edge; its value
 * is `(1 − part) · value[from] + part · value[to]`.
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
  const [nx, ny, nz] = [normal[0]! / length, normal[1]! / length, normal[2]! / length];
  const offset = nx * point[0]! + ny * point[1]! + nz * point[2]!;
  const { points: p } = mesh;
  const distance = new Float64Array(mesh.pointCount);
  let largest = 0;
  for (let i = 0; i < mesh.pointCount; i++) {
    const d = nx * p[3 * i]! + ny * p[3 * i + 1]! + nz * p[3 * i + 2]! - offset;
    distance[i] = d;
    if (d > largest || -d > largest) largest = Math.abs(d);
  }
  // Points within rounding of the plane lie on it; "on" counts as above.
  const near = 1e-12 * (largest + Math.abs(offset));
  for (let i = 0; i < distance.length; i++) if (Math.abs(distance[i]!) <= near) distance[i] = 0;
  const cut = cutAtZero(mesh, distance);
  if (cut.cell.length > 0) return cut;
  // A plane along the mesh's lower side: there the cells lie on the side the normal points to.
  for (let i = 0; i < distance.length; i++) distance[i] = -distance[i]!;
  return cutAtZero(mesh, distance);
}

/**
 * The surface on which a quantity at the points has a value (lines on a surface mesh): the same pieces as of a plane,
 * taken as linear in the cells' tetrahedra.
 *
 * @param values one a point; cells with a missing one are left out
 */
export function isoSurface(mesh: Mesh, values: Float64Array, level: number): PlaneCut {
  return cutAtZero(
    mesh,
    Float64Array.from(values, (v) => v - level),
  );
}

/** Cuts a mesh where a quantity at its points is zero. */
function cutAtZero(mesh: Mesh, distance: Float64Array): PlaneCut {
  const { points: p } = mesh;
  const from: number[] = [];
  const to: number[] = [];
  const part: number[] = [];
  const cell: number[] = [];
  /** Where a cut edge's corner lies. */
  const corner = (a: number, b: number): void => {
    const t = distance[a]! / (distance[a]! - distance[b]!);
    from.push(a);
    to.push(b);
    part.push(t);
  };
  const { offsets, nodes } = mesh;
  const volumes = mesh.dimension === 3;
  for (let c = 0; c < mesh.cellCount; c++) {
    if (cellType(mesh.types[c]!).dimension !== mesh.dimension) continue;
    let above = false;
    let below = false;
    for (let i = offsets[c]!; i < offsets[c + 1]!; i++) {
      const d = distance[nodes[i]!]!;
      if (d >= 0) above = true;
      else if (d < 0) below = true;
      else {
        above = false;
        break;
      }
    }
    if (!above || !below) continue;
    const pieces = volumes ? tetrahedraOf(mesh, c) : trianglesOf(mesh, c);
    const size = volumes ? 4 : 3;
    for (let k = 0; k < pieces.length; k += size) {
      const up: number[] = [];
      const down: number[] = [];
      for (let i = 0; i < size; i++) (distance[pieces[k + i]!]! >= 0 ? up : down).push(pieces[k + i]!);
      if (up.length === 0 || down.length === 0) continue;
      if (!volumes) {
        const [single, pair] = up.length === 1 ? [up, down] : [down, up];
        corner(single[0]!, pair[0]!);
        corner(single[0]!, pair[1]!);
        cell.push(c);
      } else if (up.length === 2) {
        const quad = [[0, 0], [0, 1], [1, 1], [1, 0]] as const; // prettier-ignore
        for (const [a, b, d] of [
          [0, 1, 2],
          [0, 2, 3],
        ] as const) {
          // prettier-ignore
          for (const q of [a, b, d]) corner(up[quad[q]![0]]!, down[quad[q]![1]]!);
          cell.push(c);
        }
      } else {
        const [single, rest] = up.length === 1 ? [up, down] : [down, up];
        for (const other of rest) corner(single[0]!, other);
        cell.push(c);
      }
    }
  }
  const places = new Float64Array(3 * from.length);
  for (let i = 0; i < from.length; i++)
    for (let k = 0; k < 3; k++)
      places[3 * i + k] = (1 - part[i]!) * p[3 * from[i]! + k]! + part[i]! * p[3 * to[i]! + k]!;
  const corners = volumes ? 3 : 2;
  const size = new Float64Array(cell.length);
  for (let t = 0; t < cell.length; t++) size[t] = pieceSize(places, corners * t, corners);
  return {
    corners,
    from: Int32Array.from(from),
    to: Int32Array.from(to),
    part: Float64Array.from(part),
    cell: Int32Array.from(cell),
    size,
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
