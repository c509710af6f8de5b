import { describe, expect, it } from "@jest/globals";
import fc from "fast-check";
import { bufferSource, FormatError } from "../source.js";
import type { Grid, MeshFile, Siblings } from "../mesh-data.js";
import { openMesh } from "../open-mesh.js";

const alone: Siblings = {
  open: () => {
    throw new Error("no other file is expected");
  },
};
const grid = (bytes: Uint8Array | string): Grid =>
  (openMesh(bufferSource("mesh.vtk", typeof bytes === "string" ? Buffer.from(bytes) : bytes), alone) as MeshFile)
    .grids[0]!;

/** Text and bytes in one: numbers of a type, big end first, or in text. */
function legacy(
  binary: boolean,
  parts: (string | { type: "int" | "float" | "double" | "long"; values: number[] })[],
): Buffer {
  const out = [Buffer.from(`# vtk DataFile Version 5.1\ntest\n${binary ? "BINARY" : "ASCII"}\n`)];
  for (const p of parts) {
    if (typeof p === "string") out.push(Buffer.from(p));
    else if (!binary) out.push(Buffer.from(p.values.join(" ") + "\n"));
    else {
      const size = p.type === "double" || p.type === "long" ? 8 : 4;
      const b = Buffer.alloc(p.values.length * size + 1, 10);
      p.values.forEach((v, i) => {
        if (p.type === "int") b.writeInt32BE(v, 4 * i);
        else if (p.type === "long") b.writeBigInt64BE(BigInt(v), 8 * i);
        else if (p.type === "float") b.writeFloatBE(v, 4 * i);
        else b.writeDoubleBE(v, 8 * i);
      });
      out.push(b);
    }
  }
  return Buffer.concat(out);
}

const corners = [0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0, 1, 1, 1, 1];
const unstructured = (binary: boolean, layout: "old" | "new"): Buffer =>
  legacy(binary, [
    "DATASET UNSTRUCTURED_GRID\nPOINTS 5 float\n",
    { type: "float", values: corners },
    ...(layout === "old"
      ? ["CELLS 2 10\n", { type: "int" as const, values: [4, 0, 1, 2, 3, 4, 1, 2, 3, 4] }]
      : [
          "CELLS 3 8\nOFFSETS vtktypeint64\n",
          { type: "long" as const, values: [0, 4, 8] },
          "CONNECTIVITY vtktypeint64\n",
          { type: "long" as const, values: [0, 1, 2, 3, 1, 2, 3, 4] },
        ]),
    "CELL_TYPES 2\n",
    { type: "int", values: [10, 10] },
    "CELL_DATA 2\nSCALARS id int 1\nLOOKUP_TABLE default\n",
    { type: "int", values: [5, 6] },
    "POINT_DATA 5\nFIELD FieldData 2\nT%20mean 1 5 double\n",
    { type: "double", values: [0, 0.25, 0.5, 0.75, 1] },
    "METADATA\nINFORMATION 0\n\nU 3 5 float\n",
    { type: "float", values: Array.from({ length: 15 }, (_, i) => i) },
    "VECTORS v float\n",
    { type: "float", values: Array.from({ length: 15 }, (_, i) => -i) },
  ]);

describe("legacy VTK files", () => {
  it.each([
    [false, "old"],
    [true, "old"],
    [false, "new"],
    [true, "new"],
  ] as const)("unstructured, bytes %s, %s layout", (binary, layout) => {
    const g = grid(unstructured(binary, layout));
    expect(Array.from(g.readPoints())).toEqual(corners);
    expect(Array.from(g.readCells().nodes)).toEqual([0, 1, 2, 3, 1, 2, 3, 4]);
    expect(Array.from(g.readCells().offsets)).toEqual([0, 4, 8]);
    expect(g.fields.map((f) => [f.name, f.on, f.components])).toEqual([
      ["id", "cell", 1],
      ["T mean", "point", 1],
      ["U", "point", 3],
      ["v", "point", 3],
    ]);
    expect(Array.from(g.readField("point", "T mean"))).toEqual([0, 0.25, 0.5, 0.75, 1]);
    expect(Array.from(g.readSome("point", "U", [4]))).toEqual([12, 13, 14]);
    expect(Array.from(g.readField("cell", "id"))).toEqual([5, 6]);
  });
  it("structured points, structured and rectilinear grids", () => {
    const p = grid(
      "# vtk DataFile Version 2.0\nx\nASCII\nDATASET STRUCTURED_POINTS\nDIMENSIONS 3 2 2\nORIGIN 1 0 " +
        "0\nSPACING 2 1 1\nPOINT_DATA 12\nSCALARS s float\nLOOKUP_TABLE default\n0 1 2 3 4 5 6 7 8 9 10 " +
        "11\n",
    );
    expect([p.points, p.cells, p.readCells().types[0]]).toEqual([12, 2, 12]);
    expect(Array.from(p.readPoints().subarray(33))).toEqual([5, 1, 1]);
    const r = grid(
      legacy(true, [
        "DATASET RECTILINEAR_GRID\nDIMENSIONS 2 2 1\nX_COORDINATES 2 float\n",
        { type: "float", values: [0, 4] },
        "Y_COORDINATES 2 float\n",
        { type: "float", values: [1, 2] },
        "Z_COORDINATES 1 float\n",
        { type: "float", values: [9] },
      ]),
    );
    expect(Array.from(r.readPoints())).toEqual([0, 1, 9, 4, 1, 9, 0, 2, 9, 4, 2, 9]);
    const s = grid(
      "# vtk DataFile Version 3.0\nx\nASCII\nDATASET STRUCTURED_GRID\nDIMENSIONS 2 1 1\nPOINTS 2 " +
        "double\n0 0 0 1 2 3\nCELL_DATA 1\nNORMALS n float\n0 0 1\n",
    );
    expect([Array.from(s.readCells().types), Array.from(s.readField("cell", "n"))]).toEqual([[3], [0, 0, 1]]);
  });
  it("polygons with lines and points", () => {
    const g = grid(
      "# vtk DataFile Version 3.0\nx\nASCII\nDATASET POLYDATA\nPOINTS 4 float\n0 0 0 1 0 0 1 1 0 0 1 " +
        "0\nPOLYGONS 1 5\n4 0 1 2 3\nVERTICES 1 2\n1 2\nLINES 1 4\n3 0 1 2\n",
    );
    expect([Array.from(g.readCells().types), Array.from(g.readCells().nodes)]).toEqual([
      [1, 4, 9],
      [2, 0, 1, 2, 0, 1, 2, 3],
    ]);
  });
  it("property: damaged bytes give an error that says so, or values", () => {
    const kinds = [unstructured(false, "old"), unstructured(true, "new"), unstructured(true, "old")];
    fc.assert(
      fc.property(
        fc.constantFrom(...kinds),
        fc.array(fc.tuple(fc.nat(9999), fc.nat(255)), { minLength: 1, maxLength: 6 }),
        (base, changes) => {
          const bytes = Uint8Array.from(base);
          for (const [at, b] of changes) bytes[at % bytes.length] = b;
          try {
            const g = grid(bytes);
            g.readPoints();
            g.readCells();
            for (const f of g.fields) g.readField(f.on, f.name);
          } catch (e) {
            if (!(e instanceof FormatError)) throw e;
          }
        },
      ),
      { numRuns: 400 },
    );
  });
});

