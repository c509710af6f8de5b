import { describe, expect, it } from "@jest/globals";
import { memoryGrid } from "../formats/surfaces/surface-grid.js";
import type { FieldHead } from "../formats/mesh-data.js";
import { boundaryFaces } from "../mesh/boundary.js";
import { boxMesh, meshOf, type BoxCells } from "../mesh/tests/box-mesh.js";
import type { Mesh } from "../mesh/mesh.js";
import { parseFormula } from "../tables/formula-parser.js";
import { numbers, type Table } from "../tables/table.js";
import { Block } from "./field-set.js";
import { unifiedFields } from "./unified-fields.js";
import { reduceSite } from "./reduce.js";
import type { Reductions } from "./reductions.js";
import { sampleSite } from "./sample.js";
import type { FieldAtTime } from "./columns.js";
import type { Site } from "./sites/index.js";

const T = (x: number, y: number, z: number): number => 280 + 2 * x - 5 * y + 7 * z;
const U = (x: number, y: number, z: number): number[] => [1 + x, 2 - 3 * y, z];

function blockOf(mesh: Mesh, name = "", cellField = false): Block {
  const values = (f: (x: number, y: number, z: number) => number[]): Float64Array =>
    Float64Array.from(
      Array.from({ length: mesh.pointCount }, (_, i) =>
        f(mesh.points[3 * i]!, mesh.points[3 * i + 1]!, mesh.points[3 * i + 2]!),
      ).flat(),
    );
  const fields: (FieldHead & { values: Float64Array })[] = [
    { name: "T [K]", on: "point", components: 1, type: "float64", values: values((...p) => [T(...p)]) },
    { name: "U", on: "point", components: 3, type: "float64", values: values(U) },
    ...(cellField
      ? [
          {
            name: "id",
            on: "cell" as const,
            components: 1,
            type: "float64" as const,
            values: Float64Array.from({ length: mesh.cellCount }, (_, c) => c),
          },
        ]
      : []),
  ];
  return new Block(memoryGrid(name, mesh.points, mesh, fields), "mesh");
}

function at(blocks: Block[], derived: FieldAtTime["derived"] = []): FieldAtTime {
  const { fields } = unifiedFields(
    blocks.map((b) => b.grid),
    {},
    (name, own) => (name === "U" ? "m/s" : own),
  );
  return { file: "mesh", blocks, fields, lengthUnit: "m", derived };
}
const column = (t: Table, name: string): number[] => Array.from(numbers(t, name).values);
const one = (f: FieldAtTime, site: Site, r: Reductions): Record<string, number> => {
  const t = reduceSite(f, site, r);
  return Object.fromEntries(t.columns.map((c) => [c.name, c.values[0] as number]));
};

