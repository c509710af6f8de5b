import { describe, expect, it } from "@jest/globals";
import { memoryGrid } from "@oxtrum/core/formats";
import { Block, unifiedFields, type FieldAtTime } from "@oxtrum/core/sampling";
import { sha256 } from "../store/keys.js";
import { packValue } from "../store/serialize.js";
import { emptyField } from "../scheduler/empty-field.js";
import { fieldArgs } from "./field-arguments.js";
import { executeField, fieldReads, type FieldSource } from "./field/index.js";
import { operations } from "./registry.js";
import { formulaArgument } from "./arguments.js";
import { tableValue } from "./arguments.js";

/**
 * What every field operation gives on a fixed mesh, as a digest, by its name and version: see the golden values of
 * table operations. The mesh is a row of bricks, wedges and tetrahedra with a patch, at three times.
 */
const golden: Readonly<Record<string, string>> = {
  "sample points (field.sample@6)": "f41fda2a233b1696",
  "sample line (field.sample@6)": "e97618a613009bfc",
  "sample path (field.sample@6)": "3146e2683343e43c",
  "sample grid (field.sample@6)": "32cb43c64aee6301",
  "sample plane (field.sample@6)": "bc8d39bf87a0ad02",
  "sample bounded (field.sample@6)": "c7d162a43143f0a2",
  "sample patch (field.sample@6)": "126b9b02d9ac38ec",
  "sample all (field.sample@6)": "a489b2cd20ed450a",
  "sample column (field.sample@6)": "7932db07485e13d5",
  "sample stations (field.sample@6)": "71025808e20dedad",
  "sample pathStations (field.sample@6)": "c962d13994004d68",
  "sample lineStations (field.sample@6)": "f3c2ab52b57d91be",
  "sample nodes (field.sample@6)": "48c7d1d0ffbe867d",
  "sample cells (field.sample@6)": "d6d99e1439a22f36",
  "sample iso (field.sample@6)": "c242c0ff266b3b71",
  "reduce points (field.reduce@9)": "f1d4853a1294db5f",
  "reduce line (field.reduce@9)": "680f033779d25b2c",
  "reduce path (field.reduce@9)": "42b35f94949c6143",
  "reduce grid (field.reduce@9)": "9517e6aab874e140",
  "reduce plane (field.reduce@9)": "67a0a6ad5981ef03",
  "reduce bounded (field.reduce@9)": "3fb6045a62aee6dc",
  "reduce patch (field.reduce@9)": "40f06d26539f0097",
  "reduce all (field.reduce@9)": "12d4fa45ed3b19e7",
  "reduce column (field.reduce@9)": "dbcd0b8a978893d0",
  "reduce stations (field.reduce@9)": "38de1b5b53cfcb05",
  "reduce pathStations (field.reduce@9)": "53e86a2734108a28",
  "reduce lineStations (field.reduce@9)": "4684ebac8cf4dfe3",
  "reduce nodes (field.reduce@9)": "033ad2a92e5a5a1e",
  "reduce cells (field.reduce@9)": "1629b1da7f6947a9",
  "reduce iso (field.reduce@9)": "b5e49e78a85b755f",
  "level (field.reduce@9)": "a9e12500a4bb4aad",
  "history places (field.history@9)": "84a70799f5446859",
  "history reduced (field.history@9)": "a822904f366e966a",
  "times (field.times@3)": "ace151b417b0a0d2",
  "over time (field.overTime@6)": "c80ba2a3b3b33511",
  "surface (field.surface@6)": "579f8665dd24022e",
  "blocks (field.blocks@4)": "38c54057897726a4",
  "patches (field.blocks@4)": "f199de284d48f7d0",
  "between times (field.sample@6)": "6925d1e72ccb0f06",
  "derived (field.sample@6)": "4157f7e5e1c380fc",
  "nearest (field.sample@6)": "f35b855cddbfadd4",
};

const points: number[][] = [];
for (const x of [0, 1, 2.5]) points.push([x, 0, 0], [x, 1, 0], [x, 1.2, 1], [x, 0, 1]);
points.push([3.5, 0.5, 0.5]);
const cells = [
  { type: 12, nodes: [0, 1, 2, 3, 4, 5, 6, 7] },
  { type: 12, nodes: [4, 5, 6, 7, 8, 9, 10, 11] },
  { type: 14, nodes: [8, 9, 10, 11, 12] },
];
const wall = [
  { type: 9, nodes: [0, 3, 2, 1] },
  { type: 5, nodes: [0, 4, 5] },
];
const arrays = (list: { type: number; nodes: number[] }[]) => ({
  types: Uint8Array.from(list, (c) => c.type),
  offsets: Int32Array.from([0, ...list.map((_, k) => list.slice(0, k + 1).reduce((n, c) => n + c.nodes.length, 0))]),
  nodes: Int32Array.from(list.flatMap((c) => c.nodes)),
});
const times = [0, 1, 3];