describe("surface files", () => {
  const stl =
    "solid north wall\nfacet normal 0 0 1\nouter loop\nvertex 0 0 0\nvertex 1 0 0\nvertex 0 1 " +
    "0\nendloop\nendfacet\nfacet normal 0 0 1\nouter loop\nvertex 1 0 0\nvertex 1 1 0\nvertex 0 1 " +
    "0\nendloop\nendfacet\nendsolid\n";
  it("STL in text and bytes share corners", () => {
    const t = grid(stl);
    expect([t.points, t.cells, Array.from(t.readCells().nodes)]).toEqual([4, 2, [0, 1, 2, 1, 3, 2]]);
    const b = Buffer.alloc(84 + 100);
    b.writeUInt32LE(2, 80);
    [0, 0, 0, 1, 0, 0, 0, 1, 0, 1, 0, 0, 1, 1, 0, 0, 1, 0].forEach((v, i) =>
      b.writeFloatLE(v, 84 + 50 * Math.floor(i / 9) + 12 + 4 * (i % 9)),
    );
    expect(Array.from(grid(b).readPoints())).toEqual(Array.from(t.readPoints()));
    expect(() => grid(stl.replace("vertex 1 1 0", "vertex 1 x 0"))).toThrow(/no three coordinates/);
    const two = openMesh(bufferSource("two.stl", Buffer.from(stl + stl.replace("north", "south"))), alone) as MeshFile;
    expect(two.grids.map((g) => g.block)).toEqual(["north wall", "south wall"]);
  });
  it("PLY in text and bytes", () => {
    const head = (f: string): string =>
      `ply\nformat ${f} 1.0\nelement vertex 4\nproperty float x\nproperty float y\nproperty float ` +
      "z\nproperty double T\nelement face 1\nproperty list uchar int vertex_indices\nend_header\n";
    const t = grid(`${head("ascii")}0 0 0 1\n1 0 0 2\n1 1 0 3\n0 1 0 4\n4 0 1 2 3\n`);
    expect([Array.from(t.readCells().types), Array.from(t.readField("point", "T"))]).toEqual([[9], [1, 2, 3, 4]]);
    const body = Buffer.alloc(4 * 20 + 17);
    [
      [0, 0, 0, 1],
      [1, 0, 0, 2],
      [1, 1, 0, 3],
      [0, 1, 0, 4],
    ].forEach(([x, y, z, T], i) => {
      body.writeFloatBE(x!, 20 * i);
      body.writeFloatBE(y!, 20 * i + 4);
      body.writeFloatBE(z!, 20 * i + 8);
      body.writeDoubleBE(T!, 20 * i + 12);
    });
    body[80] = 4;
    [0, 1, 2, 3].forEach((v, i) => body.writeInt32BE(v, 81 + 4 * i));
    const b = grid(Buffer.concat([Buffer.from(head("binary_big_endian")), body]));
    expect(Array.from(b.readPoints())).toEqual(Array.from(t.readPoints()));
    expect(() => grid(Buffer.concat([Buffer.from(head("binary_big_endian")), body.subarray(0, 90)]))).toThrow(
      /cut off/,
    );
  });
  it("OBJ: groups become blocks, numbers count from one or from the end", () => {
    const m = openMesh(
      bufferSource(
        "x.obj",
        Buffer.from("# made\nv 0 0 0\nv 1 0 0\nv 1 1 0\nv 0 1 0\ng floor\nf 1/1 2/2 3/3\ng wall\nf -4 -2 -1\n"),
      ),
      alone,
    ) as MeshFile;
    expect(m.grids.map((g) => [g.block, g.points, Array.from(g.readCells().nodes)])).toEqual([
      ["floor", 3, [0, 1, 2]],
      ["wall", 3, [0, 1, 2]],
    ]);
    expect(() => grid("v 0 0 0\nf 1 2 3\n")).toThrow(/names vertex 3, but there are only 1/);
  });
  it("what is none of them says so", () => {
    expect(() => grid("time,T\n0,1\n")).toThrow(/not a mesh file of a known format/);
    expect(() => grid("")).toThrow(/empty/);
  });
});