describe("a site that misses the mesh", () => {
  const f = at([blockOf(boxMesh("hexahedron", 3, 0.1))]);
  const all: Reductions = {
    A: { size: true },
    q: { flux: "U" },
    i: { integral: "T" },
    m: { mean: "T" },
    s: { std: "T" },
    p: { percentile: 50, of: "T" },
    x: { max: "T" },
    f: { force: { pressure: "T" } },
  };
  const values = (t: Table): number[] => t.columns.flatMap((c) => (c.kind === "number" ? [...c.values] : []));
  it("gives no number, least of all 0, and says where the mesh is", () => {
    const t = reduceSite(f, { kind: "plane", point: [1000, 0, 0], normal: [1, 0, 0] }, all);
    expect(new Set(values(t))).toEqual(new Set([NaN]));
    expect(numbers(t, "q").unit).toBe("m^3/s");
    expect(t.notes.join()).toMatch(
      /the plane misses the mesh.*extends from \(.*\) to \(.*\) m. Are both in the same unit/,
    );
    const bounded = reduceSite(f, { kind: "plane", point: [1, 0, 0], normal: [1, 0, 0], bounds: { y: [50, 60] } }, all);
    expect(new Set(values(bounded))).toEqual(new Set([NaN]));
  });
  it("a line and a set of places", () => {
    const { i, A, m } = all as Record<"i" | "A" | "m", Reductions[string]>;
    const line: Site = { kind: "line", from: [0, 0, 500], to: [1, 0, 500], count: 5 };
    const t = reduceSite(f, line, { i, A, m });
    expect(values(t)).toEqual([NaN, NaN, NaN]);
    expect(t.notes.join()).toMatch(/the line misses the mesh/);
    expect(values(reduceSite(f, { kind: "points", places: [[0, 0, 500]] }, { A, m }))).toEqual([NaN, NaN]);
  });
  it("stations: those that miss it are blank, the others are there", () => {
    const { A, q } = all as Record<"A" | "q", Reductions[string]>;
    const inside = numbers(
      reduceSite(f, { kind: "stations", along: "x", from: 0.2, to: 0.8, count: 2 } as Site, { A, q }),
      "A",
    ).values;
    const t = reduceSite(f, { kind: "stations", along: "x", from: 0.2, to: 5, count: 2 } as Site, { A, q });
    expect(Array.from(numbers(t, "A").values)).toEqual([inside[0], NaN]);
    expect(numbers(t, "q").values[1]).toBeNaN();
    expect(t.notes.join()).toMatch(/1 of 2 stations miss the mesh/);
  });
  it("a volume with its boundary surfaces in one file: the volume alone counts, and a note says so", () => {
    const mesh = boxMesh("hexahedron", 3, 0.1);
    const alone = at([blockOf(mesh)]);
    const b = boundaryFaces(mesh);
    const faces = Array.from(b.cell, (_, k) => ({
      type: 7,
      nodes: [...b.nodes.subarray(b.offsets[k], b.offsets[k + 1])],
    }));
    const both = at([blockOf(mesh), blockOf(meshOf(Array.from(mesh.points), faces), "walls")]);
    const plane: Site = { kind: "plane", point: [0.5, 0, 0], normal: [1, 0, 0] };
    for (const site of [plane, { kind: "all" }] as Site[]) {
      const r: Reductions = { A: { size: true }, m: { mean: "T" }, i: { integral: "T" } };
      expect(one(both, site, r)).toEqual(one(alone, site, r));
      expect(reduceSite(both, site, r).notes.join()).toMatch(/only the volumes/);
      expect(reduceSite(alone, site, r).notes.join()).not.toMatch(/only the volumes/);
    }
  });
  it("an iso-surface that is nowhere has no size", () => {
    expect(one(f, { kind: "iso", field: "T", value: 1e6 }, { A: { size: true } })["A"]).toBe(0);
  });
});

describe("sites made of places", () => {
  const f = at([blockOf(boxMesh("hexahedron", 3, 0.1))]);
  it("a line: ordered by its own distance, ends included, components by name", () => {
    const t = sampleSite(f, { kind: "line", from: [0.5, 0.2, 0], to: [0.5, 0.2, 1], count: 5 }, ["T", "U"]);
    expect(t.axis).toBe("distance");
    expect(t.columns.map((c) => [c.name, c.kind === "number" ? c.unit : ""])).toEqual([
      ["distance", "m"],
      ["x", "m"],
      ["y", "m"],
      ["z", "m"],
      ["T", "K"],
      ["U.x", "m/s"],
      ["U.y", "m/s"],
      ["U.z", "m/s"],
      ["U.mag", "m/s"],
    ]);
    column(t, "T").forEach((v, i) => expect(v).toBeCloseTo(T(0.5, 0.2, i / 4), 11));
    column(t, "U.mag").forEach((v, i) => expect(v).toBeCloseTo(Math.hypot(...U(0.5, 0.2, i / 4)), 11));
    expect(column(t, "distance")).toEqual([0, 0.25, 0.5, 0.75, 1]);
  });
  it("points with names, grids and paths; outside is blank and said", () => {
    const p = sampleSite(
      f,
      {
        kind: "points",
        places: [
          [1, 0.5, 0.5],
          [9, 0, 0],
        ],
        names: ["door", "far"],
      },
      ["T"],
    );
    expect(p.columns[0]!.values).toEqual(["door", "far"]);
    expect(column(p, "T")[0]).toBeCloseTo(T(1, 0.5, 0.5), 11);
    expect(column(p, "T")[1]).toBeNaN();
    expect(p.notes).toEqual(["1 of 2 places lie outside the mesh and are blank"]);
    const g = sampleSite(f, { kind: "grid", origin: [0.1, 0.1, 0.1], step: [0.5, 0.5, 0.5], count: [3, 2, 2] }, ["T"]);
    expect(g.rows).toBe(12);
    const path = sampleSite(
      f,
      {
        kind: "path",
        through: [
          [0, 0, 0],
          [1, 0, 0],
          [1, 1, 0],
        ],
        count: 5,
      },
      ["U.y"],
    );
    expect(column(path, "x")).toEqual([0, 0.5, 1, 1, 1]);
    expect(column(path, "U.y").map((v) => Number(v.toFixed(9)))).toEqual([2, 2, 2, 0.5, -1]);
  });
  it("wrong names say what is there; a line of no length is refused", () => {
    expect(() => sampleSite(f, { kind: "points", places: [[0, 0, 0]] }, ["temp"])).toThrow(
      /no column "temp"; there are "T", "U", "U\.x"/,
    );
    expect(() => sampleSite(f, { kind: "line", from: [0, 0, 0], to: [0, 0, 0], count: 3 }, ["T"])).toThrow(
      /two places that differ/,
    );
  });
  it("formulas over fields and places, with their units", () => {
    const derived: FieldAtTime["derived"] = [
      { name: "speed2", formula: parseFormula("U.x^2 + U.y^2 + U.z^2"), constants: {} },
      { name: "warm", formula: parseFormula("T - T0"), constants: { T0: { value: 280, unit: "K" } } },
    ];
    const t = sampleSite(at([...f.blocks], derived), { kind: "points", places: [[1, 0.5, 0.5]] }, ["speed2", "warm"]);
    expect(t.columns.map((c) => c.name)).toEqual(["x", "y", "z", "speed2", "warm"]);
    expect(column(t, "speed2")[0]).toBeCloseTo(4 + 0.25 + 0.25, 11);
    expect(numbers(t, "warm").unit).toBe("ΔK");
  });
});

