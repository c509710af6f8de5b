import { describe, expect, it } from "@jest/globals";
import { memoryGrid } from "../formats/index.js";
import { numbers, type Table } from "../tables/table.js";
import { Block } from "./field-set.js";
import type { FieldAtTime } from "./columns.js";
import { reduceSite } from "./reduce.js";
import { sampleSite } from "./sample.js";
import { unifiedFields } from "./unified-fields.js";
import { brick as cube } from "../mesh/tests/corners.js";

type At = (x: number, y: number, z: number) => number;
interface Cells {
  readonly type: number;
  readonly points: readonly (readonly number[])[];
  readonly cells: readonly (readonly number[])[];
  readonly block?: string;
  readonly fields?: Readonly<Record<string, At>>;
  readonly inCells?: Readonly<Record<string, readonly number[]>>;
}

function field(...parts: readonly Cells[]): FieldAtTime {
  const grids = parts.map(({ type, points, cells, block = "", fields = {}, inCells = {} }) => {
    const offsets = Int32Array.from([
      0,
      ...cells.map((_, c) => cells.slice(0, c + 1).reduce((n, l) => n + l.length, 0)),
    ]);
    const arrays = { types: new Uint8Array(cells.length).fill(type), offsets, nodes: Int32Array.from(cells.flat()) };
    return memoryGrid(block, Float64Array.from(points.flat()), arrays, [
      ...Object.entries(fields).map(([name, f]) => ({
        name,
        on: "point" as const,
        components: 1,
        type: "float64" as const,
        values: Float64Array.from(points, ([x, y, z]) => f(x!, y!, z!)),
      })),
      ...Object.entries(inCells).map(([name, v]) => ({
        name,
        on: "cell" as const,
        components: 1,
        type: "float64" as const,
        values: Float64Array.from(v),
      })),
    ]);
  });
  const { grids: unified, fields, notes } = unifiedFields(grids, {}, (_, own) => own);
  return {
    file: "f",
    blocks: unified.map((g) => new Block(g, "f")),
    fields,
    fieldNotes: notes,
    lengthUnit: "m",
    derived: [],
  };
}
const one = (t: Table, name: string): number => numbers(t, name).values[0]!;
/** The same cube with its nodes numbered otherwise: turned about the vertical, and its points listed backwards. */
const turned = {
  points: [...cube].reverse(),
  cells: [
    [7, 6, 5, 4, 3, 2, 1, 0],
    [6, 5, 4, 7, 2, 1, 0, 3],
    [5, 4, 7, 6, 1, 0, 3, 2],
  ],
};
const xyz = { T: (x: number, y: number, z: number) => x * y * z };

