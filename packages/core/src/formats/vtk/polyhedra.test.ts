import { describe, expect, it } from "@jest/globals";
import { bufferSource } from "../source.js";
import type { CellArrays, Grid, MeshFile } from "../mesh-data.js";
import { openMesh } from "../open-mesh.js";
import { cellMeasures, loadMesh } from "../../mesh/index.js";
import { writeVtkXml } from "./tests/write-xml.js";

const alone = {
  open: () => {
    throw new Error("no other file is expected");
  },
};

/** A unit cube, a pyramid upon it of height one and, apart from both, a tetrahedron. */
const points = [
  [0, 0, 0, 1, 0, 0, 1, 1, 0, 0, 1, 0, 0, 0, 1, 1, 0, 1, 1, 1, 1, 0, 1, 1, 0.5, 0.5, 2],
  [5, 0, 0, 6, 0, 0, 5, 1, 0, 5, 0, 1],
].flat();
const cube = [
  [0, 3, 2, 1],
  [4, 5, 6, 7],
  [0, 1, 5, 4],
  [1, 2, 6, 5],
  [2, 3, 7, 6],
  [3, 0, 4, 7],
];
const pyramid = [
  [4, 7, 6, 5],
  [4, 5, 8],
  [5, 6, 8],
  [6, 7, 8],
  [7, 4, 8],
];
const faces = [cube, [], pyramid];
const nodes = [
  [0, 1, 2, 3, 4, 5, 6, 7],
  [9, 10, 11, 12],
  [4, 5, 6, 7, 8],
];
const types = [42, 10, 42];

const ends = (lists: readonly (readonly unknown[])[]): number[] => {
  let at = 0;
  return lists.map((l) => (at += l.length));
};

type Layout = "stream" | "shared" | "shared, from zero";
function file(layout: Layout, change: (name: string, values: number[]) => number[] = (_, v) => v): Uint8Array {
  return writeVtkXml("UnstructuredGrid", { format: "appended-raw", header: "UInt64" }, (array) => {
    const put = (name: string, values: number[], type: "int64" | "uint8" = "int64"): string =>
      array({ name, type, values: change(name, values) });
    const streams = faces.map((f) => (f.length === 0 ? [] : [f.length, ...f.flatMap((n) => [n.length, ...n])]));
    let at = 0;
    const streamEnds = streams.map((s) => (s.length === 0 ? -1 : (at += s.length)));
    const from = layout === "shared, from zero" ? [0] : [];
    // The face between cube and pyramid stands once, and faces stand in no order.
    const all = [...pyramid.slice(1), ...cube];
    const ofCells = [[4, 5, 6, 7, 8, 9], [], [5, 3, 2, 1, 0]];
    const listed =
      layout === "stream"
        ? put("faces", streams.flat()) + put("faceoffsets", streamEnds)
        : put("face_connectivity", all.flat()) +
          put("face_offsets", [...from, ...ends(all)]) +
          put("polyhedron_to_faces", ofCells.flat()) +
          put("polyhedron_offsets", [...from, ...ends(ofCells)]);
    return `<UnstructuredGrid><Piece NumberOfPoints="13" NumberOfCells="3">
<Points>${array({ name: "Points", type: "float64", components: 3, values: points })}</Points>
<Cells>${put("connectivity", nodes.flat())}${put("offsets", ends(nodes))}${put("types", types, "uint8")}${listed}</Cells>
</Piece></UnstructuredGrid>`;
  });
}
const grid = (bytes: Uint8Array): Grid => (openMesh(bufferSource("mesh.vtu", bytes), alone) as MeshFile).grids[0]!;

/** The faces of each cell, each from its smallest node on in the direction that is left. */
const facesOf = ({ polyhedra }: CellArrays): string[][] =>
  types.map((_, c) => {
    const p = polyhedra!;
    const list: string[] = [];
    for (let f = p.cellOffsets[c]!; f < p.cellOffsets[c + 1]!; f++)
      list.push([...p.nodes.subarray(p.faceOffsets[f], p.faceOffsets[f + 1])].sort((a, b) => a - b).join(" "));
    return list.sort();
  });

describe("polyhedra, as files before and after version 2.3 list their faces", () => {
  const wanted = faces.map((f) => f.map((n) => [...n].sort((a, b) => a - b).join(" ")).sort());
  it.each(["stream", "shared", "shared, from zero"] as const)("%s", (layout) => {
    const g = grid(file(layout));
    const cells = g.readCells();
    expect([Array.from(cells.types), Array.from(cells.offsets)]).toEqual([types, [0, ...ends(nodes)]]);
    expect(facesOf(cells)).toEqual(wanted);
    expect(g.dimension()).toBe(3);
  });
  it("have the volume of what they bound, however they are listed", () => {
    for (const layout of ["stream", "shared", "shared, from zero"] as const) {
      expect(Array.from(cellMeasures(loadMesh(grid(file(layout)), "mesh.vtu")))).toEqual([
        expect.closeTo(1, 12),
        expect.closeTo(1 / 6, 12),
        expect.closeTo(1 / 3, 12),
      ]);
    }
  });
  it.each([
    [
      "stream",
      "faces",
      (v: number[]) => v.map((n, i) => (i === 1 ? 99 : n)),
      /face 0 has 99 nodes, more than are there/,
    ],
    ["stream", "faces", (v: number[]) => v.slice(0, -3), /its faces end at/],
    ["stream", "faceoffsets", (v: number[]) => [v[0]!, -1, 9999], /cell 2: its faces end at 9999/],
    [
      "shared",
      "polyhedron_to_faces",
      (v: number[]) => v.map((f, i) => (i === 2 ? 77 : f)),
      /cell 0 has face 77, which is not there/,
    ],
    [
      "shared",
      "polyhedron_to_faces",
      (v: number[]) => v.map((f, i) => (i === 2 ? -1 : f)),
      /polyhedron_to_faces: -1 at place 2 is not a number of a point or cell/,
    ],
    ["shared", "face_connectivity", (v: number[]) => v.map((n, i) => (i === 0 ? 13 : n)), /names point 13/],
    ["shared", "polyhedron_offsets", (v: number[]) => [v[0]!, v[1]!, 5000], /which is not there/],
  ] as const)("that are damaged say where: %s, %s", (layout, name, change, message) => {
    const bytes = file(layout, (n, v) => (n === name ? change(v) : v));
    expect(() => grid(bytes).readCells()).toThrow(message);
  });
});
