import { describe, expect, it } from "@jest/globals";
import { threadSeconds } from "../testing/thread-seconds.js";
import { glob } from "../tables/index.js";
import {
  bufferSource,
  compilePattern,
  describeTextTable,
  openMesh,
  readLines,
  readTextTable,
  type MeshFile,
} from "./index.js";
import { writeUnstructured, writeVtkXml, type Writing } from "./vtk/tests/write-xml.js";

const text = (t: string): ReturnType<typeof bufferSource> => bufferSource("a.dat", Buffer.from(t));
const mesh = (b: Uint8Array | string): MeshFile =>
  openMesh(bufferSource("a.dat", typeof b === "string" ? Buffer.from(b) : b), {
    open: () => {
      throw new Error("none");
    },
  }) as MeshFile;
const all = (m: MeshFile): void =>
  m.grids.forEach((g) => (g.readPoints(), g.readCells(), g.fields.forEach((f) => g.readField(f.on, f.name))));
/** Processor seconds that something takes. */
function seconds(work: () => unknown): number {
  const start = threadSeconds();
  try {
    work();
  } catch {
    // An error is an answer.
  }
  return threadSeconds() - start;
}

describe("headers of a hundred thousand characters take no time", () => {
  const N = 100_000;
  const rows = (d: string): string =>
    "\n" + Array.from({ length: 50 }, (_, i) => [i, 2 * i, 3 * i].join(d)).join("\n") + "\n";
  it.each([
    ["blanks within a name", `a${" ".repeat(N)}b,c,d`],
    ["tabs within a name", `a${"\t".repeat(N)}b,c,d`],
    ["a quote before each letter", `${'"a'.repeat(N / 2)},b,c`],
    ["brackets", `x${"(".repeat(N)},b,c`],
    ["pairs of brackets", `x ${"()".repeat(N / 2)}z,b,c`],
    ["a unit without end", `x [${"m*(".repeat(N / 3)}],b,c`],
    ["commas and blanks", `a,b,c${`,${" ".repeat(10)}`.repeat(N / 11)}x`],
    ["one word", "a".repeat(N)],
    ["words", "ab ".repeat(N / 3)],
    ["quotes", '"'.repeat(N)],
  ])("%s", (_, head) => {
    for (const d of [",", " ", ";"]) {
      expect(seconds(() => readTextTable(text(head + rows(d))))).toBeLessThan(3);
      expect(seconds(() => describeTextTable(text(head + rows(d))))).toBeLessThan(3);
    }
  });
});

describe("patterns take time by their length and the text's, no more", () => {
  it("of names", () => {
    expect(seconds(() => glob(`${"*a".repeat(100)}b`)("a".repeat(5000)))).toBeLessThan(3);
    expect(seconds(() => glob("{a,{a,{a,*}*}*}*b".repeat(20))("a".repeat(2000)))).toBeLessThan(3);
    expect(() => glob("*".repeat(2000))).toThrow(/longer than 1000/);
  });
  it("of log lines", () => {
    const many = compilePattern(`${Array.from({ length: 40 }, (_, k) => `…{a${k}}`).join("")} end`);
    expect(seconds(() => readLines(text(`${"1 ".repeat(9000)}\n`.repeat(3)), [many]))).toBeLessThan(10);
    const close = compilePattern(Array.from({ length: 45 }, (_, k) => `{a${k}:text}`).join("") + "!");
    expect(seconds(() => readLines(text(`${"x".repeat(19_000)}\n`), [close]))).toBeLessThan(10);
  });
  it("and give what they gave", () => {
    const find = (pattern: string, line: string): unknown => compilePattern(pattern).find(line);
    expect(find("Time = {time:s} s", "x time =   1.5e-3   S")).toEqual(["1.5e-3"]);
    expect(find("res {a} … {b}", "res -1 and then .5D+02 7")).toEqual(["-1", ".5D+02"]);
    expect(find("{w:text} {n}", "solver: nan")).toEqual(["solver:", "nan"]);
    expect(find("t {t} | {w:text}", "t 3")).toBeUndefined();
    const fits = (p: string, ...names: string[]): boolean[] => names.map((n) => glob(p)(n));
    expect(fits("cells_*", "cells_1", "cells_", "xcells_1", "cells_a/b")).toEqual([true, true, false, false]);
    expect(fits("**/*.csv", "a.csv", "a/b/c.csv", "a.txt")).toEqual([true, true, false]);
    expect(fits("a/**/b", "a/b", "a/x/y/b", "a/xb")).toEqual([true, true, false]);
    expect(fits("{T,p}_[0-9]?", "T_1a", "p_9z", "T_a1", "q_11")).toEqual([true, true, false, false]);
    expect(fits("[!a]*", "b", "a", "ab")).toEqual([true, false, false]);
    expect(fits("a\\*{x}[", "a*{x}[", "ab{x}[")).toEqual([true, false]);
  });
});

