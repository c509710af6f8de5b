import { describe, expect, it } from "@jest/globals";
import fc from "fast-check";
import { isScript } from "../../testing/is-script";
import type { StudySummary } from "@oxtrum/contract";
import { columnOf, comparisonScript, EMITTED, MANY, resultName, type Ground } from "./script";
import { fromAddress, views, type Comparison } from "./state";

const study = (parameters: readonly string[] = ["fan", "curtain"]): StudySummary =>
  ({
    name: "coldstore-doors",
    parameters: parameters.map((name) => ({ name, type: name === "curtain" ? "text" : "number", unit: null })),
    files: [
      {
        file: "monitors/hall.csv",
        axis: "time",
        columns: [
          { name: "time", kind: "number", unit: "s" },
          { name: "T_mean", kind: "number", unit: "K" },
        ],
      },
    ],
    fields: [{ file: "fields/hall", axis: "time", steps: 3, fields: [{ name: "temperature", components: 1 }] }],
    runs: [50, 75, 100].flatMap((fan) =>
      ["none", "strip"].map((curtain) => ({ id: `${fan}_${curtain}`, params: { fan, curtain } })),
    ),
  }) as unknown as StudySummary;

const from = (address: string): Comparison => fromAddress(new URLSearchParams(address));
const HALL = "file=monitors/hall.csv&column=T_mean";
const lines = (address: string, runs = 6, ground: Ground = { study: study() }): string =>
  comparisonScript(from(address), ground, runs);

