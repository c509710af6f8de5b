import fs from "node:fs";
import path from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "@jest/globals";
import { scanStudy } from "../study/catalogue.js";
import type { Catalogue } from "../definition/catalogue-model.js";
import { runNames, smallStudy, type SmallStudy } from "../testing/index.js";
import { askedSites } from "./asked-sites.js";
import { Graph } from "./graph.js";
import { gridOf } from "./grid.js";
import { SchemaInference } from "./infer.js";

/** Six runs: of the last one the pressure is missing, the fourth has no hall.csv, one has a field. */
let s: SmallStudy;
let catalogues: ReadonlyMap<string, Catalogue>;
beforeAll(async () => {
  s = smallStudy();
  const at = (run: string, file: string): string => path.join(s.folder, "runs", run, file);
  const [, , , fourth, , last] = runNames;
  fs.rmSync(at(fourth, "hall.csv"));
  fs.writeFileSync(at(last, "hall.csv"), "time [s],T [K]\n0,1\n1,2\n");
  fs.writeFileSync(path.join(s.folder, "places.csv"), "x [m],y [m],z [m],name\n0,0,0,a\n");
  for (const run of runNames)
    fs.writeFileSync(
      at(run, "hall.vtk"),
      "# vtk DataFile Version 3.0\nhall\nASCII\nDATASET STRUCTURED_POINTS\nDIMENSIONS 2 2 2\nORIGIN 0 0 0\nSPACING 1 1 1\n" +
        "POINT_DATA 8\nSCALARS T double 1\nLOOKUP_TABLE default\n1 2 3 4 5 6 7 8\nVECTORS U double\n" +
        `${"1 0 0 ".repeat(8)}\n`,
    );
  catalogues = new Map([["small", await scanStudy(s.folder)]]);
});
afterAll(() => s.remove());

type Node = [op: string, args: object, inputs?: number[], run?: number, line?: number];
/** A graph of nodes, each with a form of its own unless another has the same. */
function graphOf(...nodes: Node[]): Graph {
  const g = new Graph();
  const forms = new Map<string, number>();
  nodes.forEach(([op, args, inputs = [], run = -1, line = 1], k) => {
    const key = JSON.stringify([op, args]);
    if (!forms.has(key)) {
      forms.set(key, forms.size);
      g.addForm(op, args);
    }
    g.add(forms.get(key)!, inputs, 100 * line + k, run);
  });
  return g;
}
const hall = (run: number, line?: number): Node => [
  "run.table",
  { study: "small", file: "hall.csv", options: {} },
  [],
  run,
  line,
];
const inferred = (g: Graph): SchemaInference => new SchemaInference(g, catalogues);
/** Columns with their units, or why there will be none. */
function shown(g: Graph, id: number, run?: number): unknown {
  const v = inferred(g).of(id, run);
  if (v?.kind === "table") return v.table.columns.map((c) => (c.kind === "number" ? `${c.name} [${c.unit}]` : c.name));
  if (v?.kind === "quantity") return v.quantity.unit;
  return v?.kind === "failure" ? v.reason : v?.kind;
}

