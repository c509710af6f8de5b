import { describe, expect, it } from "@jest/globals";
import type { LiveQuantity, StudySummary } from "@oxtrum/contract";
import { liveScript } from "./script";
import { firstQuantities, quantityName, type ShownQuantity } from "./state";

const study = (more: object = {}): StudySummary =>
  ({
    name: "sump-fill",
    runs: [{ id: "a" }, { id: "b" }, { id: "c" }],
    files: [
      { file: "time.csv", axis: "time", columns: [{ name: "time", kind: "number", unit: "s" }] },
      {
        file: "out/levels.csv",
        axis: "time",
        columns: [
          { name: "time", kind: "number", unit: "s" },
          { name: "step", kind: "number", unit: "1" },
          { name: "level", kind: "number", unit: "m" },
          { name: "flow", kind: "number", unit: "L/min" },
        ],
      },
    ],
    fields: [
      { file: "fields/mesh", steps: 1, fields: [{ name: "volume", components: 1 }] },
      {
        file: "fields/sump",
        steps: 9,
        fields: [
          { name: "U", components: 3 },
          { name: "p", components: 1 },
        ],
      },
    ],
    ...more,
  }) as unknown as StudySummary;
const shown = (quantity: LiveQuantity, more: Partial<ShownQuantity> = {}): ShownQuantity => ({
  quantity,
  along: "axis",
  log: false,
  ...more,
});
const column = (name: string): LiveQuantity => ({ kind: "table", file: "out/levels.csv", column: name });

describe("the script of what is followed", () => {
  it("reads a file once for all of its columns, and keeps scale and level", () => {
    const text = liveScript(study(), undefined, [
      shown(column("level"), { level: 0.4 }),
      shown(column("flow"), { log: true }),
    ]);
    expect(text).toBe(`import { study, chart, emit } from "oxtrum";

const runs = study("sump-fill").runs;

const levels = runs.map((run) => run.table("out/levels.csv"));
emit.chart("level", chart.lines(levels, { y: "level", marks: [{ y: 0.4, text: "level" }], title: "level" }));
emit.chart("flow", chart.lines(levels, { y: "flow", yScale: "log", title: "flow" }));
`);
  });

  it("names the chosen runs, and none where all are chosen", () => {
    const of = (runs: readonly string[]): string => liveScript(study(), runs, [shown(column("level"))]);
    expect(of(["a", "c"])).toContain('runs.where({ id: ["a","c"] })'.replace("runs", 'study("sump-fill").runs'));
    expect(of(["a", "b", "c"])).toContain('const runs = study("sump-fill").runs;');
  });

  it("takes values of a log with all that was set for them", () => {
    const options = { several: "last", count: { warnings: "warning:" }, increments: ["it"], carry: ["t"] } as const;
    const q = {
      kind: "lines",
      file: "solver.log",
      patterns: ["t {t} s"],
      column: "t",
      options,
    } as unknown as LiveQuantity;
    expect(liveScript(study(), undefined, [shown(q)])).toContain(
      'run.lines("solver.log").read("t {t} s", { several: "last", count: {"warnings":"warning:"}, increments: ["it"], carry: ["t"] })',
    );
    const bare = { kind: "lines", file: "solver.log", patterns: ["a {a}", "b {b}"], column: "a" } as LiveQuantity;
    expect(liveScript(study(), undefined, [shown(bare)])).toContain('.read("a {a}", "b {b}"));');
  });

  it("follows a number of a field, by the name that the page has for it", () => {
    const q: LiveQuantity = { kind: "field", file: "fields/sump", field: "p", statistic: "max" };
    const text = liveScript(study(), undefined, [shown(q)]);
    expect(text).toContain('run.field("fields/sump").history(at.all(), { "max of p": { max: "p" } })');
    expect(text).toContain('import { study, at, chart, emit } from "oxtrum";');
    expect(quantityName(q)).toBe("max of p");
  });

  it("gives each source a constant of its own, whatever files are called", () => {
    const files = ["runs.csv", "chart.csv", "2 levels.csv", "a/2 levels.csv", "___"];
    const text = liveScript(
      study(),
      undefined,
      files.map((file) => shown({ kind: "table", file, column: "x" })),
    );
    const names = [...text.matchAll(/^const (\w+) = runs\.map/gm)].map((m) => m[1]);
    expect(names).toEqual(["runs2", "chart2", "q2Levels", "q2Levels2", "values"]);
  });
});

describe("what is followed first", () => {
  it("is a quantity of the table that tells most, and not its counter", () => {
    expect(firstQuantities(study())).toEqual([shown(column("level"))]);
  });
  it("is the mean of a field over time where the study has no tables, and nothing where it has neither", () => {
    expect(firstQuantities(study({ files: [] }))).toEqual([
      shown({ kind: "field", file: "fields/sump", field: "p", statistic: "mean" }),
    ]);
    expect(firstQuantities(study({ files: [], fields: [] }))).toEqual([]);
  });
});
