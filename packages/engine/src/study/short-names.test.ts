import fs from "node:fs";
import path from "node:path";
import { afterEach, beforeEach, describe, expect, it } from "@jest/globals";
import { runScript, smallStudy, type SmallStudy } from "../testing/small-study.js";
import { scanStudy } from "./catalogue.js";
import { shortNames } from "../definition/short-names.js";

describe("names without endings", () => {
  it("mean the one file there is, or several; a name that is a file means that", () => {
    const names = ["a/hall.csv", "a.csv", "a.dat", "b.csv", "b", "run.log", "run.txt", "grid.vtu", ".csv", "sub/.dat"];
    expect(Object.fromEntries(shortNames(names))).toEqual({
      "a/hall": ["a/hall.csv"],
      a: ["a.csv", "a.dat"],
      run: ["run.log", "run.txt"],
    });
  });
});

describe("files named without their ending in a script", () => {
  let s: SmallStudy;
  beforeEach(() => {
    s = smallStudy();
    fs.writeFileSync(path.join(s.folder, "places.csv"), "x [m],y [m],z [m]\n0,0,0\n");
    for (const run of fs.readdirSync(path.join(s.folder, "runs"))) {
      fs.writeFileSync(path.join(s.folder, "runs", run, "twice.csv"), "t,a\n0,1\n1,2\n");
      fs.writeFileSync(path.join(s.folder, "runs", run, "twice.dat"), "t a\n0 1\n1 2\n");
      fs.writeFileSync(path.join(s.folder, "runs", run, "solver.log"), "residual 1e-3\nresidual 1e-4\n");
    }
  });
  afterEach(() => s.remove());
  const script = (hall: string, log: string, places: string): string => `const runs = study("small").runs;
emit.table("peaks", runs.map((run) => run.table("${hall}")).rows((t) => ({ peak: t.max("T") })));
emit.table("log", runs.map((run) => run.lines("${log}").read("residual {r}")).rows((t) => ({ last: t.last("r") })));
emit.table("places", study("small").table("${places}"));
emit.table("there", runs.where((run) => run.has("${hall}")).map((run) => run.table("${hall}")).rows((t) => ({ n: t.count("T") })));`;

  it("give the same files, checked with their own columns", async () => {
    const whole = await runScript(s, script("hall.csv", "solver.log", "places.csv"), {
      asUsers: true,
      outFolder: s.out("whole"),
    });
    const short = await runScript(s, script("hall", "solver", "places"), { asUsers: true, outFolder: s.out("short") });
    expect([whole.errors, short.errors]).toEqual([[], []]);
    for (const file of ["peaks.csv", "log.csv", "places.csv", "there.csv"])
      expect(fs.readFileSync(path.join(s.out("short"), file))).toEqual(
        fs.readFileSync(path.join(s.out("whole"), file)),
      );
    const wrong = await runScript(s, script("hall", "solver", "places").replace('max("T")', 'max("Q")'), {
      asUsers: true,
    });
    expect(wrong.errors.join()).toMatch(/Q/);
  });
  it("are refused where several are meant, with their names", async () => {
    const r = await runScript(
      s,
      `emit.table("x", study("small").runs.map((run) => run.table("twice")).rows((t) => ({ a: t.max("a") })));`,
    );
    expect(r.errors.join()).toMatch(/"twice" can be "twice\.csv", "twice\.dat"; write the whole name/);
  });
  it("mean the same in the study definition: tables, rules, units and the parameter table", async () => {
    const define = (ending: string): void =>
      fs.writeFileSync(
        path.join(s.folder, "oxtrum.study.json"),
        JSON.stringify({
          oxtrum: 1,
          runs: { pattern: "runs/f{fan}_d{door}", table: `places${ending}` },
          files: { hall: `hall${ending}`, both: { path: [`hall${ending}`], optional: true } },
          units: { [`hall${ending}`]: { T: "degC" } },
          accept: { warm: { table: `hall${ending}`, value: "max(T)", above: "0 degC" } },
        }),
      );
    const asked = `const runs = study("small").runs.accepted;
emit.table("peaks", runs.map((run) => run.table("hall")).rows((t) => ({ peak: t.max("T") })));
emit.table("both", runs.map((run) => run.table("both")).rows((t) => ({ peak: t.max("T") })));`;
    define(".csv");
    const whole = await runScript(s, asked, { asUsers: true, outFolder: s.out("whole") });
    define("");
    const short = await runScript(s, asked, { asUsers: true, outFolder: s.out("short") });
    expect([whole.errors, short.errors]).toEqual([[], []]);
    for (const file of ["peaks.csv", "both.csv"]) {
      const text = fs.readFileSync(path.join(s.out("short"), file), "utf8");
      expect(text).toMatch(/degC|°C/);
      expect(text).toBe(fs.readFileSync(path.join(s.out("whole"), file), "utf8"));
    }
    fs.writeFileSync(path.join(s.folder, "places.dat"), "x\n1\n");
    expect((await runScript(s, asked)).errors.join()).toMatch(
      /runs\.table: "places" can be "places\.csv", "places\.dat"/,
    );
  });
  it("are a listed problem of the definition where several files can be meant", async () => {
    fs.writeFileSync(
      path.join(s.folder, "oxtrum.study.json"),
      JSON.stringify({ oxtrum: 1, runs: { pattern: "runs/f{fan}_d{door}" }, files: { two: "twice" } }),
    );
    const { problems } = await scanStudy(s.folder);
    expect(problems.map((p) => p.text).join()).toMatch(/names "twice", which can be "twice\.csv", "twice\.dat"/);
  });
});