describe("junk is not a table", () => {
  const random = (seed: number): Uint8Array => {
    let x = seed;
    return Uint8Array.from({ length: 4000 }, () => ((x = (x * 16807) % 2147483647), x % 256));
  };
  it.each([
    ["random bytes", random(1)],
    ["other random bytes", random(77)],
    ["zeros", new Uint8Array(1000)],
    [
      "a picture's first bytes",
      Uint8Array.of(137, 80, 78, 71, 13, 10, 26, 10, 0, 0, 0, 13, 73, 72, 68, 82, ...random(3)),
    ],
    ["a packed file", Uint8Array.of(80, 75, 3, 4, 20, 0, 0, 0, 8, 0, ...random(5))],
    [
      "prose with commas",
      Buffer.from(
        "The hall is cold, said the keeper.\nIt was warm, once.\nNobody knew why.\nNobody asked.\n".repeat(10),
      ),
    ],
    [
      "a stray line of numbers in pages of prose",
      Buffer.from(`${"Nothing to be seen here at all.\n".repeat(80)}12 34\n${"Nor here.\n".repeat(80)}`),
    ],
  ])("%s", (_, bytes) => {
    expect(() => readTextTable(bufferSource("junk.dat", bytes))).toThrow(/not a text|no table in this file/);
  });
});

describe("sizes are equal to what headers say, not at least", () => {
  const cube = { points: [0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0, 1], cells: [{ type: 10, nodes: [0, 1, 2, 3] }] };
  const ways: Writing[] = (["ascii", "binary", "appended-raw", "appended-base64"] as const).flatMap(
    (format): Writing[] => (format === "ascii" ? [{ format }] : [{ format }, { format, packed: "zlib" }]),
  );
  it.each(ways.map((w) => [Object.values(w).join(" "), w] as const))("longer and shorter arrays: %s", (_, how) => {
    for (const n of [3, 5]) {
      const file = writeUnstructured(how, cube, [
        { name: "T", on: "point", type: "float64", values: Array.from({ length: n }, (_, i) => i) },
      ]);
      expect(() => all(mesh(file))).toThrow(/are needed/);
    }
  });
  it("cells and faces that name absent points", () => {
    const bad = writeUnstructured({ format: "ascii" }, { ...cube, cells: [{ type: 10, nodes: [0, 1, 2, 4] }] });
    expect(() => all(mesh(bad))).toThrow(/names point 4, but there are only 4/);
    const poly = (faces: number[]): Uint8Array =>
      writeVtkXml(
        "UnstructuredGrid",
        { format: "ascii" },
        (put) =>
          `<UnstructuredGrid><Piece NumberOfPoints="4" ` +
          `NumberOfCells="1"><Points>${put({ name: "p", type: "float64", components: 3, values: cube.points })}</Points><Cells>${put({ name: "connectivity", type: "int64", values: [0, 1, 2, 3] })}${put({ name: "offsets", type: "int64", values: [4] })}${put({ name: "types", type: "uint8", values: [42] })}${put({ name: "faces", type: "int64", values: faces })}${put({ name: "faceoffsets", type: "int64", values: [faces.length] })}</Cells></Piece></UnstructuredGrid>`,
      );
    all(mesh(poly([4, 3, 0, 2, 1, 3, 0, 1, 3, 3, 1, 2, 3, 3, 0, 3, 2])));
    expect(() => all(mesh(poly([4, 3, 0, 2, 1, 3, 0, 1, 9, 3, 1, 2, 3, 3, 0, 3, 2])))).toThrow(
      /a face of a polyhedron names point 9/,
    );
    expect(() => all(mesh(poly([2, 3, 0, 2, 1, 3, 0, 1, 3])))).toThrow(/a polyhedron of 2 faces/);
    const legacy =
      "# vtk DataFile Version 3.0\nx\nASCII\nDATASET UNSTRUCTURED_GRID\nPOINTS 4 " +
      `float\n${cube.points.join(" ")}\nCELLS 1 5\n4 0 1 2 3\nCELL_TYPES 1\n42\n`;
    expect(() => all(mesh(legacy))).toThrow(/its faces are not listed/);
  });
  it("surfaces that end early, or go on behind what they announce", () => {
    const stl =
      "solid a\nfacet normal 0 0 1\nouter loop\nvertex 0 0 0\nvertex 1 0 0\nvertex 0 1 0\nendloop\nendfacet\nendsolid a\n";
    all(mesh(stl));
    expect(() => mesh(stl.replace("endsolid a\n", ""))).toThrow(/ends inside a solid/);
    expect(() => mesh(stl.replace("vertex 0 1 0\n", ""))).toThrow(/a facet has 2 corners/);
    const ply =
      "ply\nformat ascii 1.0\nelement vertex 3\nproperty float x\nproperty float y\nproperty float " +
      "z\nelement face 1\nproperty list uchar int vertex_indices\nend_header\n0 0 0\n1 0 0\n0 1 0\n3 0 " +
      "1 2\n";
    all(mesh(ply));
    expect(() => mesh(`${ply}7 8\n`)).toThrow(/goes on behind what its header announces/);
    expect(mesh(ply.trimEnd()).grids[0]!.notes).toEqual([
      "a.dat has no line end behind its last value, which may be cut off",
    ]);
  });
});