describe("a unit in the place of the one that a file tells", () => {
  const mesh = boxMesh("tetra", 1);
  const values = new Float64Array(mesh.pointCount).fill(7);
  const field = { name: "T [K]", on: "point" as const, components: 1, type: "float64" as const, values };
  const grid = memoryGrid("", mesh.points, mesh, [field]);
  it("is told with what is sampled; one that says the same, or says it first, is not", () => {
    const notes = (unit: string): string[] => unifiedFields([grid], {}, () => unit).notes.map((n) => n.text);
    expect(notes("degC")).toEqual(['"T" is taken in °C, its file says K']);
    expect(notes("K")).toEqual([]);
    const plain = memoryGrid("", mesh.points, mesh, [{ ...field, name: "T" }]);
    expect(unifiedFields([plain], {}, () => "degC").notes).toEqual([]);
  });
});

describe("cells of lower dimension in one grid with volumes", () => {
  const box = boxMesh("hexahedron", 2);
  const cells = Array.from({ length: box.cellCount }, (_, c) => ({
    type: 12,
    nodes: Array.from(box.nodes.subarray(box.offsets[c]!, box.offsets[c + 1]!)),
  }));
  const corner = cells[0]!.nodes.slice(0, 4);
  const mixed = meshOf(Array.from(box.points), [...cells, { type: 9, nodes: corner }]);
  const fieldIn = (mesh: Mesh): FieldAtTime => {
    const block = blockOf(mesh);
    return {
      file: "f",
      blocks: [block],
      fields: unifiedFields([block.grid], {}, (_, own) => own).fields,
      lengthUnit: "m",
      derived: [],
    };
  };
  it.each<[string, Site]>([
    ["all", { kind: "all" }],
    ["a plane", { kind: "plane", point: [0.7, 0, 0], normal: [1, 0, 0] }],
    ["an iso-surface", { kind: "iso", field: "T", value: 283 }],
  ])("do not count, and a note says how many there are: %s", (_, site) => {
    const note = "only the volumes are sampled, not the 1 cell of lower dimension beside them";
    const [a, b] = [mixed, box].map((m) => reduceSite(fieldIn(m), site, { m: { mean: "T" }, s: { size: true } }));
    expect(a!.notes).toContain(note);
    expect(b!.notes).not.toContain(note);
    expect(a!.columns.map((c) => c.values[0])).toEqual(b!.columns.map((c) => c.values[0]));
  });
});

