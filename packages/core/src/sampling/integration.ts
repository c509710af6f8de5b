import { placeIn, weightsAt } from "../mesh/local-coordinates.js";
import type { Mesh } from "../mesh/mesh.js";
import type { Block } from "./field-set.js";
import { orientationOf } from "../mesh/orientation.js";
import { blockPieces, wholePieces, type Pieces } from "./pieces.js";
import { ByteCache } from "./byte-cache.js";
import { integratedByPoints, quadraturePoints, type QuadraturePoints } from "./quadrature.js";

/** Pieces as they are integrated: simplices by their corners, all others by points with the cells' shape functions. */
export interface Integration {
  readonly simple: Pieces;
  readonly points: QuadraturePoints | undefined;
}

const kept = new WeakMap<Pieces, Integration>();

/** How the pieces of a cut through a block are integrated; kept as long as the pieces are. */
export function integrationOfCut(block: Block, pieces: Pieces): Integration {
  let known = kept.get(pieces);
  if (!known) kept.set(pieces, (known = ofCut(block.mesh, pieces)));
  return known;
}

function ofCut(mesh: Mesh, pieces: Pieces): Integration {
  const inside = pointsOfCut(mesh, pieces);
  if (!inside) return { simple: pieces, points: undefined };
  const rest: number[] = [];
  for (let t = 0; t < inside.done.length; t++) if (inside.done[t] === 0) rest.push(t);
  return { simple: somePieces(pieces, rest), points: inside.points };
}

/** How all cells of a block are integrated; kept for the next run or time on the same mesh. */
export function wholeIntegration(block: Block): Integration {
  const known = whole.get(block.digest);
  if (known) return known;
  const { mesh } = block;
  const points = quadraturePoints(mesh);
  const simple = points ? wholePieces(mesh, (type) => !integratedByPoints(type)) : blockPieces(block);
  const { turned } = orientationOf(mesh);
  // The faces of a surface may have been turned to agree with each other.
  const normals = turned && points?.normals?.map((v, i) => (turned[points.cell[Math.floor(i / 3)]!] === 1 ? -v : v));
  const made = { simple, points: points && normals ? { ...points, normals } : points };
  whole.set(block.digest, made, bytesOf(made));
  return made;
}

const whole = new ByteCache<Integration>();

function bytesOf({ simple, points }: Integration): number {
  const arrays = [...Object.values(simple), ...Object.values(points ?? {})] as unknown[];
  return arrays.reduce<number>((n, a) => n + (ArrayBuffer.isView(a) ? a.byteLength : 0), 0);
}

/** Some of the pieces. */
export function somePieces(p: Pieces, which: readonly number[]): Pieces {
  const k = p.corners;
  const corners = <A extends Int32Array | Float64Array>(a: A, per: number): A => {
    const out = new (a.constructor as new (n: number) => A)(which.length * per);
    which.forEach((t, i) => out.set(a.subarray(t * per, (t + 1) * per) as never, i * per));
    return out;
  };
  const own = p.clipped === undefined;
  return {
    corners: k,
    from: own ? corners(p.from, k) : p.from,
    to: own ? corners(p.to, k) : p.to,
    part: own ? corners(p.part, k) : p.part,
    cell: corners(p.cell, 1),
    size: corners(p.size, 1),
    places: corners(p.places, 3 * k),
    normals: p.normals && corners(p.normals, 3),
    ...(p.clipped && {
      clipped: { of: p.clipped.of, piece: corners(p.clipped.piece, 1), shares: corners(p.clipped.shares, k * k) },
    }),
  };
}

/** Shares of a cut piece's corners at which it is integrated: squares are exact. */
const shares: Readonly<Record<2 | 3, readonly (readonly number[])[]>> = {
  2: [-1, 1].map((s) => [0.5 + (s * Math.sqrt(3)) / 6, 0.5 - (s * Math.sqrt(3)) / 6]),
  3: [0, 1, 2].map((k) => [0, 1, 2].map((j) => (j === k ? 2 / 3 : 1 / 6))),
};
/** Room about a cell, in its own coordinates, for a point of a cut that rounding has put beside it. */
const ROOM = 1e-4;

/** Points in the pieces of a cut, found in the cells that were cut; a piece where that fails stays with its corners. */
function pointsOfCut(mesh: Mesh, pieces: Pieces): { points: QuadraturePoints; done: Uint8Array } | undefined {
  const k = pieces.corners as 2 | 3;
  if (k !== 2 && k !== 3) return undefined;
  const done = new Uint8Array(pieces.cell.length);
  const cell: number[] = [];
  const size: number[] = [];
  const places: number[] = [];
  const normals: number[] = [];
  const offsets: number[] = [0];
  const nodes: number[] = [];
  const weights: number[] = [];
  for (let t = 0; t < pieces.cell.length; t++) {
    const c = pieces.cell[t]!;
    if (!integratedByPoints(mesh.types[c]!)) continue;
    const before = nodes.length;
    const at = shares[k].map((s) =>
      [0, 1, 2].map((d) => s.reduce((m, w, i) => m + w * pieces.places[3 * (k * t + i) + d]!, 0)),
    );
    const ends: number[] = [];
    const found = at.every(([x, y, z]) => {
      if (!placeIn(mesh, c, x!, y!, z!, ROOM)) return false;
      weightsAt(mesh, c, x!, y!, z!, ROOM, nodes, weights);
      ends.push(nodes.length);
      return true;
    });
    if (!found) {
      nodes.length = before;
      weights.length = before;
      continue;
    }
    done[t] = 1;
    at.forEach((place, q) => {
      cell.push(c);
      size.push(pieces.size[t]! / at.length);
      places.push(...place);
      offsets.push(ends[q]!);
      for (let d = 0; pieces.normals && d < 3; d++) normals.push(pieces.normals[3 * t + d]!);
    });
  }
  if (cell.length === 0) return undefined;
  const points = {
    dimension: k - 1,
    cell: Int32Array.from(cell),
    size: Float64Array.from(size),
    places: Float64Array.from(places),
    normals: pieces.normals ? Float64Array.from(normals) : undefined,
    offsets: Int32Array.from(offsets),
    nodes: Int32Array.from(nodes),
    weights: Float64Array.from(weights),
  };
  return { points, done };
}
