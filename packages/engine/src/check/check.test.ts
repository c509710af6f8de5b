import fs from "node:fs";
import path from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "@jest/globals";
import { scanStudy } from "../study/catalogue.js";
import { studyTypes } from "../study/types.js";
import { smallStudy, writeFieldDefinition, writeSmallField, type SmallStudy } from "../testing/index.js";
import { ScriptChecker } from "./service.js";
import { compileScript } from "./strip.js";

let s: SmallStudy;
let types: Record<string, string>;
const checker = new ScriptChecker();

beforeAll(async () => {
  s = smallStudy();
  fs.writeFileSync(path.join(s.folder, "runs/f100_d1/hall.csv"), "time [s],T [K]\n0,1\n1,2\n");
  fs.rmSync(path.join(s.folder, "runs/f050_d2/extra.csv"));
  fs.rmSync(path.join(s.folder, "runs/f050_d3/solver.log"));
  types = { small: studyTypes("small", await scanStudy(s.folder)) };
});
afterAll(() => s.remove());

const head = 'import { study, across, chart, emit, input, q } from "oxtrum";\n';
function check(body: string, gaps = false): string[] {
  checker.load({ "main.ts": head + body }, types);
  return checker.check(gaps).map((d) => `${d.line}:${d.column} ${d.severity} ${d.message}`);
}

