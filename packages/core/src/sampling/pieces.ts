import { cellType } from "../mesh/cell-types.js";
import { tetrahedraOf, trianglesOf } from "../mesh/decompose.js";
import { ownKinds, type Mesh } from "../mesh/mesh.js";
import { orientationOf } from "../mesh/orientation.js";
import { cutByPlane, isoSurface, type PlaneCut } from "../mesh/plane-cut.js";
import { maybeStop } from "../tables/interruption.js";
import { cellsToPoints } from "../mesh/transfer.js";
import { ByteCache } from "./byte-cache.js";
import { clipped, valuesOfClipped } from "./clip.js";
import { componentOf } from "./at-places.js";
import type { Asked, Block } from "./field-set.js";
import type { Pieces } from "./piece-kinds.js";
import type { Box } from "./places.js";

export type { Pieces } from "./piece-kinds.js";

const cuts = new ByteCache<Pieces>();

function kept(key: string, make: () => Pieces): Pieces {
  const known = cuts.get(key);
  if (known) return known;
  const made = make();
  cuts.set(key, made, made.size.length * (made.corners * 44 + 36));
  return made;
}

/** A plane's pieces in a block; kept for the next run or time on the same mesh. */
export function planePieces(
  block: Block,
  point: readonly number[],
  normal: readonly number[],
  bounds: Box = {},
): Pieces {
  const key = `${block.digest} ${[...point, ...normal].join(" ")}`;
  const axes = Object.keys(bounds).sort() as (keyof Box)[];
  if (axes.length === 0) return kept(key, () => wholePlane(block, point, normal));
  return kept(`${key} ${axes.map((a) => `${a} ${bounds[a]!.join(" ")}`).join(" ")}`, () =>
    clipped(planePieces(block, point, normal), bounds),
  );
}

/** The surface on which a field has a value, in a block; a cell field is taken to the points first. */
export function isoPieces(block: Block, asked: Asked, value: number): Pieces {
  const { field } = asked;
  const on = block.locationOf(field)!;
  const raw = block.values(on, field.stored);
  const own = componentOf(raw, field.components, asked.component);
  const cut = withoutEmpty(isoSurface(block.mesh, on === "point" ? own : cellsToPoints(block.mesh, own), value));
  return { ...cut, normals: cut.corners === 3 ? normalsOf(cut.places, cut.cell.length) : undefined };
}

function wholePlane(block: Block, point: readonly number[], normal: readonly number[]): Pieces {
  const cut = withoutEmpty(cutByPlane(block.mesh, point, normal));
  const length = Math.hypot(normal[0]!, normal[1]!, normal[2]!);
  const unit = normal.map((n) => n / length);
  const normals = new Float64Array(3 * cut.cell.length);
  for (let t = 0; t < cut.cell.length; t++)
    normals.set(cut.corners === 3 ? unit : acrossLine(block.mesh, cut.cell[t]!, cut.places, 6 * t, unit), 3 * t);
  return { ...cut, normals };
}

/** A cut without its pieces of no size, as where a plane passes through a corner. */
function withoutEmpty(cut: PlaneCut): PlaneCut {
  if (!cut.size.includes(0)) return cut;
  const k = cut.corners;
  const own: number[] = [];
  for (let t = 0; t < cut.size.length; t++) if (cut.size[t] !== 0) own.push(t);
  const corners = own.flatMap((t) => Array.from({ length: k }, (_, i) => k * t + i));
  return {
    corners: k,
    from: Int32Array.from(corners, (i) => cut.from[i]!),
    to: Int32Array.from(corners, (i) => cut.to[i]!),
    part: Float64Array.from(corners, (i) => cut.part[i]!),
    cell: Int32Array.from(own, (t) => cut.cell[t]!),
    size: Float64Array.from(own, (t) => cut.size[t]!),
    places: Float64Array.from(
      corners.flatMap((i) => [3 * i, 3 * i + 1, 3 * i + 2]),
      (i) => cut.places[i]!,
    ),
  };
}

