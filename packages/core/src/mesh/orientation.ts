import { ringOf } from "./decompose.js";
import { cellType } from "./cell-types.js";
import type { Mesh } from "./mesh.js";

/** Which faces of a surface have to be turned so that all face as their neighbours do. */
export interface Orientation {
  /** By cell: 1 where it is to be turned; undefined where none is. */
  readonly turned: Uint8Array | undefined;
  readonly count: number;
  /** Edges whose two faces cannot be made to agree, as on a Möbius strip. */
  readonly conflicts: number;
}

const known = new WeakMap<Mesh, Orientation>();

/**
 * The orientation of a surface mesh by shared edges: two faces that agree run through their common edge in opposite
 * directions. In each connected part the faces that fewer others agree with are turned. Edges of more than two faces do
 * not connect.
 */
export function orientationOf(mesh: Mesh): Orientation {
  let o = known.get(mesh);
  if (!o) known.set(mesh, (o = found(mesh)));
  return o;
}

const none: Orientation = { turned: undefined, count: 0, conflicts: 0 };

/** Corner nodes around a face, in order. */
function cornersOf(mesh: Mesh, c: number): number[] {
  const type = mesh.types[c]!;
  const all = Array.from(ringOf(mesh, c));
  if (type === 8) return [all[0]!, all[1]!, all[3]!, all[2]!];
  return cellType(type).corners?.map((k) => all[k]!) ?? all;
}

function found(mesh: Mesh): Orientation {
  if (mesh.dimension !== 2) return none;
  /** By edge: the faces at it, as ±(face + 1), positive where they run from its smaller to its larger node. */
  const edges = new Map<number, number[]>();
  const links: number[][] = Array.from({ length: mesh.cellCount }, () => []);
  for (let c = 0; c < mesh.cellCount; c++) {
    if (cellType(mesh.types[c]!).dimension !== 2 || mesh.types[c] === 6) continue;
    const ring = cornersOf(mesh, c);
    ring.forEach((a, k) => {
      const b = ring[(k + 1) % ring.length]!;
      if (a === b) return;
      const key = Math.min(a, b) * mesh.pointCount + Math.max(a, b);
      const at = edges.get(key);
      const face = a < b ? c + 1 : -(c + 1);
      if (at) at.push(face);
      else edges.set(key, [face]);
    });
  }
  let odd = 0;
  for (const at of edges.values()) {
    if (at.length !== 2) continue;
    const [f, g] = at as [number, number];
    const same = f > 0 === g > 0;
    if (same) odd++;
    const [a, b] = [Math.abs(f) - 1, Math.abs(g) - 1];
    links[a]!.push(same ? -(b + 1) : b + 1);
    links[b]!.push(same ? -(a + 1) : a + 1);
  }
  if (odd === 0) return none;
  return spread(links);
}

/** Goes from face to face; in each part the smaller number is turned. */
function spread(links: readonly (readonly number[])[]): Orientation {
  const side = new Int8Array(links.length);
  let conflicts = 0;
  let count = 0;
  for (let s = 0; s < links.length; s++) {
    if (side[s] !== 0) continue;
    side[s] = 1;
    const part = [s];
    let own = 0;
    for (let i = 0; i < part.length; i++)
      for (const l of links[part[i]!]!) {
        const other = Math.abs(l) - 1;
        const wanted = l < 0 ? -side[part[i]!]! : side[part[i]!]!;
        if (side[other] === 0) {
          side[other] = wanted;
          part.push(other);
        } else if (side[other] !== wanted) own++;
      }
    conflicts += own / 2;
    const against = part.filter((f) => side[f] === -1).length;
    const sign = 2 * against > part.length ? 1 : -1;
    for (const f of part) {
      // A part that cannot be made to agree stays as it is listed.
      if (own > 0) side[f] = 1;
      else if (side[f] === sign) count++;
    }
    if (own === 0 && sign === 1) for (const f of part) side[f] = -side[f]! as -1 | 1;
  }
  return { turned: count > 0 ? Uint8Array.from(side, (v) => (v === -1 ? 1 : 0)) : undefined, count, conflicts };
}