function source(): FieldSource {
  return {
    axis: "time",
    unit: "s",
    lengthUnit: "m",
    steps: times,
    withStep: (step, derived, use) => {
      const t = times[step]!;
      const at = (f: (x: number, y: number, z: number) => number[]): Float64Array =>
        Float64Array.from(points.flatMap(([x, y, z]) => f(x!, y!, z!)));
      const field = (name: string, on: "point" | "cell", components: number, values: Float64Array) => ({
        name,
        on,
        components,
        type: "float64" as const,
        values,
      });
      const own = [
        field(
          "T [degC]",
          "point",
          1,
          at((x, y, z) => [20 + x * y + z + t * x]),
        ),
        field(
          "U",
          "point",
          3,
          at((x, y, z) => [1 + x, y * z, t - z]),
        ),
      ];
      const xyz = Float64Array.from(points.flat());
      const grids = [
        memoryGrid("air", xyz, arrays(cells), [...own, field("q", "cell", 1, Float64Array.of(1, 2, 4 + t))]),
        memoryGrid("wall", xyz, arrays(wall), [...own, field("q", "cell", 1, Float64Array.of(5, 6))]),
      ];
      const {
        grids: unified,
        fields,
        notes,
      } = unifiedFields(grids, {}, (name, unit) => (name === "U" ? "m/s" : name === "q" ? "W/m^2" : unit));
      return use({
        file: "f",
        blocks: unified.map((g) => new Block(g, "f")),
        fields,
        fieldNotes: notes,
        lengthUnit: "m",
        derived,
      });
    },
  };
}

const plane = { kind: "plane", point: [0.4, 0, 0], normal: [1, 0.3, 0] };
const line = { kind: "line", from: [0, 0.5, 0.4], to: [3.2, 0.5, 0.4], count: 5 };
const last = { when: "last" };
const sites: Readonly<Record<string, object>> = {
  points: {
    kind: "points",
    places: [
      [0.5, 0.5, 0.5],
      [9, 9, 9],
    ],
    names: ["a", "b"],
  },
  line,
  path: {
    kind: "path",
    through: [
      [0.1, 0.5, 0.5],
      [1, 0.4, 0.4],
      [2, 0.5, 0.6],
    ],
    count: 4,
    spline: true,
  },
  grid: { kind: "grid", origin: [0.2, 0.2, 0.2], step: [0.5, 0.3, 0.3], count: [2, 2, 1] },
  plane,
  bounded: { ...plane, bounds: { z: [0.2, 0.7] } },
  patch: { kind: "patch", match: "wall" },
  all: { kind: "all" },
  column: { kind: "column", place: [0.5, 0.5], along: "z", count: 3 },
  stations: { kind: "stations", along: "x", from: 0.5, to: 2, count: 3 },
  pathStations: {
    kind: "stations",
    along: {
      through: [
        [0.2, 0.5, 0.5],
        [2, 0.5, 0.5],
      ],
    },
    from: 0.3,
    to: 1,
    count: 2,
  },
  lineStations: {
    kind: "stations",
    along: "x",
    from: 0.5,
    to: 2,
    count: 2,
    line: { from: [0, 0.1, 0.5], to: [0, 0.8, 0.5], count: 3 },
  },
  nodes: { kind: "nodes", ids: [0, 12], block: "air" },
  cells: { kind: "cells", ids: [2, 0], block: "air" },
  iso: { kind: "iso", field: "T", value: { value: 22, unit: "degC" } },
};
const reductions = {
  m: { mean: "T" },
  plain: { mean: "T", weights: "plain" },
  by: { mean: "T", weights: { by: "q" } },
  low: { min: "T", place: true },
  high: { max: "U.mag" },
  s: { std: "T" },
  p: { percentile: 40, of: "T" },
  u: { uniformity: "q" },
  i: { integral: "q" },
  c: { centre: "q" },
  V: { size: true },
};
const onSurface = {
  ...reductions,
  flux: { flux: "U" },
  flow: { mean: "T", weights: { flow: "U" } },
  F: { force: { pressure: "q" } },
  M: { moment: { pressure: "q" }, about: [0, 0, 0] },
};
const surfaces = new Set(["plane", "bounded", "patch", "iso", "stations", "pathStations"]);
const single = new Set(["points", "grid", "nodes", "cells"]);

