import fs from "node:fs";
import path from "node:path";
import { afterEach, beforeEach, describe, expect, it } from "@jest/globals";
import { runScript, smallStudy, type SmallStudy } from "../testing/small-study.js";

let s: SmallStudy;
beforeEach(() => {
  s = smallStudy();
  const table = { path: ["a.csv", "b.csv", "c.csv"] };
  const definition = { oxtrum: 1, runs: { case: "case.json" }, files: { hist: table } };
  fs.writeFileSync(path.join(s.folder, "oxtrum.study.json"), JSON.stringify(definition));
});
afterEach(() => s.remove());

const put = (name: string, rows: string): void =>
  fs.writeFileSync(path.join(s.folder, "runs/f050_d1", name), `time [s],T [K]\n${rows}\n`);
const script = `emit.table("t", study("small").runs.where({ id: "f050_d1" }).map((run) => run.table("hist")));`;
const rows = (): string[] =>
  fs
    .readFileSync(path.join(s.out("a"), "t.csv"), "utf8")
    .trim()
    .split("\n")
    .slice(1)
    .map((l) => l.split(",").slice(4).join(" "));

describe("a run whose axis holds several passes", () => {
  it.each([
    ["a band", `emit.table("x", across(t, { on: "time" }));`],
    ["side by side", `emit.table("x", t.wide("T"));`],
    ["points in time", `emit.table("x", t.rows((x) => ({ T: x.at("T", "1.5 s") })));`],
    ["crossings", `emit.table("x", t.rows((x) => ({ n: x.crossings("T", "2.5 K").count("time") })));`],
  ])("is excluded alone, never sorted row by row: %s", async (_, body) => {
    const names = fs.readdirSync(path.join(s.folder, "runs"));
    for (const run of names)
      fs.writeFileSync(
        path.join(s.folder, "runs", run, "h.csv"),
        `time [s],T [K]\n0,1\n1,2\n2,3\n3,4\n${run === "f050_d1" ? "1,20\n2,30\n3,40\n" : ""}`,
      );
    const r = await runScript(s, `const t = study("small").runs.map((run) => run.table("h.csv"));\n${body}`);
    expect(r.output("x").left.map((l) => l.run)).toEqual(["f050_d1"]);
    expect(r.output("x").left[0]!.reason).toMatch(/back and forth.*keep one pass/);
    expect(r.output("x").runs).toBe(names.length - 1);
  });
});

describe("a table in several files", () => {
  it("gets one restart treatment over all of them, and says so", async () => {
    put("a.csv", "0,1\n1,2\n2,3\n3,4");
    put("b.csv", "2,30\n3,40\n4,50\n5,60");
    put("c.csv", "5,600\n6,700");
    const r = await runScript(s, script, { outFolder: s.out("a") });
    expect(r.errors).toEqual([]);
    expect(rows()).toEqual(["0 1", "1 2", "2 30", "3 40", "4 50", "5 600", "6 700"]);
    const told = r.output("t").conditions!.map((c) => c.text);
    expect(told).toEqual([
      expect.stringMatching(/steps back to 2 in a further file; 2 earlier rows/),
      expect.stringMatching(/steps back to 5 in a further file; 1 earlier row/),
    ]);
    expect(r.output("t").notes.join()).toContain("joined from a.csv, b.csv, c.csv, in this order");
  });
  it("a file that begins again at the start is a pass of its own", async () => {
    put("a.csv", "0,1\n1,2");
    put("b.csv", "0,3\n1,4");
    await runScript(s, script, { outFolder: s.out("a") });
    expect(rows()).toEqual(["0 1 1", "1 2 1", "0 3 2", "1 4 2"]);
  });
  it("a unit that the definition puts in the place of the file's own is told", async () => {
    fs.writeFileSync(
      path.join(s.folder, "oxtrum.study.json"),
      JSON.stringify({ oxtrum: 1, files: { hist: "a.csv" }, units: { "a.csv": { T: "degC", time: "s" } } }),
    );
    put("a.csv", "0,1\n1,2");
    const r = await runScript(s, script);
    expect(r.output("t").notes).toEqual([`a.csv: by the study's definition "T" in °C, not in K as it says`]);
  });
  it("each file has its own names and units", async () => {
    const define = (more: object): void =>
      fs.writeFileSync(
        path.join(s.folder, "oxtrum.study.json"),
        JSON.stringify({
          oxtrum: 1,
          runs: { case: "case.json" },
          files: { hist: { path: ["a.csv", "b.csv"] } },
          ...more,
        }),
      );
    fs.writeFileSync(path.join(s.folder, "runs/f050_d1/a.csv"), "time [s],T\n0,1\n60,2\n");
    fs.writeFileSync(path.join(s.folder, "runs/f050_d1/b.csv"), "time [min],temp,q [W]\n2,-271.15,4\n3,-270.15,5\n");
    define({ names: { T: ["temp"] }, units: { "a.csv": { T: "K" }, "b.csv": { T: "degC" } } });
    const r = await runScript(s, script, { outFolder: s.out("a") });
    expect(r.errors).toEqual([]);
    expect(rows().map((l) => l.split(" ").slice(0, 2).map(Number))).toEqual([
      [0, 1],
      [60, 2],
      [120, 2],
      [180, 3],
    ]);
    expect(r.output("t").notes.join()).toContain('"q" is not in a.csv: missing in its rows');
  });
  it("a file whose unit or axis does not go with the first excludes the run, with file and cure", async () => {
    put("a.csv", "0,1\n1,2");
    fs.writeFileSync(path.join(s.folder, "runs/f050_d1/b.csv"), "time [s],T [Pa]\n2,3\n3,4\n");
    const unit = await runScript(s, script);
    expect(unit.output("t").failed).toMatch(
      /b\.csv.*does not go with a\.csv.*K.*Pa|b\.csv.*does not go with a\.csv.*Pa.*K/,
    );
    fs.writeFileSync(path.join(s.folder, "runs/f050_d1/b.csv"), "step,T [K]\n2,3\n3,4\n");
    const axis = await runScript(s, script);
    expect(axis.output("t").failed).toMatch(/b\.csv.*runs along "step", a\.csv runs along "time"/);
    // Where another run is left, the reason goes with its file and cure to the output and the manifest.
    for (const f of ["a.csv", "b.csv"])
      fs.copyFileSync(path.join(s.folder, "runs/f050_d1/a.csv"), path.join(s.folder, "runs/f050_d2", f));
    const both = await runScript(
      s,
      script.replace('.where({ id: "f050_d1" })', '.where({ id: ["f050_d1", "f050_d2"] })'),
      {
        outFolder: s.out("m"),
      },
    );
    const told = { run: "f050_d1", file: "b.csv", hint: expect.stringMatching(/Name the axis in the definition/) };
    expect(both.output("t").left).toEqual([expect.objectContaining(told)]);
    const manifest = JSON.parse(fs.readFileSync(path.join(s.out("m"), "manifest.json"), "utf8")) as {
      leftOut: unknown;
    };
    expect(manifest.leftOut).toEqual([expect.objectContaining(told)]);
  });
});
