import { facesOf } from "../decompose.js";
import { cellType } from "../cell-types.js";
import type { Mesh } from "../mesh.js";

export type BoxCells =
  | "tetra"
  | "hexahedron"
  | "voxel"
  | "wedge"
  | "pyramid"
  | "polyhedron"
  | "quadratic tetra"
  | "quadratic hexahedron"
  | "triangle"
  | "quad"
  | "polygon"
  | "quadratic triangle"
  | "quadratic quad";

/** A mesh from points and lists of cells. */
export function meshOf(points: readonly number[], cells: readonly { type: number; nodes: readonly number[] }[]): Mesh {
  const offsets = new Int32Array(cells.length + 1);
  const dimension = Math.max(...cells.map((c) => cellType(c.type).dimension));
  cells.forEach((c, k) => (offsets[k + 1] = offsets[k]! + c.nodes.length));
  return {
    points: Float64Array.from(points),
    pointCount: points.length / 3,
    cellCount: cells.length,
    types: Uint8Array.from(cells, (c) => c.type),
    offsets,
    nodes: Int32Array.from(cells.flatMap((c) => c.nodes)),
    dimension,
    lowerCells: cells.filter((c) => cellType(c.type).dimension < dimension).length,
  };
}

/**
 * The box [0, 2] × [0, 1] × [0, 1] of n × n × n bricks, of one kind of cells, its inner points moved by `warp`. Flat
 * kinds give the sheet z = 0.
 */
export function boxMesh(kind: BoxCells, n: number, warp = 0): Mesh {
  const flat = ["triangle", "quad", "polygon", "quadratic triangle", "quadratic quad"].includes(kind);
  const layers = flat ? 0 : n;
  const points: number[] = [];
  const inner = (i: number): boolean => i > 0 && i < n;
  for (let k = 0; k <= layers; k++)
    for (let j = 0; j <= n; j++)
      for (let i = 0; i <= n; i++) {
        const move = (seed: number): number =>
          inner(i) && inner(j) && (flat || inner(k)) ? (warp / n) * Math.sin(seed + 12.9 * i + 78.2 * j + 37.7 * k) : 0;
        points.push((2 * i) / n + 2 * move(1), j / n + move(2), flat ? 0 : k / n + move(3));
      }
  const at = (i: number, j: number, k: number): number => i + (n + 1) * (j + (n + 1) * k);
  const middles = new Map<string, number>();
  const middle = (...of: number[]): number => {
    const key = [...of].sort((a, b) => a - b).join(" ");
    let m = middles.get(key);
    if (m === undefined) {
      m = points.length / 3;
      for (let d = 0; d < 3; d++) points.push(of.reduce((s, v) => s + points[3 * v + d]!, 0) / of.length);
      middles.set(key, m);
    }
    return m;
  };
  const hexEdges = [
    [0, 1],
    [1, 2],
    [2, 3],
    [3, 0],
    [4, 5],
    [5, 6],
    [6, 7],
    [7, 4],
    [0, 4],
    [1, 5],
    [2, 6],
    [3, 7],
  ];
  const cells: { type: number; nodes: number[] }[] = [];
  for (let k = 0; k < Math.max(1, layers); k++)
    for (let j = 0; j < n; j++)
      for (let i = 0; i < n; i++) {
        const q = [at(i, j, k), at(i + 1, j, k), at(i + 1, j + 1, k), at(i, j + 1, k)] as const;
        if (flat) {
          const [a, b, c, d] = q;
          if (kind === "quad") cells.push({ type: 9, nodes: [...q] });
          else if (kind === "triangle") cells.push({ type: 5, nodes: [a, b, c] }, { type: 5, nodes: [a, c, d] });
          else if (kind === "polygon") cells.push({ type: 7, nodes: [a, b, c, middle(c, d), d] });
          else if (kind === "quadratic quad")
            cells.push({ type: 23, nodes: [...q, middle(a, b), middle(b, c), middle(c, d), middle(d, a)] });
          else
            for (const [x, y, z] of [
              [a, b, c],
              [a, c, d],
            ] as const)
              cells.push({ type: 22, nodes: [x, y, z, middle(x, y), middle(y, z), middle(z, x)] });
          continue;
        }
        const h = [...q, at(i, j, k + 1), at(i + 1, j, k + 1), at(i + 1, j + 1, k + 1), at(i, j + 1, k + 1)];
        const tets = [
          [0, 1, 2, 6],
          [0, 2, 3, 6],
          [0, 3, 7, 6],
          [0, 7, 4, 6],
          [0, 4, 5, 6],
          [0, 5, 1, 6],
        ];
        const of = (list: readonly number[]): number[] => list.map((v) => h[v]!);
        if (kind === "hexahedron") cells.push({ type: 12, nodes: h });
        else if (kind === "voxel") cells.push({ type: 11, nodes: of([0, 1, 3, 2, 4, 5, 7, 6]) });
        else if (kind === "tetra") for (const t of tets) cells.push({ type: 10, nodes: of(t) });
        else if (kind === "wedge")
          cells.push({ type: 13, nodes: of([0, 1, 2, 4, 5, 6]) }, { type: 13, nodes: of([0, 2, 3, 4, 6, 7]) });
        else if (kind === "pyramid") {
          const tip = middle(...h);
          for (const f of [
            [0, 1, 2, 3],
            [4, 7, 6, 5],
            [0, 4, 5, 1],
            [1, 5, 6, 2],
            [2, 6, 7, 3],
            [3, 7, 4, 0],
          ])
            cells.push({ type: 14, nodes: [...of(f), tip] });
        } else if (kind === "polyhedron") cells.push({ type: 42, nodes: h });
        else if (kind === "quadratic hexahedron")
          cells.push({ type: 25, nodes: [...h, ...hexEdges.map(([a, b]) => middle(h[a!]!, h[b!]!))] });
        else
          for (const t of tets) {
            const v = of(t);
            cells.push({
              type: 24,
              nodes: [
                ...v,
                middle(v[0]!, v[1]!),
                middle(v[1]!, v[2]!),
                middle(v[2]!, v[0]!),
                middle(v[0]!, v[3]!),
                middle(v[1]!, v[3]!),
                middle(v[2]!, v[3]!),
              ],
            });
          }
      }
  const mesh = meshOf(points, cells);
  if (kind !== "polyhedron") return mesh;
  const asHex = { ...mesh, types: new Uint8Array(mesh.cellCount).fill(12) };
  const faces = cells.map((_, c) => facesOf(asHex, c));
  const cellOffsets = Int32Array.from({ length: cells.length + 1 }, (_, c) => 6 * c);
  const all = faces.flat();
  return {
    ...mesh,
    polyhedra: {
      cellOffsets,
      faceOffsets: Int32Array.from({ length: all.length + 1 }, (_, f) => 4 * f),
      nodes: Int32Array.from(all.flat()),
    },
  };
}