describe("integrals over cells that are not simplices", () => {
  it("use the cell's shape functions: a trilinear field is integrated exactly, whatever the order of the nodes", () => {
    const r = { T: { mean: "T" }, q: { integral: "T" }, V: { size: true } } as const;
    const all = [
      field({ type: 12, points: cube, cells: [[0, 1, 2, 3, 4, 5, 6, 7]], fields: xyz }),
      ...turned.cells.map((c) => field({ type: 12, points: turned.points, cells: [c], fields: xyz })),
    ];
    for (const f of all) {
      const t = reduceSite(f, { kind: "all" }, r);
      expect([one(t, "T"), one(t, "q"), one(t, "V")].map((v) => Math.round(v * 1e14) / 1e14)).toEqual([
        0.125, 0.125, 1,
      ]);
    }
  });
  it("on planes too: means agree with the values that are sampled there", () => {
    const plane = { kind: "plane", point: [0, 0, 0.5], normal: [0, 0, 1] } as const;
    for (const cells of turned.cells) {
      const f = field({ type: 12, points: turned.points, cells: [cells], fields: xyz });
      expect(one(reduceSite(f, plane, { T: { mean: "T" } }), "T")).toBeCloseTo(0.5 / 4, 12);
      const middle = sampleSite(f, { kind: "points", places: [[0.5, 0.5, 0.5]] }, ["T"]);
      expect(one(middle, "T")).toBeCloseTo(0.125, 12);
    }
  });
  it("wedges, pyramids, quads and polygons: linear fields exactly, with the right size", () => {
    const T = (x: number, y: number, z: number): number => 1 + 2 * x + 3 * y + 5 * z;
    const cases: [number, number[][], number[], number, [number, number, number]][] = [
      [
        13,
        [
          [0, 0, 0],
          [1, 0, 0],
          [0, 1, 0],
          [0, 0, 2],
          [1, 0, 2],
          [0, 1, 2],
        ],
        [0, 1, 2, 3, 4, 5],
        1,
        [1 / 3, 1 / 3, 1],
      ],
      [
        14,
        [
          [0, 0, 0],
          [1, 0, 0],
          [1, 1, 0],
          [0, 1, 0],
          [0.5, 0.5, 3],
        ],
        [0, 1, 2, 3, 4],
        1,
        [0.5, 0.5, 0.75],
      ],
      [
        9,
        [
          [0, 0, 0],
          [2, 0, 0],
          [2, 1, 0],
          [0, 1, 0],
        ],
        [0, 1, 2, 3],
        2,
        [1, 0.5, 0],
      ],
      [
        7,
        [
          [0, 0, 0],
          [2, 0, 0],
          [2, 2, 0],
          [1, 3, 0],
          [0, 2, 0],
        ],
        [0, 1, 2, 3, 4],
        5,
        [1, 19 / 15, 0],
      ],
    ];
    for (const [type, points, cell, size, [x, y, z]] of cases) {
      const t = reduceSite(
        field({ type, points, cells: [cell], fields: { T } }),
        { kind: "all" },
        { m: { mean: "T" }, V: { size: true }, s: { std: "T" } },
      );
      expect([type, one(t, "V"), one(t, "m")]).toEqual([
        type,
        expect.closeTo(size, 12),
        expect.closeTo(T(x, y, z), 12),
      ]);
    }
  });
  it("a quadratic tetrahedron holds quadratic fields", () => {
    const corners = [
      [0, 0, 0],
      [1, 0, 0],
      [0, 1, 0],
      [0, 0, 1],
    ];
    const middles = [
      [0, 1],
      [1, 2],
      [2, 0],
      [0, 3],
      [1, 3],
      [2, 3],
    ].map(([a, b]) => corners[a!]!.map((v, d) => (v + corners[b!]![d]!) / 2));
    const f = field({
      type: 24,
      points: [...corners, ...middles],
      cells: [[0, 1, 2, 3, 4, 5, 6, 7, 8, 9]],
      fields: { T: (x, y) => x * x + 3 * x * y },
    });
    // ∫x² = 1/60, ∫xy = 1/120 over the unit tetrahedron.
    expect(one(reduceSite(f, { kind: "all" }, { q: { integral: "T" } }), "q")).toBeCloseTo(1 / 60 + 3 / 120, 13);
  });
  it("extremes are those of the nodes", () => {
    const t = reduceSite(
      field({ type: 12, points: cube, cells: [[0, 1, 2, 3, 4, 5, 6, 7]], fields: xyz }),
      { kind: "all" },
      { hot: { max: "T" }, cold: { min: "T" } },
    );
    expect([one(t, "hot"), one(t, "cold")]).toEqual([1, 0]);
  });
});

