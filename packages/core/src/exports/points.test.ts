import { describe, expect, it } from "@jest/globals";
import fc from "fast-check";
import { bufferSource } from "../formats/source.js";
import type { Grid, MeshFile } from "../formats/mesh-data.js";
import { openMesh } from "../formats/open-mesh.js";
import { makeTable, numberColumn, textColumn, type Table } from "../tables/table.js";
import { toPoints } from "./points.js";

const alone = {
  open: () => {
    throw new Error("no other file is expected");
  },
};
const read = (table: Table, kind: "vtp" | "vtu"): Grid =>
  (openMesh(bufferSource(`points.${kind}`, Buffer.from(toPoints(table, kind))), alone) as MeshFile).grids[0]!;

const awkward = fc.oneof(fc.double(), fc.constantFrom(0, -0, Number.NaN, Infinity, -Infinity, 5e-324, 1 / 3));
const three = (x: readonly number[]): ReturnType<typeof numberColumn>[] => [
  numberColumn("x", "m", x),
  numberColumn(
    "y",
    "m",
    x.map((_, i) => i / 7),
  ),
  numberColumn(
    "z",
    "m",
    x.map((_, i) => -i),
  ),
];

describe.each(["vtp", "vtu"] as const)("rows as points: %s", (kind) => {
  it("property: places and values come back bit by bit, missing ones as NaN", () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.double({ noNaN: true, noDefaultInfinity: true }), awkward), { maxLength: 40 }),
        (rows) => {
          const [x, T] = [rows.map((r) => r[0]), rows.map((r) => r[1])];
          const g = read(makeTable([...three(x), numberColumn("T", "degC", T)]), kind);
          expect([g.points, g.cells]).toEqual([rows.length, rows.length]);
          expect(Array.from(g.readPoints())).toEqual(x.flatMap((v, i) => [v, i / 7, -i]));
          if (rows.length === 0) return;
          expect(Array.from(g.readField("point", "T [degC]"))).toEqual(T);
          const { types, offsets, nodes } = g.readCells();
          expect(Array.from(types)).toEqual(x.map(() => 1));
          expect(Array.from(offsets)).toEqual([0, ...x.map((_, i) => i + 1)]);
          expect(Array.from(nodes)).toEqual(x.map((_, i) => i));
        },
      ),
      { numRuns: 30 },
    );
  });
  it("has three columns of one unit as a vector, and others as they are", () => {
    const column = (name: string, unit: string | null, by: number): ReturnType<typeof numberColumn> =>
      numberColumn(name, unit, [by, 2 * by]);
    const table = makeTable([
      textColumn("run", ["a", "b"]),
      column("U.y", "m/s", 2),
      column("U.x", "m/s", 1),
      ...three([0, 1]),
      column("U.z", "m/s", 3),
      column("q.x", "W/m^2", 4),
      column("q.y", "kW/m^2", 5),
      column("q.z", "W/m^2", 6),
      column("w.x", null, 7),
      column("w.y", null, 8),
      column("plain", "1", 9),
    ]);
    const g = read(table, kind);
    expect(g.fields.map((f) => [f.name, f.components])).toEqual([
      ["U [m/s]", 3],
      ["q.x [W/m^2]", 1],
      ["q.y [kW/m^2]", 1],
      ["q.z [W/m^2]", 1],
      ["w.x", 1],
      ["w.y", 1],
      ["plain [1]", 1],
    ]);
    expect(Array.from(g.readField("point", "U [m/s]"))).toEqual([1, 2, 3, 2, 4, 6]);
  });
  it("has names of any letters", () => {
    const names = ['a<b>&"c"', "Δp über", "日本", "]]>", "tab\tend"];
    const g = read(makeTable([...three([0]), ...names.map((n, k) => numberColumn(n, null, [k]))]), kind);
    expect(g.fields.map((f) => f.name)).toEqual([...names.slice(0, 4), "tab end"]);
    expect(g.fields.map((f) => g.readField("point", f.name)[0])).toEqual([0, 1, 2, 3, 4]);
  });
  it("needs x, y and z as numbers", () => {
    expect(() => toPoints(makeTable(three([0]).slice(0, 2)), kind)).toThrow(/"z"/);
    const words = makeTable([...three([0]).slice(0, 2), textColumn("z", ["a"])]);
    expect(() => toPoints(words, kind)).toThrow(/"z"/);
  });
});
