import { cellType } from "./cell-types.js";
import { facesOf } from "./decompose.js";
import type { Mesh } from "./mesh.js";

/** The outer faces of a mesh: three or more nodes each, turned outward, with the cell that each belongs to. */
export interface Boundary {
  readonly nodes: Int32Array;
  readonly offsets: Int32Array;
  readonly cell: Int32Array;
}

/** A list of whole numbers that grows. */
class Growing {
  #data = new Int32Array(1024);
  length = 0;
  push(v: number): void {
    if (this.length === this.#data.length) {
      const more = new Int32Array(2 * this.length);
      more.set(this.#data);
      this.#data = more;
    }
    this.#data[this.length++] = v;
  }
  get done(): Int32Array {
    return this.#data.slice(0, this.length);
  }
}

/**
 * The faces of volume cells that no other cell shares. Faces are told by their three smallest nodes, which are unlike for
 * any two faces of a valid mesh, and their number of nodes; they are brought together by their smallest node, so the
 * work and the memory grow with the mesh alone.
 */
export function boundaryFaces(mesh: Mesh): Boundary {
  const cells = new Growing();
  const nodes = new Growing();
  const starts = new Growing();
  starts.push(0);
  for (let c = 0; c < mesh.cellCount; c++) {
    const t = cellType(mesh.types[c]!);
    if (t.dimension !== 3) continue;
    const first = mesh.offsets[c]!;
    if (t.faces)
      for (const f of t.faces) {
        for (const k of f) nodes.push(mesh.nodes[first + k]!);
        starts.push(nodes.length);
        cells.push(c);
      }
    else
      for (const f of facesOf(mesh, c)) {
        for (const v of f) nodes.push(v);
        starts.push(nodes.length);
        cells.push(c);
      }
  }
  const n = cells.length;
  const [list, start, cell] = [nodes.done, starts.done, cells.done];
  const least = new Int32Array(n);
  const second = new Int32Array(n);
  const third = new Int32Array(n);
  for (let f = 0; f < n; f++) {
    let [a, b, c] = [2 ** 31 - 1, 2 ** 31 - 1, 2 ** 31 - 1];
    for (let i = start[f]!; i < start[f + 1]!; i++) {
      const v = list[i]!;
      if (v < a) [a, b, c] = [v, a, b];
      else if (v < b) [b, c] = [v, b];
      else if (v < c) c = v;
    }
    least[f] = a;
    second[f] = b;
    third[f] = c;
  }
  // Faces by their smallest node.
  const at = new Int32Array(mesh.pointCount + 1);
  for (let f = 0; f < n; f++) at[least[f]! + 1]!++;
  for (let v = 0; v < mesh.pointCount; v++) at[v + 1]! += at[v]!;
  const order = new Int32Array(n);
  const next = at.slice();
  for (let f = 0; f < n; f++) order[next[least[f]!]!++] = f;
  const twice = new Uint8Array(n);
  for (let v = 0; v < mesh.pointCount; v++)
    for (let i = at[v]!; i < at[v + 1]!; i++)
      for (let j = i + 1; j < at[v + 1]!; j++) {
        const [f, g] = [order[i]!, order[j]!];
        if (second[f] !== second[g] || third[f] !== third[g]) continue;
        if (start[f + 1]! - start[f]! !== start[g + 1]! - start[g]!) continue;
        twice[f] = 1;
        twice[g] = 1;
      }
  const out = { nodes: new Growing(), offsets: new Growing(), cell: new Growing() };
  out.offsets.push(0);
  for (let f = 0; f < n; f++) {
    if (twice[f] === 1) continue;
    for (let i = start[f]!; i < start[f + 1]!; i++) out.nodes.push(list[i]!);
    out.offsets.push(out.nodes.length);
    out.cell.push(cell[f]!);
  }
  return { nodes: out.nodes.done, offsets: out.offsets.done, cell: out.cell.done };
}
