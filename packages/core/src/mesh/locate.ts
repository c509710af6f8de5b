import { box, cellBox, cellGridOf, type CellGrid } from "./cell-grid.js";
import { evenBoxes } from "./even-boxes.js";
import { local, placeIn, weightsAt } from "./local-coordinates.js";
import { ownKinds, type Mesh } from "./mesh.js";

/** Where places fall in a mesh: the cell of each, and the nodes and weights of its interpolation. */
export interface Located {
  /** By place: its cell, or −1 outside the mesh. */
  readonly cell: Int32Array;
  /** By place: where its nodes begin; one more than there are places. */
  readonly offsets: Int32Array;
  readonly nodes: Int32Array;
  readonly weights: Float64Array;
  readonly outside: number;
}

/** Room about a cell, in its own coordinates: rounding only, and what single-precision coordinates can be off. */
const ROOMS = [1e-10, 2e-6] as const;

/**
 * Finds the cell of each place and the weights of its value there: shape functions of the cell, exact also on faces,
 * edges and corners. Where several cells hold a place, the one with the lowest number wins.
 *
 * The places are sorted into boxes and the cells gone through once, so the cost is one pass over the mesh whatever the
 * number of places. When few places are asked of a large mesh again, its cells are sorted into boxes instead.
 *
 * @param places x, y, z one after the other
 */
export function locate(mesh: Mesh, places: Float64Array): Located {
  const count = places.length / 3;
  const cell = new Int32Array(count).fill(-1);
  const found = new Float64Array(3 * count);
  let open = 0;
  for (let i = 0; i < count; i++) {
    const real = Number.isFinite(places[3 * i]! + places[3 * i + 1]! + places[3 * i + 2]!);
    if (real) open++;
    else cell[i] = -2;
  }
  const grid = gridFor(mesh, open);
  for (const room of ROOMS) {
    if (open === 0) break;
    open -= grid ? lookUp(mesh, grid, places, cell, found, room) : pass(mesh, places, cell, found, room);
  }
  const nodes: number[] = [];
  const weights: number[] = [];
  const offsets = new Int32Array(count + 1);
  let outside = 0;
  for (let i = 0; i < count; i++) {
    if (cell[i]! < 0) {
      cell[i] = -1;
      outside++;
    } else {
      local.set(found.subarray(3 * i, 3 * i + 3));
      weightsAt(mesh, cell[i]!, places[3 * i]!, places[3 * i + 1]!, places[3 * i + 2]!, ROOMS[1], nodes, weights);
    }
    offsets[i + 1] = nodes.length;
  }
  return { cell, offsets, nodes: Int32Array.from(nodes), weights: Float64Array.from(weights), outside };
}

/** How often few places were asked of a mesh: from the second time on its cells are sorted into boxes, once. */
const asked = new WeakMap<Mesh, number>();
const FEW = 20_000;
const LARGE = 20_000;

function gridFor(mesh: Mesh, places: number): CellGrid | undefined {
  if (places > FEW || mesh.cellCount < LARGE) return undefined;
  const times = asked.get(mesh) ?? 0;
  asked.set(mesh, times + 1);
  return times === 0 ? undefined : cellGridOf(mesh);
}

/** The same as a pass, by the boxes of the cells: for few places. */
function lookUp(
  mesh: Mesh,
  grid: CellGrid,
  places: Float64Array,
  cell: Int32Array,
  found: Float64Array,
  room: number,
): number {
  let taken = 0;
  for (let i = 0; i < cell.length; i++) {
    if (cell[i] !== -1) continue;
    const x = places[3 * i]!,
      y = places[3 * i + 1]!,
      z = places[3 * i + 2]!;
    for (const c of grid.at(x, y, z)) {
      cellBox(mesh, c, room);
      if (x < box[0]! || x > box[1]! || y < box[2]! || y > box[3]! || z < box[4]! || z > box[5]!) continue;
      if (!placeIn(mesh, c, x, y, z, room)) continue;
      cell[i] = c;
      found[3 * i] = local[0]!;
      found[3 * i + 1] = local[1]!;
      found[3 * i + 2] = local[2]!;
      taken++;
      break;
    }
  }
  return taken;
}

