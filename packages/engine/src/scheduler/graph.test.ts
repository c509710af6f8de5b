import { describe, expect, it } from "@jest/globals";
import { demandedColumns } from "./demanded-columns.js";
import { Graph } from "./graph.js";
import { neededColumns } from "./needed-columns.js";

/** A graph of forms and nodes, told as the sandbox tells them: `[form, inputs, run]`. */
function graphOf(forms: [op: string, args: unknown][], nodes: [form: number, inputs: number[], run?: number][]): Graph {
  const g = new Graph();
  for (const [op, args] of forms) g.addForm(op, args);
  nodes.forEach(([form, inputs, run = -1], k) => g.add(form, inputs, k + 1, run));
  return g;
}

const read = (file: string): [string, unknown] => ["run.table", { study: "s", file }];
const series = (kind: string, count: number, options: object): object => ({
  kind,
  count,
  source: { from: "runs", runs: [], missing: [], params: [] },
  options,
});

describe("the graph", () => {
  const g = graphOf(
    [
      read("a.csv"),
      ["table.max", { name: "T" }],
      ["runs.rows", { runs: ["r0", "r1"], columns: [], missing: [] }],
      ["constant", { value: 3, unit: "K" }],
      ["quantity.combine", { op: "plus" }],
      ["table.sum", { name: "peak" }],
      read("b.csv"),
    ],
    [
      [0, [], 0], // 0: a of run 0
      [1, [0]], // 1: its maximum
      [0, [], 1], // 2: a of run 1
      [1, [2]], // 3
      [2, [1, 3]], // 4: rows of both
      [3, []], // 5
      [4, [1, 5]], // 6: of run 0
      [4, [1, 3]], // 7: of two runs
      [5, [4]], // 8
      [6, [], 0], // 9
      [2, [1, 9]], // 10
    ],
  );
  it("knows to which run a node belongs: that of its inputs, if it is one", () => {
    expect(g.nodes.map((n) => n.run)).toEqual([
      0,
      0,
      1,
      1,
      undefined,
      undefined,
      0,
      undefined,
      undefined,
      0,
      undefined,
    ]);
    expect(g.nodes.map((n) => n.overAcross)).toEqual([
      false,
      false,
      false,
      false,
      false,
      false,
      false,
      false,
      true,
      false,
      false,
    ]);
  });
  it("gives nodes that differ in their run alone one shape", () => {
    expect(g.nodes[0]!.shape).toBe(g.nodes[2]!.shape);
    expect(g.nodes[1]!.shape).toBe(g.nodes[3]!.shape);
    expect(new Set([0, 1, 4, 5, 6, 7, 8, 9].map((k) => g.nodes[k]!.shape)).size).toBe(8);
  });
  it("finds what lies on the border, what is needed, and a run's part", () => {
    expect(g.border([8])).toEqual([1, 3]);
    expect(g.border([6, 8])).toEqual([6, 1, 3]);
    expect([...g.needed([8])]).toEqual([0, 1, 2, 3, 4, 8]);
    expect(g.cone([6])).toEqual({ nodes: [0, 1, 5, 6].map((k) => g.nodes[k]), across: [] });
    expect(g.cone([7]).across).toEqual([7]);
  });
  it("names the files that a node needs, each once", () => {
    expect(g.filesOf(8)).toEqual(["s: a.csv"]);
    expect(g.filesOf(10)).toEqual(["s: a.csv", "s: b.csv"]);
  });
  it("parses formulas where they enter, and keeps a mistake for the node that uses it", () => {
    const f = graphOf(
      [
        read("a.csv"),
        ["table.derive", { name: "d", formula: "T +" }],
        ["table.derive", { name: "d", formula: "T + 1" }],
      ],
      [
        [0, [], 0],
        [1, [0]],
        [2, [0]],
      ],
    );
    const formula = (k: number): unknown => (f.nodes[k]!.args as { formula: unknown }).formula;
    expect(formula(1)).toMatchObject({ text: "T +", error: expect.any(String) });
    expect(formula(2)).toMatchObject({ text: "T + 1", tree: expect.any(Object) });
  });
});

