import { describe, expect, it } from "@jest/globals";
import { PlainHost, type GivenStudy } from "../../testing/plain-host.js";
import { proofTables } from "../../testing/operation-calls.js";
import { refused } from "../../testing/refused.js";

const host = await PlainHost.load();
const { chart, emit, picture, q, study } = host.runtime;
type Emit = Record<string, (name: string, data: unknown, options?: object) => void>;
const out = emit as unknown as Emit;
type Draw = Record<string, (data: unknown, options?: object) => InstanceType<typeof host.runtime.Chart>>;
const draw = chart as unknown as Draw;

const given: GivenStudy = {
  runs: ["a", "b"].map((id, index) => ({ id, name: id, index, params: [index], tried: true, state: null })),
  parameters: [{ name: "fan", unit: "%", type: "number", values: [0, 1] }],
  rules: [],
  files: ["hall.csv"],
};
host.studies.set("outputs", given);
const table = (): never => host.table(proofTables["history"]!) as never;
const tables = (): ReturnType<ReturnType<typeof study>["runs"]["map"]> => study("outputs").runs.map(() => table());
const peak = (): never => (table() as Record<string, (n: string) => never>)["max"]!("T");

/** What was emitted last, with its node. */
const last = (): Record<string, unknown> & { at: ReturnType<typeof host.nodeOf> | undefined } => {
  const e = host.emitted.at(-1)!;
  return { ...e, at: e["node"] === null ? undefined : host.nodeOf({ $id: e["node"] as number } as never) };
};
let names = 0;
const name = (): string => `output ${names++}`;

describe("what is emitted", () => {
  it("has a name of its own, and its line", () => {
    const twice = name();
    out["value"]!(twice, q("3 m"));
    expect(last()).toMatchObject({ kind: "value", name: twice, at: { op: "constant", args: { value: 3, unit: "m" } } });
    expect(refused(() => out["table"]!(twice, table()))).toMatch(
      /^emit\.table: line \d+ has emitted "output \d+" already; give this one another name$/,
    );
    expect(refused(() => out["value"]!(" ", q("3 m")))).toBe("emit.value: the output needs a name");
    expect(refused(() => out["value"]!(3 as never, q("3 m")))).toBe("emit.value: the output needs a name");
  });
  it("are tables: one, those of all runs in a layout, or the numbers of a fit", () => {
    out["table"]!(name(), table(), { formats: ["csv"] });
    expect(last()).toMatchObject({ kind: "table", options: { formats: ["csv"] }, at: { op: "given" } });
    out["table"]!(name(), tables());
    expect(last().at).toMatchObject({ op: "runs.stack", args: { runs: ["a", "b"] } });
    out["table"]!(name(), tables(), { layout: "each" });
    expect(last().at!.op).toBe("runs.stack");
    out["table"]!(name(), tables(), { layout: "wide", column: "T" });
    expect(last().at).toMatchObject({ op: "runs.wide", args: { name: "T" } });
    expect(refused(() => out["table"]!(name(), tables(), { layout: "deep" }))).toBe(
      'emit.table has no layout "deep": use "stacked", "wide" or "each"',
    );
    const fit = (host.runtime.fit as unknown as Record<string, (t: unknown, o: object) => unknown>)["linear"]!(
      table(),
      {
        y: "T",
        x: "time",
      },
    );
    out["table"]!(name(), fit);
    expect(last()).toMatchObject({ options: { formats: ["csv", "json"] }, at: { op: "fit.terms" } });
  });
  it.each<readonly [word: string, data: () => unknown, message: string]>([
    ["table", () => q("3 m"), "emit.table takes a table, or the tables of a set of runs"],
    ["chart", () => table(), "emit.chart takes what chart.lines, chart.band and the other kinds of charts give"],
    ["picture", () => table(), "emit.picture takes what picture.panels or picture.frames gives"],
    ["value", () => table(), "emit.value takes a quantity"],
    ["check", () => 3, 'emit.check takes a quantity, as in t.max("T")'],
    ["text", () => q("3 m"), "emit.text takes words; use .value for a number"],
  ])("%s refuses what it does not take", (word, data, message) => {
    expect(refused(() => out[word]!(name(), data()))).toBe(message);
  });
  it("texts are words, and numbers as they are written", () => {
    out["text"]!(name(), 4.5);
    expect(last()).toMatchObject({ node: null, options: { text: "4.5" } });
  });
});