describe("the checker", () => {
  it("passes what is right", () => {
    expect(
      check(`const t = study("small").runs.where({ fan: 50, kind: "wide" }).map((run) => run.table("hall.csv"));
emit.table("peaks", t.rows((x, run) => ({ fan: run.params.fan, kind: run.params.kind, peak: x.to("T", "degC").max("T") })));`),
    ).toEqual([]);
  });

  it.each([
    ["any table", 'const f = (x: Table): number => x.rowCount;\nf(t.get("f050_d1"));'],
    ["a table with a column", 'const f = (x: Table<{ T: Numbers }>) => x.max("T");\nt.map((x) => f(x));'],
    [
      "what verbs make of one",
      'const f = (x: Table<{ d: Numbers }>) => x.max("d");\nt.map((x) => f(x.derive("d", "T * 2")));',
    ],
    [
      "any run, and tables of all runs",
      "const f = (r: Run) => r.id;\nconst g = (m: RunMap<Table>) => m.stack();\nstudy('small').runs.map((r) => f(r));\ng(t);",
    ],
    ["one of two tables", 't.map((x) => (x.rowCount > 3 ? x.pick("time", "T") : x.pick("time")));'],
  ])("lets a table with more columns serve where fewer are asked for: %s", (_, uses) => {
    const names = 'import type { Table, Numbers, Run, RunMap } from "oxtrum";\n';
    const all = 'const t = study("small").runs.map((run) => run.table("hall.csv"));\n';
    expect(check(names + all + uses)).toEqual([]);
  });

  it("does not let one serve that lacks a column", () => {
    const uses =
      'const f = (x: Table<{ nope: Numbers }>) => x.max("nope");\nstudy("small").runs.map((r) => f(r.table("hall.csv")));';
    expect(check(`import type { Table, Numbers } from "oxtrum";\n${uses}`)[0]).toMatch(/^4:\d+ error .*nope/);
  });

  it.each([
    ['t.move("5 s")', "move", "shiftAxis"],
    ['t.cycleMean("T", { period: "1 s" })', "cycleMean", "phaseAverage"],
    ['chart.both(t, { x: "time", y: "T" })', "both", "linePoints"],
    ['chart.errors(t, { x: "time", y: "T" })', "errors", "errorBars"],
    ['chart.lines(t, { x: "time", y: "T", upright: true })', "upright", "swapAxes"],
    ['chart.lines(t, { x: "time", y: "T", colors: "ramp" })', "ramp", "sequential"],
    ['t.crossCorrelation("T", t, { most: "1 s" })', "most", "maxLag"],
    ['t.correlations(["T", "p"]).first("chance")', "chance", "pValue"],
    ['t.histogram("T").max("share")', "share", "fraction"],
    ['t.lowpass("T", { below: "1 Hz" }).max("T.low")', "T.low", "T.lowpass"],
  ])("an old name is told its new one: %s", (line, old, now) => {
    const found = check(`const t = study("small").runs.map((run) => run.table("hall.csv")).get("f050_d1");\n${line};`);
    expect(found.join("\n")).toContain(`"${old}" is called "${now}" now.`);
    expect(checker.check()[0]!.fixes.map((f) => f.replaceAll('"', ""))).toEqual([now]);
  });

  it("names the place, what is there and what was meant", () => {
    expect(check(`study("smal");`)).toEqual([
      '2:7 error "smal" is not found in any registered study. There is "small". Did you mean "small"?',
    ]);
    expect(check(`study("small").runs.map((run) => run.table("hal.csv"));`)[0]).toMatch(
      /^2:44 error "hal\.csv" is not found in any run, by this name\..*Did you mean "hall\.csv"\?$/,
    );
    expect(check(`study("small").runs.map((run) => run.params.fann);`)[0]).toMatch(
      /there is no "fann" here\. There is "fan", "door", "kind"\. Did you mean "fan"\?/,
    );
    expect(check(`study("small").runs.where({ kind: "wyde" });`)[0]).toMatch(/"wyde".*"wide"/);
    expect(check(`study("small").runs.map((run) => run.table("hall.csv").max("run"));`)[0]).toMatch(/"time", "T", "p"/);
  });

  it("tells what is of one run from what is of all", () => {
    const t = `const t = study("small").runs.map((run) => run.table("hall.csv"));`;
    expect(check(`${t} t.derive("x", "T + 1 K").rows((r) => ({ m: r.max("x") }));`)).toEqual([
      expect.stringMatching(/"derive" is of one run, and this is of all: write \.map\(\(t\) => t\.derive\(…\)\)$/),
    ]);
    expect(check(`study("small").runs.table("hall.csv");`)[0]).toMatch(/write \.map\(\(run\) => run\.table\(…\)\)$/);
    expect(check(`${t} chart.band(t, { x: "time", y: "T" });`)[0]).toMatch(
      /chart\.band takes one table, and this is one for each run: put them together first, with across/,
    );
  });

  it.each([
    ["a call with several forms", 'chart.lines(t, { x: "time", y: "T", colour: "fan" });', "colour", "color"],
    ["one inside another", 'chart.layers([chart.lines(t, { x: "time", swapAxis: true })]);', "swapAxis", "swapAxes"],
    ["a call with one form", 'emit.table("a", t.stack(), { digit: 3 });', "digit", "digits"],
  ])("names an option that is not there, with those that are: %s", (_, line, wrong, meant) => {
    checker.load(
      { "main.ts": `${head}const t = study("small").runs.map((run) => run.table("hall.csv"));\n${line}` },
      types,
    );
    const [found, ...more] = checker.check();
    expect(more).toEqual([]);
    expect(found!.message).toMatch(
      new RegExp(`^there is no "${wrong}" here\\. There is .* Did you mean "${meant}"\\?$`),
    );
    expect(found!.fixes[0]).toBe(meant);
    expect([found!.line, found!.column, found!.endColumn - found!.column]).toEqual([
      3,
      line.indexOf(wrong) + 1,
      wrong.length,
    ]);
  });
  it("offers texts that put a name right", () => {
    checker.load({ "main.ts": `${head}study("small").runs.map((run) => run.table("hall.csv").max("TT"));` }, types);
    expect(checker.check()[0]!.fixes[0]).toBe('"T"');
  });

  it("lets names be computed, and checks only those written out", () => {
    expect(
      check('for (const k of ["a", "b"]) study("small").runs.map((run) => run.table(`x_${k}.csv`).max(`T_${k}`));'),
    ).toEqual([]);
  });

  it("warns of names that only some runs lack, and says which", () => {
    const body = `const t = study("small").runs.map((run) => run.table("hall.csv").pick("T", "p"));
emit.table("q", study("small").runs.rows((run) => ({ q: run.table("extra.csv").max("q") })));
emit.table("r", study("small").runs.map((run) => run.lines("solver.log").read("residual {r}")));
emit.chart("c", chart.lines(study("small").runs.map((run) => run.table("hall.csv")), { x: "time", y: "p" }));`;
    expect(check(body)).toEqual([]);
    expect(check(body, true)).toEqual([
      '2:76 warning "p" is not in 1 of 6 runs (f100_d1): excluded here',
      '3:67 warning "extra.csv" is not in 1 of 6 runs (f050_d2): excluded here',
      '4:60 warning "solver.log" is not in 1 of 6 runs (f050_d3): excluded here',
      '5:102 warning "p" is not in 1 of 6 runs (f100_d1): excluded here',
    ]);
  });

  it("does not warn of a file that the script asks for first", () => {
    expect(
      check(`study("small").runs.where((run) => run.has("extra.csv")).map((run) => run.table("extra.csv"));`, true),
    ).toEqual([]);
  });

  it("refuses other imports and changes of outer variables in callbacks", () => {
    expect(check(`import fs from "node:fs";`)[0]).toMatch(/"node:fs" cannot be imported/);
    expect(check(`let n = 0;\nstudy("small").runs.map((run) => { n++; return run.table("hall.csv"); });`)[0]).toMatch(
      /3:36 error "n" stands outside this callback/,
    );
  });

  it("tells of broken text only that it is broken", () => {
    expect(check("const = 1;\nstudy(5);")[0]).toMatch(/^2:7 error Variable declaration expected/);
    expect(check("const = 1;\nstudy(5);").some((m) => m.startsWith("3:"))).toBe(false);
  });

  it("finds siblings' exports and errors in them by their own name", () => {
    checker.load(
      {
        "main.ts": `${head}import { limit } from "./limits.ts";\nemit.text("a", limit);`,
        "limits.ts": "export const limit: number = 'x';",
      },
      types,
    );
    expect(checker.check().map((d) => `${d.file}:${d.line}`)).toEqual(["limits.ts:1", "main.ts:3"]);
  });

  it("completes columns with their units and files of the study", () => {
    const text = `${head}study("small").runs.map((run) => run.table("hall.csv").max(""));`;
    checker.load({ "main.ts": text }, types);
    const at = checker.complete("main.ts", text.length - 4)!;
    expect(at.entries.map((e) => [e.label, e.detail])).toEqual(
      expect.arrayContaining([
        ["T", "K"],
        ["p", "Pa"],
      ]),
    );
    const files = `${head}study("small").runs.map((run) => run.table(""));`;
    checker.load({ "main.ts": files }, types);
    expect(checker.complete("main.ts", files.length - 4)!.entries.map((e) => e.label)).toEqual(
      expect.arrayContaining(["hall.csv", "extra.csv"]),
    );
  });

  it("completes fields, patches and times of the study's meshes", async () => {
    const own = smallStudy();
    for (const run of ["f050_d1", "f100_d1"]) writeSmallField(own, run);
    writeFieldDefinition(own);
    const meshes = { small: studyTypes("small", await scanStudy(own.folder)) };
    own.remove();
    const labels = (body: string): string[] => {
      const text =
        head.replace("across", "at") + `const run = study("small").runs.map((r) => r).get("f050_d1");\n${body}`;
      const offset = text.indexOf("^");
      checker.load({ "main.ts": text.replace("^", "") }, meshes);
      return (checker.complete("main.ts", offset)?.entries ?? []).map((e) => e.label);
    };
    expect(labels('run.field("^");')).toEqual(["fields/f", "walls/*.stl"]);
    expect(labels('run.field("fields/f").at("last").sample(at.point([0, 0, 0]), "^");')).toEqual(
      expect.arrayContaining(["T", "U", "U.x", "U.mag", "U.along"]),
    );
    expect(labels('run.field("walls/*.stl").reduce(at.patch("^"), { a: { size: true } });')).toEqual(["floor", "roof"]);
    expect(labels('run.field("fields/f").at({ time: ^ });')).toEqual(expect.arrayContaining(["0", "10", "20"]));
  });

  it("shows a verb's documentation with an example", () => {
    const text = `${head}study("small").runs.map((run) => run.table("hall.csv").settles("T", { within: "1 K" }));`;
    checker.load({ "main.ts": text }, types);
    const h = checker.hover("main.ts", text.indexOf("settles") + 2)!;
    expect(h.documentation).toMatch(/stays within a band.*e\.g\. t\.settles\("T_mean", \{ within: "0\.5 K" \}\)/s);
  });
});

it("strips types in place: every line and column stays", () => {
  const out = compileScript({ "a.ts": "const a: number = 1;\nfunction f<T>(x: T): T { return x; }\n" }).modules![
    "a.ts"
  ];
  expect(out).toBe("const a         = 1;\nfunction f   (x   )    { return x; }\n");
});
