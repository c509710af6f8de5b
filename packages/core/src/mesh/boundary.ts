import { cellType } from "./cell-types.js";
import { facesOf } from "./decompose.js";
import type { Mesh } from "./mesh.js";

/** The outer faces of a mesh: three or more nodes each, turned outward, with the cell that each belongs to. */
export interface Boundary {
  readonly nodes: Int32Array;
  readonly offsets: Int32Array;
  readonly cell: Int32Array;
}

const MOST = 2 ** 31 - 1;

/**
 * The faces of volume cells that no other cell shares. Faces are told by their three smallest nodes, which are unlike
 * for any two faces of a valid mesh, and their number of nodes; they are brought together by their smallest node, so
 * the work and the memory grow with the mesh alone.
 */
export function boundaryFaces(mesh: Mesh): Boundary {
  // How many faces and nodes there are is counted first, so that nothing has to grow.
  let n = 0;
  let all = 0;
  const own = (c: number): readonly (readonly number[])[] => cellType(mesh.types[c]!).faces ?? facesOf(mesh, c);
  for (let c = 0; c < mesh.cellCount; c++) {
    if (cellType(mesh.types[c]!).dimension !== 3) continue;
    const faces = own(c);
    n += faces.length;
    for (const f of faces) all += f.length;
  }
  const list = new Int32Array(all);
  const start = new Int32Array(n + 1);
  const cell = new Int32Array(n);
  const least = new Int32Array(n);
  const second = new Int32Array(n);
  const third = new Int32Array(n);
  for (let c = 0, f = 0, q = 0; c < mesh.cellCount; c++) {
    const t = cellType(mesh.types[c]!);
    if (t.dimension !== 3) continue;
    const first = mesh.offsets[c]!;
    const faces = t.faces ?? facesOf(mesh, c);
    for (const face of faces) {
      let a = MOST;
      let b = MOST;
      let d = MOST;
      for (let k = 0; k < face.length; k++) {
        const v = t.faces ? mesh.nodes[first + face[k]!]! : face[k]!;
        list[q++] = v;
        if (v < a) {
          d = b;
          b = a;
          a = v;
        } else if (v < b) {
          d = b;
          b = v;
        } else if (v < d) d = v;
      }
      least[f] = a;
      second[f] = b;
      third[f] = d;
      cell[f] = c;
      start[++f] = q;
    }
  }
  return unshared({ nodes: list, offsets: start, cell }, sharedFaces(mesh.pointCount, start, least, second, third));
}

/** Which faces are there twice: 1 for each, by their smallest nodes and numbers of nodes. */
function sharedFaces(
  points: number,
  start: Int32Array,
  least: Int32Array,
  second: Int32Array,
  third: Int32Array,
): Uint8Array {
  const n = least.length;
  // Faces by their smallest node.
  const at = new Int32Array(points + 1);
  for (let f = 0; f < n; f++) at[least[f]! + 1]!++;
  for (let v = 0; v < points; v++) at[v + 1]! += at[v]!;
  const order = new Int32Array(n);
  const next = at.slice();
  for (let f = 0; f < n; f++) order[next[least[f]!]!++] = f;
  const twice = new Uint8Array(n);
  for (let v = 0; v < points; v++)
    for (let i = at[v]!; i < at[v + 1]!; i++)
      for (let j = i + 1; j < at[v + 1]!; j++) {
        const f = order[i]!;
        const g = order[j]!;
        if (second[f] !== second[g] || third[f] !== third[g]) continue;
        if (start[f + 1]! - start[f]! !== start[g + 1]! - start[g]!) continue;
        twice[f] = 1;
        twice[g] = 1;
      }
  return twice;
}

/** The faces that are there once. */
function unshared(faces: Boundary, twice: Uint8Array): Boundary {
  const start = faces.offsets;
  let kept = 0;
  let nodes = 0;
  for (let f = 0; f < twice.length; f++)
    if (twice[f] === 0) {
      kept++;
      nodes += start[f + 1]! - start[f]!;
    }
  const out = { nodes: new Int32Array(nodes), offsets: new Int32Array(kept + 1), cell: new Int32Array(kept) };
  for (let f = 0, k = 0, q = 0; f < twice.length; f++) {
    if (twice[f] === 1) continue;
    for (let i = start[f]!; i < start[f + 1]!; i++) out.nodes[q++] = faces.nodes[i]!;
    out.cell[k] = faces.cell[f]!;
    out.offsets[++k] = q;
  }
  return out;
}
