import { evenBoxes } from "./even-boxes.js";
import { ownKinds, type Mesh } from "./mesh.js";

/** The box about a cell, x0 x1 y0 y1 z0 z1; what {@link cellBox} has found last. */
export const box = new Float64Array(6);

/** The box about a cell with room: quadratic cells bulge beyond their nodes; every cell has what rounding needs. */
export function cellBox(mesh: Mesh, c: number, room: number): void {
  const { points: p, nodes, offsets, types } = mesh;
  const end = offsets[c + 1]!;
  let x0 = Infinity,
    x1 = -Infinity,
    y0 = Infinity,
    y1 = -Infinity,
    z0 = Infinity,
    z1 = -Infinity;
  for (let i = offsets[c]!; i < end; i++) {
    const v = 3 * nodes[i]!;
    const x = p[v]!,
      y = p[v + 1]!,
      z = p[v + 2]!;
    if (x < x0) x0 = x;
    if (x > x1) x1 = x;
    if (y < y0) y0 = y;
    if (y > y1) y1 = y;
    if (z < z0) z0 = z;
    if (z > z1) z1 = z;
  }
  const bulge = types[c]! >= 21 && types[c]! <= 37 ? 0.15 : 4 * room;
  const give =
    bulge * Math.max(x1 - x0, y1 - y0, z1 - z0) + (mesh.dimension === 2 ? 1e-6 * (x1 - x0 + y1 - y0 + z1 - z0) : 0);
  box[0] = x0 - give;
  box[1] = x1 + give;
  box[2] = y0 - give;
  box[3] = y1 + give;
  box[4] = z0 - give;
  box[5] = z1 + give;
}

/** The widest room that places are looked for with. */
const ROOM = 2e-6;
const NONE = new Int32Array(0);

/** Cells sorted into even boxes over the mesh: gives those that may hold a place, lowest number first. */
export class CellGrid {
  readonly #low: readonly number[];
  readonly #step: readonly number[];
  readonly #dims: readonly number[];
  readonly #starts: Int32Array;
  readonly #cells: Int32Array;

  constructor(mesh: Mesh) {
    const low = [Infinity, Infinity, Infinity];
    const high = [-Infinity, -Infinity, -Infinity];
    const { points: p } = mesh;
    for (let i = 0; i < p.length; i++) {
      const k = i % 3;
      if (p[i]! < low[k]!) low[k] = p[i]!;
      if (p[i]! > high[k]!) high[k] = p[i]!;
    }
    const size = low.map((l, k) => high[k]! - l);
    const widest = Math.max(...size, 1e-300);
    // Room about the mesh, so that what lies at its edge by rounding has a box as well.
    const margin = 1e-3 * widest;
    this.#low = low.map((l) => l - margin);
    this.#dims = evenBoxes(size, mesh.cellCount / 12, 512).dims;
    this.#step = size.map((s, k) => (s + 2 * margin) / this.#dims[k]!);
    const [a, b, c] = this.#dims as [number, number, number];
    const wanted = ownKinds(mesh);
    const starts = new Int32Array(a * b * c + 1);
    // First how many cells each box holds, then which: twice the same way through.
    let cells = NONE;
    let next = starts;
    const [l0, l1, l2] = this.#low as [number, number, number];
    const [s0, s1, s2] = this.#step as [number, number, number];
    const within = (v: number, n: number): number => (v < 0 ? 0 : v >= n ? n - 1 : Math.floor(v));
    for (const filling of [false, true]) {
      for (let cell = 0; cell < mesh.cellCount; cell++) {
        if (wanted[mesh.types[cell]!] === 0) continue;
        cellBox(mesh, cell, ROOM);
        const i0 = within((box[0]! - l0) / s0, a),
          i1 = within((box[1]! - l0) / s0, a);
        const j0 = within((box[2]! - l1) / s1, b),
          j1 = within((box[3]! - l1) / s1, b);
        const k0 = within((box[4]! - l2) / s2, c),
          k1 = within((box[5]! - l2) / s2, c);
        for (let k = k0; k <= k1; k++)
          for (let j = j0; j <= j1; j++)
            for (let i = i0; i <= i1; i++) {
              const at = i + a * (j + b * k);
              if (filling) cells[next[at]!++] = cell;
              else starts[at + 1]!++;
            }
      }
      if (filling) break;
      for (let k = 1; k < starts.length; k++) starts[k]! += starts[k - 1]!;
      next = starts.slice();
      cells = new Int32Array(starts[starts.length - 1]!);
    }
    this.#starts = starts;
    this.#cells = cells;
  }

  /** The cells whose boxes may hold a place. */
  at(x: number, y: number, z: number): Int32Array {
    const place = [x, y, z];
    let at = 0;
    for (let k = 2; k >= 0; k--) {
      const n = this.#dims[k]!;
      const i = Math.floor((place[k]! - this.#low[k]!) / this.#step[k]!);
      if (!(i >= 0 && i < n)) return NONE;
      at = at * n + i;
    }
    return this.#cells.subarray(this.#starts[at]!, this.#starts[at + 1]!);
  }
}

const grids = new WeakMap<Mesh, CellGrid>();

/** A mesh's grid of cells, made once. */
export function cellGridOf(mesh: Mesh): CellGrid {
  let grid = grids.get(mesh);
  if (!grid) grids.set(mesh, (grid = new CellGrid(mesh)));
  return grid;
}