/** The direction across a line in a surface: within the surface, square to the line, towards the plane's normal. */
function acrossLine(mesh: Mesh, cell: number, places: Float64Array, at: number, normal: readonly number[]): number[] {
  const [a, b, c] = trianglesOf(mesh, cell) as [number, number, number];
  const p = mesh.points;
  const cross = (u: readonly number[], v: readonly number[]): number[] => [
    u[1]! * v[2]! - u[2]! * v[1]!,
    u[2]! * v[0]! - u[0]! * v[2]!,
    u[0]! * v[1]! - u[1]! * v[0]!,
  ];
  const edge = (to: number): number[] => [0, 1, 2].map((d) => p[3 * to + d]! - p[3 * a + d]!);
  const line = [0, 1, 2].map((d) => places[at + 3 + d]! - places[at + d]!);
  const out = cross(line, cross(edge(b), edge(c)));
  const size = Math.hypot(...out);
  if (!(size > 0)) return [...normal];
  const sign = out.reduce((s, v, d) => s + v * normal[d]!, 0) < 0 ? -1 : 1;
  return out.map((v) => (sign * v) / size);
}

function normalsOf(places: Float64Array, count: number): Float64Array {
  const out = new Float64Array(3 * count);
  for (let t = 0; t < count; t++) {
    const e = (k: number, d: number): number => places[9 * t + 3 * k + d]! - places[9 * t + d]!;
    const n = [0, 1, 2].map((d) => e(1, (d + 1) % 3) * e(2, (d + 2) % 3) - e(1, (d + 2) % 3) * e(2, (d + 1) % 3));
    const length = Math.hypot(...n);
    if (length > 0) for (let d = 0; d < 3; d++) out[3 * t + d] = n[d]! / length;
  }
  return out;
}

/** The nodes of a mesh's cells as single points: each once, or once for each of its cells. */
export function nodePieces(mesh: Mesh, perCell: boolean): Pieces {
  const own = ownKinds(mesh);
  const nodes: number[] = [];
  const cell: number[] = [];
  const seen = new Uint8Array(perCell ? 0 : mesh.pointCount);
  for (let c = 0; c < mesh.cellCount; c++) {
    if (own[mesh.types[c]!] === 0) continue;
    for (let i = mesh.offsets[c]!; i < mesh.offsets[c + 1]!; i++) {
      const v = mesh.nodes[i]!;
      if (!perCell && seen[v] === 1) continue;
      if (!perCell) seen[v] = 1;
      nodes.push(v);
      cell.push(c);
    }
  }
  const from = Int32Array.from(nodes);
  const places = new Float64Array(3 * from.length);
  for (let i = 0; i < from.length; i++) for (let d = 0; d < 3; d++) places[3 * i + d] = mesh.points[3 * from[i]! + d]!;
  const part = new Float64Array(from.length);
  return {
    corners: 1,
    from,
    to: from,
    part,
    cell: Int32Array.from(cell),
    size: part.slice().fill(1),
    places,
    normals: undefined,
  };
}

/** All of a block's cells of its highest dimension, as pieces. */
export function blockPieces(block: Block): Pieces {
  return kept(`${block.digest} all`, () => wholePieces(block.mesh));
}