/** Boxes over the places that are still without a cell. */
function boxes(
  places: Float64Array,
  cell: Int32Array,
): { low: number[]; step: number[]; dims: number[]; starts: Int32Array; list: Int32Array } {
  const low = [Infinity, Infinity, Infinity];
  const high = [-Infinity, -Infinity, -Infinity];
  let count = 0;
  for (let i = 0; i < cell.length; i++) {
    if (cell[i] !== -1) continue;
    count++;
    for (let k = 0; k < 3; k++) {
      const v = places[3 * i + k]!;
      if (v < low[k]!) low[k] = v;
      if (v > high[k]!) high[k] = v;
    }
  }
  const size = [0, 1, 2].map((k) => high[k]! - low[k]!);
  // About two places per box; never more boxes than a few per place.
  const { dims, wide } = evenBoxes(size, count / 2, 1024);
  while (dims[0]! * dims[1]! * dims[2]! > 4 * count + 64) {
    const k = dims.indexOf(Math.max(...dims));
    dims[k] = Math.ceil(dims[k]! / 2);
  }
  const step = size.map((s, k) => (wide[k] ? s / dims[k]! : Math.max(s, 1e-300)));
  const boxOf = (i: number): number => {
    let b = 0;
    for (let k = 2; k >= 0; k--)
      b =
        b * dims[k]! +
        (dims[k] === 1 ? 0 : Math.min(dims[k]! - 1, Math.floor((places[3 * i + k]! - low[k]!) / step[k]!)));
    return b;
  };
  const starts = new Int32Array(dims[0]! * dims[1]! * dims[2]! + 1);
  for (let i = 0; i < cell.length; i++) if (cell[i] === -1) starts[boxOf(i) + 1]!++;
  for (let b = 1; b < starts.length; b++) starts[b]! += starts[b - 1]!;
  const next = starts.slice();
  const list = new Int32Array(count);
  for (let i = 0; i < cell.length; i++) if (cell[i] === -1) list[next[boxOf(i)]!++] = i;
  return { low, step, dims, starts, list };
}

function pass(mesh: Mesh, places: Float64Array, cell: Int32Array, found: Float64Array, room: number): number {
  const { low, step, dims, starts, list } = boxes(places, cell);
  if (list.length === 0) return 0;
  // Coordinates in the order of the boxes: what lies together in space lies together in memory.
  const near = new Float64Array(3 * list.length);
  const done = new Uint8Array(list.length);
  for (let q = 0; q < list.length; q++) {
    const i = 3 * list[q]!;
    near[3 * q] = places[i]!;
    near[3 * q + 1] = places[i + 1]!;
    near[3 * q + 2] = places[i + 2]!;
  }
  const { types } = mesh;
  const top = low.map((l, k) => l + step[k]! * dims[k]!);
  const [l0, l1, l2] = low as [number, number, number];
  const [t0, t1, t2] = top as [number, number, number];
  const [s0, s1, s2] = step as [number, number, number];
  const [d0, d1, d2] = dims as [number, number, number];
  const wanted = ownKinds(mesh);
  let taken = 0;
  for (let c = 0; c < mesh.cellCount; c++) {
    if (wanted[types[c]!] === 0) continue;
    cellBox(mesh, c, room);
    const x0 = box[0]!,
      x1 = box[1]!,
      y0 = box[2]!,
      y1 = box[3]!,
      z0 = box[4]!,
      z1 = box[5]!;
    if (x1 < l0 || x0 > t0 || y1 < l1 || y0 > t1 || z1 < l2 || z0 > t2) continue;
    const i0 = Math.max(0, Math.floor((x0 - l0) / s0)),
      i1 = Math.min(d0 - 1, Math.floor((x1 - l0) / s0));
    const j0 = Math.max(0, Math.floor((y0 - l1) / s1)),
      j1 = Math.min(d1 - 1, Math.floor((y1 - l1) / s1));
    const k0 = Math.max(0, Math.floor((z0 - l2) / s2)),
      k1 = Math.min(d2 - 1, Math.floor((z1 - l2) / s2));
    for (let k = k0; k <= k1; k++)
      for (let j = j0; j <= j1; j++) {
        const row = d0 * (j + d1 * k);
        for (let q = starts[row + i0]!; q < starts[row + i1 + 1]!; q++) {
          if (done[q] === 1) continue;
          const x = near[3 * q]!,
            y = near[3 * q + 1]!,
            z = near[3 * q + 2]!;
          if (x < x0 || x > x1 || y < y0 || y > y1 || z < z0 || z > z1) continue;
          if (!placeIn(mesh, c, x, y, z, room)) continue;
          const i = list[q]!;
          done[q] = 1;
          cell[i] = c;
          found[3 * i] = local[0]!;
          found[3 * i + 1] = local[1]!;
          found[3 * i + 2] = local[2]!;
          taken++;
        }
      }
  }
  return taken;
}

/** Values at places: weighted sums of a point field's values, `components` a place; NaN outside. */
export function interpolate(at: Located, values: Float64Array, components: number): Float64Array {
  const count = at.cell.length;
  const out = new Float64Array(count * components);
  for (let i = 0; i < count; i++) {
    if (at.cell[i]! < 0) {
      for (let k = 0; k < components; k++) out[i * components + k] = Number.NaN;
      continue;
    }
    for (let q = at.offsets[i]!; q < at.offsets[i + 1]!; q++) {
      const w = at.weights[q]!;
      const v = at.nodes[q]! * components;
      for (let k = 0; k < components; k++) out[i * components + k]! += w * values[v + k]!;
    }
  }
  return out;
}