describe("rows of a cut", () => {
  const bar = {
    type: 12,
    points: [0, 1, 2].flatMap((x) => [
      [x, 0, 0],
      [x, 1, 0],
      [x, 1, 1],
      [x, 0, 1],
    ]),
    cells: [
      [0, 1, 2, 3, 4, 5, 6, 7],
      [4, 5, 6, 7, 8, 9, 10, 11],
    ],
  };
  it("a crossed cell is one row, with its number and its share of the area", () => {
    const f = field({ ...bar, fields: { T: (x) => x }, inCells: { n: [10, 20] } });
    const t = sampleSite(f, { kind: "plane", point: [0, 0, 0.5], normal: [0, 0, 1] }, ["T", "n"]);
    const rows = ["cell", "x", "T", "n", "size"].map((c) =>
      [...numbers(t, c).values].map((v) => Math.round(v * 1e12) / 1e12),
    );
    expect(rows).toEqual([
      [0, 1],
      [0.5, 1.5],
      [0.5, 1.5],
      [10, 20],
      [1, 1],
    ]);
    expect(sampleSite(f, { kind: "all" }, ["T"]).rows).toBe(2);
  });
  it("a plane through an edge leaves no empty pieces", () => {
    const f = field({ ...bar, fields: { T: (x) => x } });
    const t = sampleSite(f, { kind: "plane", point: [0, 0, 0], normal: [0, 1, 1] }, ["T"]);
    for (const s of numbers(t, "size").values) expect(s).toBeGreaterThan(0);
  });
});

describe("stations along a path", () => {
  it("take the part of the cut at the path, where the plane cuts the mesh again", () => {
    const box = (y: number): number[][] =>
      [0, 1].flatMap((x) => [
        [4 * x, y, 0],
        [4 * x, y + 1, 0],
        [4 * x, y + 1, 1],
        [4 * x, y, 1],
      ]);
    const f = field({
      type: 12,
      points: [...box(0), ...box(5)],
      cells: [
        [0, 1, 2, 3, 4, 5, 6, 7],
        [8, 9, 10, 11, 12, 13, 14, 15],
      ],
      fields: { T: (_, y) => y },
    });
    const along = {
      through: [
        [0, 0.5, 0.5],
        [4, 0.5, 0.5],
      ],
    } as const;
    const t = reduceSite(
      f,
      { kind: "stations", along, from: 1, to: 3, count: 2 },
      { T: { mean: "T" }, A: { size: true } },
    );
    expect([...numbers(t, "A").values].map((v) => v.toFixed(9))).toEqual(["1.000000000", "1.000000000"]);
    expect(one(t, "T")).toBeCloseTo(0.5, 12);
    expect(t.notes.join()).toMatch(/cuts the mesh more than once/);
    const axis = reduceSite(f, { kind: "stations", along: "x", from: 1, to: 3, count: 2 }, { A: { size: true } });
    expect(one(axis, "A")).toBeCloseTo(2, 12);
  });
});

describe("faces that are listed both ways", () => {
  it("are turned to agree, with a note: the flux is that of a surface listed one way", () => {
    const square = [
      [0, 0, 0],
      [1, 0, 0],
      [1, 1, 0],
      [0, 1, 0],
      [2, 0, 0],
      [2, 1, 0],
      [3, 0, 0],
      [3, 1, 0],
    ];
    const good = [
      [0, 1, 2, 3],
      [1, 4, 5, 2],
      [4, 6, 7, 5],
    ];
    const bad = [
      [0, 1, 2, 3],
      [2, 5, 4, 1],
      [4, 6, 7, 5],
    ];
    const flux = (cells: number[][]): Table =>
      reduceSite(
        field({ type: 9, points: square, cells, fields: { "U.x": () => 0 }, inCells: {} }),
        { kind: "all" },
        { f: { force: { pressure: "U.x", reference: -1 } } },
      );
    const z = (t: Table): number => one(t, "f.z");
    expect(z(flux(good))).toBeCloseTo(3, 12);
    expect(z(flux(bad))).toBeCloseTo(3, 12);
    expect(flux(bad).notes.join()).toMatch(/1 of 3 faces were turned/);
    expect(flux(good).notes.join()).not.toMatch(/turned/);
  });
});