describe("columns that are sent to those who bring runs together", () => {
  const forms = (chart: object): [string, unknown][] => [read("a.csv"), ["chart", chart]];
  const of = (chart: object): readonly string[] | undefined =>
    neededColumns(
      graphOf(forms(chart), [
        [0, [], 0],
        [1, [0]],
      ]),
      [1],
    ).get(0);
  it("are those that a chart's layers name, all of them", () => {
    expect(of({ layers: [series("lines", 1, { x: "time", y: ["T", "p"], right: "q" })], options: {} })).toEqual([
      "T",
      "p",
      "q",
      "time",
    ]);
    expect(
      of({ layers: [series("errorBars", 1, { x: "time", y: "T", error: "e", lower: "l", upper: "h" })], options: {} }),
    ).toEqual(["T", "e", "h", "l", "time"]);
    expect(of({ layers: [series("histogram", 1, { x: "T" })], options: {} })).toEqual(["T"]);
  });
  it("are all columns where a layer or a panel may want any", () => {
    expect(of({ layers: [series("lines", 1, { x: "time" })], options: {} })).toBeUndefined();
    expect(of({ layers: [series("box", 1, { x: "time", y: "T" })], options: {} })).toBeUndefined();
    expect(of({ layers: [series("lines", 1, { x: "time", y: "T" })], options: { panels: "fan" } })).toBeUndefined();
  });
  it("are all columns of a table that is an output itself", () => {
    const g = graphOf(forms({ layers: [series("lines", 1, { x: "time", y: "T" })], options: {} }), [
      [0, [], 0],
      [1, [0]],
    ]);
    expect(neededColumns(g, [0, 1]).get(0)).toBeUndefined();
  });
});

describe("columns that are read", () => {
  const demanded = (
    ops: [op: string, args: unknown, input: number][],
    wanted: { id: number; columns?: string[] }[],
  ): readonly string[] | undefined => {
    const nodes = [
      { id: 0, op: "run.table", args: {}, inputs: [], line: 1 },
      ...ops.map(([op, args, input], k) => ({ id: k + 1, op, args, inputs: [input], line: k + 2 })),
    ];
    const found = demandedColumns({ nodes, wanted }).get(0);
    return found && [...found].sort();
  };
  it("are those that reductions name", () => {
    expect(
      demanded(
        [
          ["table.max", { name: "T" }, 0],
          ["table.mean", { name: "p", weights: { by: "w" } }, 0],
        ],
        [{ id: 1 }, { id: 2 }],
      ),
    ).toEqual(["T", "p", "w"]);
  });
  it("pass through verbs that keep the others, without what these add", () => {
    expect(
      demanded(
        [
          ["table.cumulative", { name: "q" }, 0],
          ["table.window", { axis: "time", range: [0, 1] }, 1],
          ["table.max", { name: "q.integral" }, 2],
          ["table.min", { name: "T" }, 2],
        ],
        [{ id: 3 }, { id: 4 }],
      ),
    ).toEqual(["T", "q", "time"]);
  });
  it("are all where anybody may need any: an output, a sorted text, a verb that says nothing", () => {
    expect(demanded([["table.max", { name: "T" }, 0]], [{ id: 0 }, { id: 1 }])).toBeUndefined();
    expect(demanded([["table.describe", { names: [] }, 0]], [{ id: 1 }])).toBeUndefined();
    expect(demanded([["table.window", { axis: "time", range: [0, 1] }, 0]], [{ id: 1 }])).toBeUndefined();
    expect(demanded([["table.window", { axis: "time", range: [0, 1] }, 0]], [{ id: 1, columns: ["T"] }])).toEqual([
      "T",
      "time",
    ]);
  });
});