describe("a check", () => {
  it("has its limits as they are known, and as inputs where they are computed", () => {
    const limit = peak();
    const checked = peak();
    out["check"]!(name(), checked, { below: "8 K", within: [1, limit] });
    const { at } = last();
    expect(at).toMatchObject({
      op: "check",
      args: {
        below: [{ value: 8, unit: "K" }],
        within: [1, { input: 1 }],
        missing: "undecided",
        conditions: "undecided",
      },
      inputs: [(checked as { $id: number }).$id, (limit as { $id: number }).$id],
    });
    out["check"]!(name(), peak(), { equal: q("3 K"), missing: "fail", conditions: "pass" });
    expect(last().at!.args).toMatchObject({ missing: "fail", conditions: "pass" });
  });
  it("needs a limit", () => {
    expect(refused(() => out["check"]!(name(), peak(), {}))).toBe(
      "emit.check needs a limit: below, above, within or equal",
    );
    expect(refused(() => out["check"]!(name(), peak(), { below: "cold" }))).toMatch(/cold/);
  });
});

describe("a chart", () => {
  it("knows the runs of its tables, and tells options of the whole chart from those of a layer", () => {
    const made = draw["lines"]!(tables(), { x: "time", y: "T", color: "fan", title: "Air", yRange: ["1 K", q("2 K")] });
    expect(made.$layers).toMatchObject([
      {
        kind: "lines",
        source: { from: "runs", runs: ["a", "b"], params: [{ fan: 0 }, { fan: 1 }] },
        options: { x: "time", y: "T", color: "fan" },
      },
    ]);
    expect(made.$options).toMatchObject({
      title: "Air",
      yRange: [
        { value: 1, unit: "K" },
        { value: 2, unit: "K" },
      ],
    });
    out["chart"]!(name(), draw["lines"]!(table(), { x: "time", y: "T", size: [400, 300] }));
    expect(last()).toMatchObject({
      options: { size: [400, 300] },
      at: { op: "chart", args: { layers: [{ kind: "lines", count: 1, source: { from: "table" } }] } },
    });
    expect(refused(() => draw["lines"]!(3))).toBe("chart.lines draws a table, or the tables of a set of runs");
  });
  it("of layers has the first's options where none are given, and marks with units", () => {
    const a = draw["lines"]!(table(), { x: "time", y: "T", title: "First", xTitle: "Time" });
    const b = draw["points"]!(table(), { x: "time", y: "q", title: "Second", yTitle: "Heat" });
    const both = chart.layers([a, b], { yTitle: "Both", marks: [{ x: "5 s", text: "12 s" }] });
    expect(both.$layers.map((l) => l.kind)).toEqual(["lines", "points"]);
    expect(both.$options).toMatchObject({
      title: "First",
      xTitle: "Time",
      yTitle: "Both",
      marks: [{ x: { value: 5, unit: "s" }, text: "12 s" }],
    });
    out["chart"]!(name(), both);
    expect(last().at!.inputs).toHaveLength(2);
  });
});

describe("a picture", () => {
  it("is one surface, a list of them, or one for each run", () => {
    out["picture"]!(name(), picture.panels(table(), { range: ["1 K", "2 K"], size: [600, 400] }));
    expect(last()).toMatchObject({
      options: { size: [600, 400] },
      at: {
        op: "picture",
        args: {
          runs: [null],
          missing: [],
          options: {
            range: [
              { value: 1, unit: "K" },
              { value: 2, unit: "K" },
            ],
          },
        },
      },
    });
    out["picture"]!(name(), picture.frames([table(), table()], { contours: 5 }));
    expect(last().at).toMatchObject({ args: { runs: [null, null], options: { frames: true, contours: 5 } } });
    out["picture"]!(name(), picture.panels(tables()));
    expect(last().at).toMatchObject({ args: { runs: ["a", "b"] } });
    for (const wrong of [[], 3, [table(), 3]])
      expect(refused(() => picture.panels(wrong))).toMatch(/^a picture draws what field\.surface\(…\) gives/);
  });
});

describe("names of files", () => {
  it("are ruled once, by texts and a known way of folders", () => {
    const rule = emit.naming as (rule: object) => void;
    rule({ file: "{output}-{run}", folders: "run" });
    expect(last()).toMatchObject({ kind: "naming", options: { file: "{output}-{run}", folders: "run" } });
    expect(refused(() => rule({}))).toBe("emit.naming: the names have been ruled already");
  });
});