const fields = ["T", "U", "q"];
const calls: readonly (readonly [name: string, op: string, args: object])[] = [
  ...Object.entries(sites).map(
    ([k, site]) =>
      [
        `sample ${k}`,
        "field.sample",
        { ...last, site, fields: k === "patch" || k === "plane" ? [...fields, "U.normal"] : fields },
      ] as const,
  ),
  ...Object.entries(sites).map(([k, site]) => {
    const { i: _, ...noLength } = reductions;
    return [
      `reduce ${k}`,
      "field.reduce",
      { ...last, site, reductions: single.has(k) ? noLength : surfaces.has(k) ? onSurface : reductions },
    ] as const;
  }),
  [
    "level",
    "field.reduce",
    { ...last, site: sites["column"], reductions: { h: { level: "T", at: 23 }, sum: { level: "q", by: "sum" } } },
  ],
  ["history places", "field.history", { site: sites["points"], fields: ["T"] }],
  [
    "history reduced",
    "field.history",
    {
      site: plane,
      reductions: { T: { mean: "T" } },
      window: [
        { value: 0.5, unit: "s" },
        { value: 3, unit: "s" },
      ],
    },
  ],
  ["times", "field.times", {}],
  [
    "over time",
    "field.overTime",
    { site: line, fields: ["T", "U"], statistics: ["mean", "rms", "std", "min", "max", "timeOfMin", "timeOfMax"] },
  ],
  ["surface", "field.surface", { ...last, site: plane, view: { color: "T", vectors: "U" } }],
  ["blocks", "field.blocks", {}],
  ["patches", "field.blocks", { patches: true }],
  [
    "between times",
    "field.sample",
    { when: { value: { value: 2, unit: "s" }, pick: "linear" }, site: line, fields: ["T"] },
  ],
  [
    "derived",
    "field.sample",
    {
      ...last,
      site: line,
      fields: ["d", "gradT"],
      derived: [
        { name: "d", formula: formulaArgument("T - T0"), unit: "K", constants: { T0: { value: 7, unit: "degC" } } },
      ],
      derivatives: [{ name: "gradT", of: "T", kind: "gradient" }],
    },
  ],
  [
    "nearest",
    "field.sample",
    { ...last, site: sites["points"], fields: ["T"], sampling: { method: { kind: "inverse-distance" } } },
  ],
];

const run = (op: string, args: object, from: FieldSource) =>
  executeField(op, fieldArgs.parse({ study: "s", file: "f", run: 0, ...args }), from);
const outcome = (op: string, args: object, from = source()): string => {
  try {
    return sha256(packValue(tableValue(run(op, args, from)))).slice(0, 16);
  } catch (e) {
    return `failed: ${(e as Error).message}`;
  }
};

describe("field operations give what they gave", () => {
  it.each(calls.map((c) => [`${c[0]} (${c[1]}@${operations.get(c[1])!.version})`, c] as const))(
    "%s",
    (key, [, op, args]) => {
      expect([key, outcome(op, args)]).toEqual([key, golden[key]]);
    },
  );
  it("all of them", () => {
    expect(new Set(calls.map((c) => c[1]))).toEqual(new Set(fieldReads.map((o) => o.name)));
  });
});

/** The same steps for all who ask, as a batch holds them: what one operation reads, the next one finds. */
function heldSource(): FieldSource {
  const plain = source();
  const held = new Map<number, FieldAtTime>();
  return {
    ...plain,
    withStep: (step, derived, use) => {
      const field = held.get(step) ?? plain.withStep(step, [], (f) => f);
      held.set(step, field);
      return use({ ...field, derived });
    },
  };
}

describe("operations that share what was read give what each gives alone", () => {
  it.each([
    ["one after the other", calls],
    ["the last one first", [...calls].reverse()],
    ["all of them twice", [...calls, ...calls]],
  ])("%s", (_, order) => {
    const shared = heldSource();
    const digests = order.map(([name, op, args]) => [name, outcome(op, args, shared)]);
    expect(digests).toEqual(
      order.map(([name, op]) => [name, golden[`${name} (${op}@${operations.get(op)!.version})`]]),
    );
  });
});

describe("what is foreseen of a field operation's columns is what comes out", () => {
  const shape = source().withStep(0, [], (f) => ({
    axis: "time",
    fields: f.fields,
    blocks: f.blocks.map((b) => b.name),
    dimension: 3,
    dimensions: f.blocks.map((b) => b.grid.dimension()),
  }));
  const empty = emptyField(shape, times, { x: "m", time: "s" });
  it.each(calls.filter((c) => c[1] !== "field.history" || c[0].includes("places")).map((c) => [c[0], c] as const))(
    "%s",
    (_, [, op, args]) => {
      const heads = (t: ReturnType<typeof run>) => [
        t.columns.map((c) => [c.name, c.kind, c.kind === "number" ? c.unit : ""]),
        t.axis,
      ];
      const real = run(op, args, source());
      expect(heads(run(op, args, empty))).toEqual(heads(real));
    },
  );
});