describe("reductions have their closed forms", () => {
  const kinds: BoxCells[] = ["tetra", "hexahedron", "wedge", "pyramid", "polyhedron"];
  it.each(kinds)("over planes, volumes and stations of %s", (kind) => {
    const f = at([blockOf(boxMesh(kind, 3, 0.1), "", true)]);
    const plane = one(
      f,
      { kind: "plane", point: [0.7, 0, 0], normal: [2, 0, 0] },
      {
        mean: { mean: "T" },
        flow: { flux: "U" },
        area: { size: true },
        low: { min: "T" },
        high: { max: "T" },
        sum: { integral: "T" },
        spread: { std: "T" },
      },
    );
    expect(plane["mean"]).toBeCloseTo(T(0.7, 0.5, 0.5), 10);
    expect(plane["flow"]).toBeCloseTo(1.7, 10);
    expect(plane["area"]).toBeCloseTo(1, 10);
    expect(plane["low"]).toBeCloseTo(T(0.7, 1, 0), 10);
    expect(plane["high"]).toBeCloseTo(T(0.7, 0, 1), 10);
    expect(plane["sum"]).toBeCloseTo(T(0.7, 0.5, 0.5), 10);
    expect(plane["spread"]).toBeCloseTo(Math.sqrt((25 + 49) / 12), 9);
    const volume = one(f, { kind: "all" }, { mean: { mean: "T" }, size: { size: true }, sum: { integral: "U.x" } });
    expect(volume["mean"]).toBeCloseTo(T(1, 0.5, 0.5), 9);
    expect(volume["size"]).toBeCloseTo(2, 10);
    expect(volume["sum"]).toBeCloseTo(4, 9);
    const s = reduceSite(
      f,
      { kind: "stations", along: "x", from: 0.25, to: 1.75, count: 4 },
      { T: { mean: "T" }, flow: { flux: "U" } },
    );
    expect(s.axis).toBe("x");
    column(s, "T").forEach((v, i) => expect(v).toBeCloseTo(T(0.25 + i / 2, 0.5, 0.5), 10));
    column(s, "flow").forEach((v, i) => expect(v).toBeCloseTo(1.25 + i / 2, 10));
    expect(s.notes).toEqual(["T: weighted by area"]);
  });
  it("units: areas, volumes, fluxes, differences of degrees", () => {
    const f = at([blockOf(boxMesh("tetra", 2))]);
    const t = reduceSite(
      f,
      { kind: "plane", point: [1, 0, 0], normal: [1, 0, 0] },
      { a: { size: true }, q: { flux: "U" }, i: { integral: "T" }, s: { std: "T" } },
    );
    expect(t.columns.map((c) => (c.kind === "number" ? c.unit : ""))).toEqual(["m^2", "m^3/s", "K m^2", "ΔK"]);
    expect(() => reduceSite(f, { kind: "plane", point: [1, 0, 0], normal: [1, 0, 0] }, { q: { flux: "T" } })).toThrow(
      /not a vector/,
    );
    expect(() => reduceSite(f, { kind: "all" }, { q: { mean: "U" } })).toThrow(/name one of its components/);
    expect(() => reduceSite(f, { kind: "points", places: [[0, 0, 0]] }, { q: { flux: "U" } })).toThrow(/no area/);
  });
  it.each(kinds)("what flows out of all sides of %s is the divergence inside", (kind) => {
    const mesh = boxMesh(kind, 3, 0);
    const b = boundaryFaces(mesh);
    const faces = Array.from(b.cell, (_, k) => ({
      type: 7,
      nodes: Array.from(b.nodes.subarray(b.offsets[k], b.offsets[k + 1])),
    }));
    const surface = at([blockOf(meshOf(Array.from(mesh.points), faces), "sides")]);
    // div U = 1 − 3 + 1, over a volume of 2; a wedge's faces are listed inward by its format.
    const out = one(surface, { kind: "patch", match: "sid*" }, { q: { flux: "U" } })["q"]!;
    expect(Math.abs(out)).toBeCloseTo(2, 10);
  });
  it("several blocks add up; patches are found by name or pattern", () => {
    const left = blockOf(boxMesh("hexahedron", 2), "hall/left");
    const moved = boxMesh("tetra", 2);
    for (let i = 0; i < moved.points.length; i += 3) moved.points[i]! += 2;
    const f = at([left, blockOf(moved, "hall/right")]);
    expect(one(f, { kind: "all" }, { v: { size: true } })["v"]).toBeCloseTo(4, 12);
    expect(one(f, { kind: "patch", match: "right" }, { m: { mean: "T" } })["m"]).toBeCloseTo(T(3, 0.5, 0.5), 10);
    expect(
      column(
        sampleSite(
          f,
          {
            kind: "points",
            places: [
              [1, 0.5, 0.5],
              [3, 0.5, 0.5],
            ],
          },
          ["T"],
        ),
        "T",
      ).map(Math.round),
    ).toEqual([283, 287]);
    expect(() => one(f, { kind: "patch", match: "door" }, { v: { size: true } })).toThrow(
      /no patch or block "door"; there is "hall\/left", "hall\/right"/,
    );
  });
});
