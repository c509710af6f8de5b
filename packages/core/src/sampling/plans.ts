import { createHash } from "node:crypto";
import type { CellCorners } from "../formats/mesh-data.js";
import { locate, type Located } from "../mesh/locate.js";
import type { Mesh } from "../mesh/mesh.js";
import { ByteCache, forgetAlso } from "./byte-cache.js";
import type { Block } from "./field-set.js";

/** Where the places of a site fall in a mesh, kept for the next run or time on the same mesh. */
interface Plan {
  readonly at: Located;
  /** The cells that it names, as they were: a mesh that has them all the same has the same plan. */
  readonly cells: Int32Array | undefined;
  readonly corners: CellCorners | undefined;
}

/** Plans of the last sites, by mesh and places: the same site in the next run or at the next time costs a gather. */
const plans = new ByteCache<Plan>();
/** The last plan for a number of points and cells and these places, whatever the mesh. */
const likely = new Map<string, Plan>();
forgetAlso(() => likely.clear());
const MOST_PLANS = 64;
/** More places than this are not worth looking up cell by cell. */
const FEW = 2000;

/**
 * The plan of places in a block.
 *
 * A mesh is known by the digest of its points and cells, for which they are all read. Of few places this is spared:
 * where each lies well inside a cell of a mesh seen before, and this file has that very cell under its number, with the
 * same corners, the place lies in it here too.
 */
export function planFor(block: Block, places: Float64Array): Located {
  const bytes = new Uint8Array(places.buffer, places.byteOffset, places.byteLength);
  const site = createHash("sha256").update(bytes).digest("hex");
  const kind = `${block.grid.points} ${block.grid.cells} ${site}`;
  if (!block.isKnown) {
    const guess = likely.get(kind);
    const fits = (): boolean =>
      guess?.cells !== undefined && same(block.grid.readCorners?.(guess.cells), guess.corners!);
    if (block.watch ? block.watch.aside(fits) : fits()) {
      noted(block, guess!);
      return guess!.at;
    }
  }
  const key = `${block.digest} ${site}`;
  const known = plans.get(key);
  if (known) {
    noted(block, known);
    return known.at;
  }
  const at = locate(block.mesh, places);
  const cells = block.grid.readCorners ? surelyInside(block.mesh, at) : undefined;
  const made: Plan = { at, cells, corners: cells && cornersIn(block.mesh, cells) };
  plans.set(key, made, at.cell.byteLength + at.offsets.byteLength + at.nodes.byteLength + at.weights.byteLength);
  if (cells) {
    likely.delete(kind);
    likely.set(kind, made);
    if (likely.size > MOST_PLANS) likely.delete(likely.keys().next().value!);
  }
  noted(block, made);
  return at;
}

/** What a plan depends on: the cells that it uses, where these settle it, else the whole mesh. */
function noted(block: Block, plan: Plan): void {
  if (!block.watch) return;
  if (!plan.cells || !block.grid.readCorners?.(plan.cells)) block.watch.whole();
}

/** Cells whose values at a place inside are all shares above zero. */
const linear = new Set([5, 8, 9, 10, 11, 12, 13, 14]);

/** The cells of a plan, if every place lies inside one and away from its faces, where it could be a neighbour's too. */
function surelyInside(mesh: Mesh, at: Located): Int32Array | undefined {
  if (at.outside > 0 || at.cell.length > FEW) return undefined;
  for (const c of at.cell) if (!linear.has(mesh.types[c]!)) return undefined;
  for (const w of at.weights) if (!(w > 1e-6)) return undefined;
  return Int32Array.from(new Set(at.cell)).sort();
}

function cornersIn(mesh: Mesh, cells: Int32Array): CellCorners {
  const offsets = new Int32Array(cells.length + 1);
  const nodes: number[] = [];
  cells.forEach((c, i) => {
    for (let k = mesh.offsets[c]!; k < mesh.offsets[c + 1]!; k++) nodes.push(mesh.nodes[k]!);
    offsets[i + 1] = nodes.length;
  });
  return {
    types: Uint8Array.from(cells, (c) => mesh.types[c]!),
    offsets,
    nodes: Int32Array.from(nodes),
    places: Float64Array.from(nodes.flatMap((v) => Array.from(mesh.points.subarray(3 * v, 3 * v + 3)))),
  };
}

function same(a: CellCorners | undefined, b: CellCorners): boolean {
  if (!a) return false;
  const equal = (u: ArrayLike<number>, v: ArrayLike<number>): boolean => {
    if (u.length !== v.length) return false;
    for (let i = 0; i < u.length; i++) if (u[i] !== v[i]) return false;
    return true;
  };
  return equal(a.types, b.types) && equal(a.offsets, b.offsets) && equal(a.nodes, b.nodes) && equal(a.places, b.places);
}