/** The cells of a mesh's dimension as simplices. @param wanted of which types only */
export function wholePieces(mesh: Mesh, wanted: (type: number) => boolean = () => true): Pieces {
  const corners = (mesh.dimension + 1) as 1 | 2 | 3 | 4;
  const nodes: number[] = [];
  const cell: number[] = [];
  for (let c = 0; c < mesh.cellCount; c++) {
    if (cellType(mesh.types[c]!).dimension !== mesh.dimension || !wanted(mesh.types[c]!)) continue;
    if (c % 4096 === 0) maybeStop();
    const start = nodes.length;
    if (corners === 4) nodes.push(...tetrahedraOf(mesh, c));
    else if (corners === 3) nodes.push(...trianglesOf(mesh, c));
    else if (corners === 1) for (let i = mesh.offsets[c]!; i < mesh.offsets[c + 1]!; i++) nodes.push(mesh.nodes[i]!);
    else
      for (let i = mesh.offsets[c]!; i + 1 < mesh.offsets[c + 1]!; i++) nodes.push(mesh.nodes[i]!, mesh.nodes[i + 1]!);
    for (let k = start; k < nodes.length; k += corners) cell.push(c);
  }
  const from = Int32Array.from(nodes);
  const places = new Float64Array(3 * from.length);
  for (let i = 0; i < from.length; i++) for (let d = 0; d < 3; d++) places[3 * i + d] = mesh.points[3 * from[i]! + d]!;
  const size = new Float64Array(cell.length);
  const normals = corners === 3 ? new Float64Array(3 * cell.length) : undefined;
  for (let t = 0; t < cell.length; t++) {
    if (corners === 1) {
      size[t] = 1;
      continue;
    }
    const a = 3 * corners * t;
    const u = (k: number): [number, number, number] => [
      places[a + 3 * k]! - places[a]!,
      places[a + 3 * k + 1]! - places[a + 1]!,
      places[a + 3 * k + 2]! - places[a + 2]!,
    ];
    const [ux, uy, uz] = u(1);
    if (corners === 2) size[t] = Math.hypot(ux, uy, uz);
    else {
      const [vx, vy, vz] = u(2);
      const n = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx] as const;
      if (corners === 3) {
        const length = Math.hypot(...n);
        size[t] = length / 2;
        if (length > 0) for (let d = 0; d < 3; d++) normals![3 * t + d] = n[d]! / length;
      } else {
        const [wx, wy, wz] = u(3);
        size[t] = Math.abs(n[0] * wx + n[1] * wy + n[2] * wz) / 6;
      }
    }
  }
  const { turned } = orientationOf(mesh);
  if (turned && normals) turnNormals(normals, cell, turned);
  return {
    ...(turned && { turned }),
    corners,
    from,
    to: from,
    part: new Float64Array(from.length),
    cell: Int32Array.from(cell),
    size,
    places,
    normals,
  };
}

/** Turns the normals of pieces whose cells are listed the other way round. */
function turnNormals(normals: Float64Array, cell: readonly number[], turned: Uint8Array): void {
  for (let t = 0; t < cell.length; t++)
    if (turned[cell[t]!] === 1) for (let d = 0; d < 3; d++) normals[3 * t + d] = -normals[3 * t + d]!;
}

/** A column's values at the corners of pieces; that of a cell field is the same at all corners of its pieces. */
export function cornerValues(block: Block, pieces: Pieces, asked: readonly Asked[]): Float64Array[] {
  if (pieces.clipped) {
    const { of } = pieces.clipped;
    return cornerValues(block, of, asked).map((v) => valuesOfClipped(pieces.clipped!, pieces.corners, v));
  }
  const { from, to, part, cell, corners } = pieces;
  return asked.map((a) => {
    const out = new Float64Array(from.length).fill(Number.NaN);
    const on = block.locationOf(a.field);
    if (on === undefined) return out;
    const { stored, components } = a.field;
    const raw = block.values(on, stored);
    if (on === "cell") {
      const values = componentOf(raw, components, a.component);
      for (let i = 0; i < out.length; i++) out[i] = values[cell[Math.floor(i / corners)]!]!;
      return out;
    }
    if (a.component >= 0 || components === 1) {
      const c = components === 1 ? 0 : a.component;
      for (let i = 0; i < out.length; i++)
        out[i] = (1 - part[i]!) * raw[from[i]! * components + c]! + part[i]! * raw[to[i]! * components + c]!;
      return out;
    }
    // The magnitude is that of the interpolated vector.
    for (let i = 0; i < out.length; i++) {
      let sum = 0;
      for (let d = 0; d < 3; d++) {
        const v = (1 - part[i]!) * raw[from[i]! * 3 + d]! + part[i]! * raw[to[i]! * 3 + d]!;
        sum += v * v;
      }
      out[i] = Math.sqrt(sum);
    }
    return out;
  });
}