describe("what is foreseen", () => {
  it("are the columns and units of a file, by run, without opening it", () => {
    const g = graphOf(hall(0), hall(3), hall(5));
    expect(shown(g, 0)).toEqual(["time [s]", "T [K]", "p [Pa]"]);
    expect(shown(g, 1)).toBe("there is no hall.csv in this run");
    expect(shown(g, 2)).toEqual(["time [s]", "T [K]"]);
    // One node, looked at for another run.
    expect(shown(g, 0, 5)).toEqual(["time [s]", "T [K]"]);
    const table = inferred(g).of(0);
    expect(table?.kind === "table" && [table.table.rows, table.table.axis]).toEqual([0, "time"]);
  });
  it("are the columns that verbs make of them, and the units of quantities", () => {
    const g = graphOf(
      hall(0),
      ["table.derive", { name: "d", formula: "T / 1 s" }, [0]],
      ["table.max", { name: "d" }, [1]],
      ["table.max", { name: "Tee" }, [0]],
      ["table.window", { axis: "time", bounds: [0, 1] }, [3]],
    );
    expect(shown(g, 1)).toEqual(["time [s]", "T [K]", "p [Pa]", "d [K/s]"]);
    expect(shown(g, 2)).toBe("K/s");
    expect(shown(g, 3)).toMatch(/^no column "Tee"; there are "time", "T", "p"/);
  });
  it("are some of the columns where only these are asked for", () => {
    const only = (columns: string[]): Graph =>
      graphOf(["run.table", { study: "small", file: "hall.csv", options: { columns } }, [], 0]);
    expect(shown(only(["p"]), 0)).toEqual(["p [Pa]"]);
    expect(shown(only(["q"]), 0)).toMatch(/^no column "q"; there are/);
    // Of other options the file itself tells.
    expect(
      shown(graphOf(["run.table", { study: "small", file: "hall.csv", options: { delimiter: ";" } }, [], 0]), 0),
    ).toBeUndefined();
  });
  it("are the values that patterns take from a log, and the counts beside them", () => {
    const lines = (patterns: string[], options?: object): Graph =>
      graphOf(["run.lines", { study: "small", file: "solver.log", patterns, ...(options && { options }) }, [], 0]);
    expect(shown(lines(["Time = {time:s} s", "residual {r} {word:text}"]), 0)).toEqual([
      "time [s]",
      "r [null]",
      "word",
    ]);
    expect(shown(lines(["Time = {time:s} s"], { count: { warnings: "warning" } }), 0)).toEqual([
      "time [s]",
      "warnings [1]",
    ]);
    expect(shown(lines(["Time = {time:s} s"], { several: "all" }), 0)).toBeUndefined();
    expect(shown(lines(["Time = {time"]), 0)).toMatch(/Time = \{time/);
  });
  it("are names and units of what a field gives, on an empty mesh that looks as it does", () => {
    const sample = (field: string, site: object): Graph =>
      graphOf([
        "field.sample",
        { study: "small", file: "hall", derived: [], site, fields: [field], when: "last" },
        [],
        0,
      ]);
    const line = { kind: "line", from: [0, 0, 0], to: [1, 1, 1], count: 5 };
    expect(shown(sample("T", line), 0)).toEqual(["distance [null]", "x [null]", "y [null]", "z [null]", "T [null]"]);
    expect(shown(sample("U", line), 0)).toEqual(expect.arrayContaining(["U.x [null]", "U.mag [null]"]));
    expect(shown(sample("T9", line), 0)).toMatch(/T9/);
  });
  it("is nothing for what is read beside the runs and is not there", () => {
    expect(shown(graphOf(["study.table", { study: "small", file: "places.csv", options: {} }]), 0)).toEqual([
      "x [m]",
      "y [m]",
      "z [m]",
      "name",
    ]);
    expect(shown(graphOf(["study.table", { study: "small", file: "none.csv", options: {} }]), 0)).toBe(
      "there is no none.csv beside the runs",
    );
    expect(shown(graphOf(["study.table", { study: "other", file: "none.csv", options: {} }]), 0)).toBe(
      'there is no study "other"',
    );
  });
});

describe("the review of a script", () => {
  const review = (g: Graph, wanted: number[]): ReturnType<SchemaInference["review"]> => inferred(g).review(wanted);
  it("calls a mistake what fails in every run, and a gap what fails in some", () => {
    const max = (name: string, input: number, line: number): Node => ["table.max", { name }, [input], -1, line];
    const g = graphOf(
      hall(0, 1),
      hall(5, 1),
      hall(3, 1),
      max("p", 0, 2),
      max("p", 1, 2),
      max("Tee", 0, 3),
      max("Tee", 1, 3),
      max("T", 2, 4),
    );
    const { mistakes, asked } = review(g, [3, 4, 5, 6, 7]);
    const told = mistakes.map((m) => [Math.floor(m.line / 100), m.all, m.runs]);
    expect(told.sort()).toEqual([
      [1, false, ["f100_d1"]],
      [2, false, ["f100_d3"]],
      [3, true, ["f050_d1", "f100_d3"]],
    ]);
    expect(asked.map((a) => [a.run, a.file, a.missing])).toEqual([
      ["f050_d1", "hall.csv", undefined],
      ["f100_d3", "hall.csv", undefined],
      ["f100_d1", "hall.csv", "there is no hall.csv in this run"],
    ]);
  });
  it("looks at what is wanted, and at runs that the script does not touch to tell a mistake from a gap", () => {
    const g = graphOf(hall(5), ["table.max", { name: "p" }, [0]]);
    expect(review(g, [1]).mistakes).toMatchObject([{ all: false, runs: ["f100_d3"] }]);
    expect(review(g, [0]).mistakes).toEqual([]);
    const nobody = graphOf(hall(0), ["table.max", { name: "nobody" }, [0]]);
    expect(review(nobody, [1]).mistakes).toMatchObject([{ all: true, runs: ["f050_d1"] }]);
  });
  it("tells a mistake in what brings runs together once, for all", () => {
    const rows: Node = ["runs.rows", { runs: ["a", "b"], columns: [{ name: "peak", start: 0 }], missing: [] }, [1, 3]];
    const g = graphOf(hall(0), ["table.max", { name: "T" }, [0]], hall(1), ["table.max", { name: "T" }, [2]], rows, [
      "table.max",
      { name: "pek" },
      [4],
      -1,
      7,
    ]);
    expect(review(g, [5]).mistakes).toMatchObject([
      { all: true, runs: [], reason: expect.stringMatching(/"pek".*"peak"/) },
    ]);
  });
});

describe("what a job shows of its script", () => {
  it("is a grid of runs and lines, named by the file that is read or the last verb", () => {
    const g = graphOf(hall(0, 3), ["table.max", { name: "T" }, [0], -1, 4], hall(5, 3), [
      "run.table",
      { study: "small", file: "extra.csv", options: {} },
      [],
      5,
      6,
    ]);
    const grid = gridOf(g, [1, 2, 3], catalogues);
    expect(grid.lines.map((l) => l.label)).toEqual(["hall.csv", "hall.csv", "max", "extra.csv"]);
    expect(grid.runs.map((r) => [r.id, grid.sets[r.set]!.length])).toEqual([
      ["f050_d1", 2],
      ["f100_d3", 2],
    ]);
  });
  it("are its sites by the names that it calls them, each once", () => {
    const site = { kind: "line", from: [0, 0, 0], to: [1, 1, 1], count: 5 };
    const sample = (run: number, at: object): Node => [
      "field.sample",
      { study: "small", file: "hall", derived: [], site: at, fields: ["T"], when: "last" },
      [],
      run,
      2,
    ];
    const g = graphOf(sample(0, site), sample(1, site), sample(0, { ...site, count: 9 }));
    const texts: Record<number, string> = {
      200: 'f.sample(aisle, "T")',
      202: 'f.sample(at.line([0, 0, 0], [1, 1, 1]), "T")',
    };
    const found = askedSites(g, [0, 1, 2], (line) => texts[line] ?? "");
    expect(found.map((a) => [a.name, a.study, a.file, (a.site as { count: number }).count])).toEqual([
      ["aisle", "small", "hall", 5],
      ["line 202", "small", "hall", 9],
    ]);
  });
});