describe("lines of a comparison", () => {
  it("overlay the curves of the chosen runs, in the unit and the colour that were chosen", () => {
    expect(lines(`${HALL}&unit=degC&where=curtain:none&where=fan:50&where=fan:75&accepted=yes&color=fan`)).toBe(
      `// T_mean of the runs of coldstore-doors, compared.
import { study, chart, emit } from "oxtrum";

const runs = study("coldstore-doors").runs.where({ fan: [50, 75], curtain: "none" }).accepted;
const compared = runs.map((run) => run.table("monitors/hall.csv").to("T_mean", "degC"));

emit.chart("T_mean by run", chart.lines(compared, { x: "time", y: "T_mean", color: "fan" }));
`,
    );
  });

  it("colour many runs by the parameter with the most values that can be told apart, and few by run", () => {
    expect(lines(HALL, 6)).not.toContain("color:");
    expect(lines(HALL, 20)).toContain('color: "fan"');
    expect(lines(`${HALL}&where=fan:50`, 20)).toContain('color: "curtain"');
  });

  it("thin curves that are too many, and draw their mean over them", () => {
    expect(lines(HALL, MANY)).not.toContain("faint");
    const many = lines(HALL, MANY + 1);
    expect(many).toContain("faint: true");
    expect(many).toContain(
      'chart.band(across(compared, { on: "time", columns: ["T_mean"] }), { y: "T_mean", show: ["mean"] })',
    );
    expect(many).toContain('import { study, chart, across, emit } from "oxtrum";');
  });

  it("draw reference data over the curves, with their offset", () => {
    expect(lines(`${HALL}&ref=measured/hall.csv&refColumn=L4&refShift=-30%20s`)).toContain(
      'chart.points(study("coldstore-doors").table("measured/hall.csv").shiftAxis("-30 s"), { x: "time", y: "L4", name: "L4 measured" })',
    );
  });

  it("align runs at an event of their own, at a level, or where they agree best", () => {
    expect(lines(`${HALL}&align=max`)).toContain('.map((t) => t.since(t.max("T_mean").at))');
    expect(lines(`${HALL}&align=rising&level=280`)).toContain(
      't.since(t.crossings("T_mean", 280, { direction: "rising" }).first("time"))',
    );
    expect(lines(`${HALL}&align=falling&level=4%20degC`)).toContain('t.crossings("T_mean", "4 degC", ');
    const baseline = lines(`${HALL}&align=baseline&base=50_none`);
    expect(baseline).toContain('const model = own.get("50_none");');
    expect(baseline).toContain('t.shiftAxis(model.timeShift("T_mean", t).times(-1))');
  });

  it("make one chart for each value of a parameter, of the chosen ones alone", () => {
    expect(lines(`${HALL}&view=multiples&parameter=curtain`)).toContain('for (const curtain of ["none", "strip"]) {');
    expect(lines(`${HALL}&view=multiples&parameter=fan&where=fan:50&where=fan:100`)).toContain(
      "for (const fan of [50, 100]) {",
    );
    const odd = study(["run"]);
    for (const r of odd.runs as { params: Record<string, unknown> }[]) r.params = { run: 1 };
    // A name that the lines have themselves is not taken again.
    expect(lines(`${HALL}&view=multiples`, 6, { study: odd })).toContain("for (const level of [1]) {");
  });

  it("take differences in one unit on both sides, as such or in percent", () => {
    const plain = lines(`${HALL}&view=difference&base=50_none`);
    expect(plain).toContain('.to("T_mean", "K")');
    expect(plain).toContain('.derive("difference", "T_mean - T_mean.base")');
    expect(lines(`${HALL}&view=difference&base=50_none&percent=yes`)).toContain(
      '"(T_mean - T_mean.base) / abs(T_mean.base)", { unit: "%" }',
    );
    expect(lines("file=monitors/hall.csv&column=T 1&view=difference&base=a")).toContain(
      '"col(\\"T 1\\") - col(\\"T 1.base\\")"',
    );
  });

  it("give a number of each run, over a parameter, with a law", () => {
    const fitted = lines(`${HALL}&view=parameter&parameter=fan&number=position of max&law=linear`);
    expect(fitted).toContain('"T_mean position of max": t.max("T_mean").at');
    expect(fitted).toContain('const law = fit.linear(results, { y: "T_mean position of max", x: "fan" });');
    expect(fitted).toContain('import { study, chart, fit, emit } from "oxtrum";');
    expect(lines(`${HALL}&view=parameter&parameter=fan`)).not.toContain("fit");
  });

  it("ask for effects of parameters that differ among the runs, and for no others", () => {
    expect(lines(`${HALL}&view=correlation`)).toContain('results.effects("T_mean max", ["fan", "curtain"])');
    expect(lines(`${HALL}&view=correlation&where=curtain:none`)).toContain('results.effects("T_mean max", ["fan"])');
    // Texts have no correlation.
    expect(lines(`${HALL}&view=correlation`)).toContain('results.correlations("fan", "T_mean max")');
  });

  it("rank the runs", () => {
    expect(lines(`${HALL}&view=ranking&number=last`)).toContain(
      'emit.table("T_mean last ranking", results.rank("T_mean last").outliers("T_mean last"));',
    );
  });

  it("sample a site: values along lines, a history where it gives one number per time", () => {
    const line = 'site={"kind":"line","from":[0,0,0],"to":[0,0,3],"count":20}&siteName=rake';
    expect(lines(`file=fields/hall&column=temperature&${line}&time=.at("last")`)).toContain(
      'run.field("fields/hall").at("last").sample(at.line([0, 0, 0], [0, 0, 3], { count: 20 }), ["temperature"])',
    );
    const plane = 'site={"kind":"plane","point":[0,6,0],"normal":[0,1,0]}&siteName=aisle';
    const history = lines(`file=fields/hall&column=temperature&${plane}`);
    expect(history).toContain('.history(at.plane({ y: 6 }), { mean: { mean: "temperature" } })');
    expect(history).toContain("// temperature at aisle of the runs of coldstore-doors, compared.");
    expect(columnOf(from(`file=fields/hall&column=temperature&${plane}`))).toBe("mean");
  });

  it("go below a job's own script, in a block of their own", () => {
    const script = { text: "", expression: "peaks", rows: true };
    const below = lines("output=peaks&column=peak&view=ranking", 6, { study: study(), script });
    expect(below).toBe(
      `import { emit } from "oxtrum";\n\n// peak of "peaks", compared.\n{\n  const results = ${EMITTED};\n` +
        `  emit.table("peak ranking", results.rank("peak").outliers("peak"));\n}\n`,
    );
    const tables = { ...script, rows: false };
    expect(lines("output=air&column=T&view=overlay", 6, { study: study(), script: tables })).toContain(
      `  const compared = ${EMITTED};`,
    );
    expect(resultName(from("output=peaks&column=peak"))).toBe("peak");
  });

  it("are a script whatever columns, parameters and runs are called", () => {
    const name = fc.string({ minLength: 1, maxLength: 10, unit: "grapheme" });
    fc.assert(
      fc.property(name, name, name, name, fc.constantFrom(...views), (column, parameter, unit, base, view) => {
        const s = study([parameter]);
        for (const r of s.runs as { params: Record<string, unknown> }[]) r.params = { [parameter]: 1 };
        const a = new URLSearchParams({ file: "monitors/hall.csv", column, unit, base, view, color: parameter });
        expect(isScript(comparisonScript(fromAddress(a), { study: s }, 6))).toBe(true);
      }),
    );
  });
});