describe("fields of several blocks", () => {
  const box = (x: number, fields: Record<string, At>, block: string): Cells => ({
    type: 12,
    points: cube.map(([a, b, c]) => [a! + x, b!, c!]),
    cells: [[0, 1, 2, 3, 4, 5, 6, 7]],
    block,
    fields,
  });
  it("in other units are converted; without a unit, or of another quantity, they are missing, each with a note", () => {
    const r = { T: { mean: "T" } } as const;
    const f = field(box(0, { "T [K]": () => 300 }, "a"), box(1, { "T [degC]": () => 36.85 }, "b"));
    const t = reduceSite(f, { kind: "all" }, r);
    expect(one(t, "T")).toBeCloseTo(305, 10);
    expect(t.notes.join()).toMatch(/"T" of block "b" is converted from °C to K/);
    const lost = reduceSite(
      field(box(0, { "T [K]": () => 300 }, "a"), box(1, { T: () => 5 }, "b")),
      { kind: "all" },
      r,
    );
    expect([one(lost, "T"), lost.conditions?.map((c) => c.kind)]).toEqual([300, ["gap"]]);
    expect(lost.notes.join()).toMatch(/"T" of block "b" is not used: its unit is not known/);
  });
  it("in one block only: the others do not count, and a condition says how much that is", () => {
    const f = field(box(0, { T: () => 300, p: () => 1 }, "a"), box(1, { p: () => 3 }, "b"));
    const t = reduceSite(f, { kind: "all" }, { T: { mean: "T" }, p: { mean: "p" }, V: { size: true } });
    expect([one(t, "T"), one(t, "p"), one(t, "V")].map((v) => v.toFixed(9))).toEqual([
      "300.000000000",
      "2.000000000",
      "2.000000000",
    ]);
    expect(t.conditions!.map((c) => c.text)).toEqual(['50 % of the volume has no value for "T" and does not count']);
  });
  it("`block` restricts any site", () => {
    const f = field(box(0, { T: () => 1 }, "a"), box(1, { T: () => 3 }, "b"));
    const mean = (site: object): number => one(reduceSite(f, site as never, { T: { mean: "T" } }), "T");
    const plane = { kind: "plane", point: [0, 0, 0.5], normal: [0, 0, 1] };
    expect([mean({ kind: "all", block: "b" }), mean({ ...plane, block: "a" }), mean(plane)].map(Math.round)).toEqual([
      3, 1, 2,
    ]);
    const line = { kind: "line", from: [0.5, 0.5, 0.5], to: [1.5, 0.5, 0.5], count: 2, block: "b" } as const;
    expect([...numbers(sampleSite(f, line, ["T"]), "T").values]).toEqual([NaN, 3]);
    expect(() => mean({ kind: "all", block: "c" })).toThrow(/no patch or block "c"/);
  });
  it("a name on points and in cells means the points; both can be named", () => {
    const f = field({
      type: 12,
      points: cube,
      cells: [[0, 1, 2, 3, 4, 5, 6, 7]],
      fields: { T: (x) => x },
      inCells: { T: [7] },
    });
    const t = sampleSite(f, { kind: "points", places: [[0.25, 0.5, 0.5]] }, ["T", "T@cell", "T@point"]);
    expect(["T", "T@cell", "T@point"].map((n) => one(t, n))).toEqual([0.25, 7, 0.25]);
  });
});

describe("the level of particles", () => {
  const cloud = (heights: number[]): FieldAtTime => {
    const points = heights.flatMap((h) => [
      [0, 0, h],
      [0.05, 0, h],
      [0, 0.05, h],
      [0.05, 0.05, h],
    ]);
    return field({ type: 1, points, cells: points.map((_, i) => [i]), fields: { T: () => 1 } });
  };
  const column = { kind: "column", place: [0, 0], along: "z", count: 2 } as const;
  const level = (f: FieldAtTime, more = {}): number =>
    one(reduceSite(f, column, { h: { level: true, radius: 0.2, ...more } }), "h");
  const bulk = Array.from({ length: 21 }, (_, k) => k * 0.05);
  it("is that of the bulk, not of the drops above it", () => {
    expect(level(cloud(bulk))).toBeCloseTo(1, 12);
    expect(level(cloud([...bulk, 1.6, 2.3]))).toBeCloseTo(1, 12);
  });
  it("refuses what particles do not have", () => {
    expect(() => level(cloud(bulk), { by: "sum" })).toThrow(/no "by"/);
    expect(() => level(cloud(bulk), { at: 2 })).toThrow(/share of the bulk density/);
  });
});
