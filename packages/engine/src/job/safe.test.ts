import fs from "node:fs";
import path from "node:path";
import { afterEach, beforeEach, describe, expect, it } from "@jest/globals";
import { strToU8, unzipSync, zipSync } from "fflate";
import { archiveJob, checkArchiveFile, readArchive, writeArchive } from "./archive.js";
import { readManifest } from "./verify.js";
import { runScript, smallStudy, type SmallStudy } from "../testing/small-study.js";

let s: SmallStudy;
beforeEach(() => void (s = smallStudy()));
afterEach(() => s.remove());

const T = `const t = study("small").runs.map((run) => run.table("hall.csv"));
const rows = t.rows((x, run) => ({ fan: run.params.fan, peak: x.max("T") }));
`;

describe("outputs", () => {
  it("of names as wide as can be are all there, and one that cannot be written takes no other along", async () => {
    const wide = "界".repeat(100);
    const r = await runScript(
      s,
      `${T}emit.table("${wide}1", rows); emit.table("${wide}2", rows); emit.value("${"é".repeat(300)}", rows.max("peak"));`,
      { outFolder: s.out("a"), viewFolder: s.out("views") },
    );
    expect(r.exit).toBe(0);
    expect(r.outputs.map((o) => [o.failed, o.files.length])).toEqual([
      [undefined, 1],
      [undefined, 1],
      [undefined, 1],
    ]);
    for (const o of r.outputs) expect(fs.existsSync(path.join(s.out("a"), o.files[0]!.file))).toBe(true);
  });
  it("go to no study, not beside its results, and not around it", async () => {
    for (const folder of [s.folder, path.join(s.folder, "runs/f050_d1/out"), path.dirname(s.folder)]) {
      const r = await runScript(s, `${T}emit.table("a", rows);`, { outFolder: folder });
      expect(r.exit).toBe(1);
      expect(r.errors[0]).toMatch(/the folder of the study "small"; outputs do not go there/);
    }
    expect(fs.readdirSync(s.folder)).toEqual(["runs"]);
  });
  it("leave what they find: remarks stay, a table changed by hand stops the job", async () => {
    const script = `${T}emit.table("a", rows); emit.value("b", rows.max("peak"));`;
    await runScript(s, script, { outFolder: s.out("a") });
    fs.writeFileSync(path.join(s.out("a"), "remarks.txt"), "mine");
    expect((await runScript(s, script, { outFolder: s.out("a"), runs: "fan=50" })).exit).toBe(0);
    expect(fs.readFileSync(path.join(s.out("a"), "remarks.txt"), "utf8")).toBe("mine");
    fs.appendFileSync(path.join(s.out("a"), "a.csv"), "mended\n");
    const before = fs.readdirSync(s.out("a")).map((f) => fs.readFileSync(path.join(s.out("a"), f), "utf8"));
    const r = await runScript(s, script, { outFolder: s.out("a") });
    expect([r.exit, r.errors[0]]).toEqual([
      1,
      expect.stringMatching(/holds a\.csv, which is not the earlier job's, or was changed since/),
    ]);
    expect(fs.readdirSync(s.out("a")).map((f) => fs.readFileSync(path.join(s.out("a"), f), "utf8"))).toEqual(before);
  });
});

describe("what the reader knows of a table reaches the outputs", () => {
  it("damaged rows, missing cells, a torn end: in notes, in the manifest, for charts and numbers too", async () => {
    const rows = ["time [s],T [K],p [Pa]", "0,1,1", "1,2", "2,*****,1", "3,4,1,9", "4,5,1", "5,6"].join("\n");
    fs.writeFileSync(path.join(s.folder, "runs/f050_d1/hall.csv"), rows);
    const r = await runScript(
      s,
      `${T}emit.table("peaks", rows); emit.value("most", rows.max("peak")); emit.chart("air", chart.lines(t, { x: "time", y: "T" }));`,
      { outFolder: s.out("a") },
    );
    for (const name of ["peaks", "most", "air"]) {
      const notes = r.output(name).notes.join("\n");
      expect(notes).toMatch(
        /f050_d1: hall\.csv: 2 rows are damaged and not read; the first: line 3, 2 fields where 3 are expected/,
      );
      expect(notes).toMatch(/f050_d1: hall\.csv: 1 cell is not a number and counts as missing; the first: line 4/);
      expect(notes).toMatch(/f050_d1: hall\.csv: the last line \(7\) is cut off/);
    }
    const m = readManifest(path.join(s.out("a"), "manifest.json"));
    expect(m.conditions.map((c) => [c.run, c.file, c.kind, c.outputs])).toEqual([
      ["f050_d1", "", "missing values", ["peaks", "most"]],
      ["f050_d1", "hall.csv", "cut off", ["peaks", "most", "air"]],
      ["f050_d1", "hall.csv", "damaged rows", ["peaks", "most", "air"]],
      ["f050_d1", "hall.csv", "missing cells", ["peaks", "most", "air"]],
    ]);
    // From the cache the same.
    const again = await runScript(s, `${T}emit.value("most", rows.max("peak"));`, { outFolder: s.out("b") });
    expect(again.output("most").notes).toEqual(r.output("most").notes);
  });
});

it("an input that the script does not have stops the job: a misspelt limit is not a limit", async () => {
  const r = await runScript(
    s,
    `const limit = input("limit", q("1 K"));\n${T}emit.check("cool", rows.max("peak"), { below: limit });`,
    { inputs: { limt: "500 K" }, outFolder: s.out("a") },
  );
  expect([r.exit, r.errors[0]]).toEqual([
    1,
    '--set limt: the script has no input "limt"; it has "limit". Did you mean "limit"?',
  ]);
  expect(fs.existsSync(s.out("a"))).toBe(false);
});

it("columns, parameters, outputs and inputs of any name are names", async () => {
  for (const r of fs.readdirSync(path.join(s.folder, "runs"))) {
    fs.writeFileSync(path.join(s.folder, "runs", r, "case.json"), '{"__proto__": 5, "constructor": 2}');
    fs.writeFileSync(path.join(s.folder, "runs", r, "hall.csv"), "time [s],__proto__ [K],constructor\n0,1,2\n1,2,3\n");
  }
  const r = await runScript(
    s,
    `// @ts-nocheck
const lim = input("__proto__", q("1 s"));
const t = study("small").runs.map((run) => run.table("hall.csv"));
emit.table("__proto__", t.rows((x, run) => ({ ["__proto__"]: x.max("__proto__"), constructor: x.max("constructor"), p: run.params["__proto__"], c: run.params["constructor"] })));
emit.value("constructor", lim);`,
    { inputs: { ["__proto__"]: "3 s" }, outFolder: s.out("a") },
  );
  expect(r.errors).toEqual([]);
  expect(
    fs
      .readFileSync(path.join(s.out("a"), "__proto__.csv"), "utf8")
      .split("\n")
      .slice(0, 2),
  ).toEqual(["run,__proto__ [K],constructor,p [1],c [1]", "f050_d1,2,3,5,2"]);
  expect(JSON.parse(fs.readFileSync(path.join(s.out("a"), "constructor.json"), "utf8"))).toMatchObject({ value: 3 });
  // Its manifest is known again as its own.
  expect((await runScript(s, `emit.text("x", "y");`, { outFolder: s.out("a") })).exit).toBe(0);
});

describe("archives", () => {
  it("are used only when every digest in them agrees", async () => {
    await runScript(s, `${T}emit.table("a", rows);`, { outFolder: s.out("a") });
    const whole = unzipSync(archiveJob(s.out("a")));
    const file = path.join(s.data, "x.zip");
    const change = (more: Record<string, string | undefined>): string => {
      const entries = { ...whole };
      for (const [name, text] of Object.entries(more)) {
        if (text === undefined) delete entries[name];
        else entries[name] = strToU8(text);
      }
      fs.writeFileSync(file, zipSync(entries));
      return file;
    };
    expect(readArchive(change({})).main).toBe("main.ts");
    const manifest = Buffer.from(whole["manifest.json"]!).toString();
    for (const [more, message] of [
      [{ "script/main.ts": "emit.text" }, /script\/main\.ts is not what manifest\.json says/],
      [{ "manifest.json": manifest.replace("hall.csv", "Hall.csv") }, /manifest\.json was changed/],
      [{ "outputs/a.csv": "run,peak\n" }, /outputs\/a\.csv is not what manifest\.json says/],
      [{ "outputs/a.csv": undefined }, /outputs\/a\.csv is missing/],
      [{ "studies/small/oxtrum.study.json": "{}" }, /oxtrum\.study\.json is not what/],
    ] as const)
      expect(() => readArchive(change(more))).toThrow(message);
  });
  it("replace archives only", async () => {
    await runScript(s, `${T}emit.table("a", rows);`, { outFolder: s.out("a") });
    const file = path.join(s.data, "job.zip");
    writeArchive(file, s.out("a"), []);
    writeArchive(file, s.out("a"), []);
    fs.writeFileSync(file, "mine");
    expect(() => checkArchiveFile(file, [])).toThrow(/is not the archive of a job.*it was not touched/);
    expect(() => writeArchive(file, s.out("a"), [])).toThrow(/not touched/);
    expect(fs.readFileSync(file, "utf8")).toBe("mine");
    expect(() => checkArchiveFile(path.join(s.folder, "x.zip"), [{ name: "small", folder: s.folder }])).toThrow(
      /the folder of the study/,
    );
    fs.appendFileSync(path.join(s.out("a"), "a.csv"), "x");
    expect(() => archiveJob(s.out("a"))).toThrow(/a\.csv was changed since/);
  });
});

describe("what is known of data reaches the check", () => {
  const verdict = async (body: string): Promise<unknown> => {
    const r = await runScript(s, `const runs = study("small").runs.where({ id: "f050_d1" });\n${body}`);
    const o = r.outputs.find((x) => x.kind === "check")!;
    return [r.errors, o.verdict, o.summary];
  };
  it("a window beyond the data, in rows and in values", async () => {
    const windowed = `const t = runs.map((run) => run.table("hall.csv").window("time", ["0 s", "200 s"]));`;
    const undecided = [[], "undecided", expect.stringMatching(/"time" stops at 100 s, the script needs 0 s to 200 s/)];
    expect(
      await verdict(`${windowed}\nemit.check("c", t.rows((x) => ({ p: x.max("T") })).max("p"), { below: "1000 K" });`),
    ).toEqual(undecided);
    expect(
      await verdict(`${windowed}\nemit.check("c", t.get("f050_d1").value("max(T)"), { below: "1000 K" });`),
    ).toEqual(undecided);
    expect(
      await verdict(
        `${windowed}\nemit.check("c", t.get("f050_d1").max("T"), { below: "1000 K", conditions: "allow" });`,
      ),
    ).toEqual([[], "passed", expect.anything()]);
  });
  it("a log that says that the solution diverged", async () => {
    fs.appendFileSync(path.join(s.folder, "runs/f050_d1/solver.log"), "ERROR: solution diverged in cell 12\n");
    const body =
      `emit.check("c", runs.map((run) => run.lines("solver.log").read("Time = {time:s}", "residual ` +
      `{r}")).get("f050_d1").min("r"), { below: 1 });`;
    expect(await verdict(body)).toEqual([
      [],
      "undecided",
      expect.stringMatching(/line 5 says "ERROR: solution diverged in cell 12"/),
    ]);
  });
  it("a gap in what is integrated", async () => {
    fs.writeFileSync(
      path.join(s.folder, "runs/f050_d1/hall.csv"),
      "time [s],T [K],p [Pa]\n0,1,1\n1,,1\n2,1,1\n3,1,1\n4,1,1\n",
    );
    const check = (more: string): string =>
      `emit.check("c", runs.map((run) => run.table("hall.csv")).get("f050_d1").integral("T"), { below: "100 K s"${more} });`;
    expect(await verdict(check(""))).toEqual([
      [],
      "undecided",
      expect.stringMatching(/50 % of "time" has no value of "T"/),
    ]);
    expect(await verdict(check(`, conditions: "allow"`))).toEqual([[], "passed", expect.anything()]);
  });
});

describe("how results came about", () => {
  it("is told with rows, charts, checks and values: weights, methods, where runs end", async () => {
    const file = path.join(s.folder, "runs/f100_d3/hall.csv");
    fs.writeFileSync(file, fs.readFileSync(file, "utf8").split("\n").slice(0, 52).join("\n") + "\n");
    const r = await runScript(
      s,
      `${T}const band = across(t, { on: "time", columns: ["T"] });
emit.table("means", t.rows((x) => ({ mean: x.mean("T"), plain: x.mean("T", { weights: "none" }), peak: x.max("T") })));
emit.chart("band", chart.band(band, { y: "T" }));
emit.check("warm", t.get("f050_d1").mean("T"), { above: "1 K" });
emit.value("one", t.get("f050_d1").mean("T"));`,
    );
    expect(r.errors).toEqual([]);
    const notes = (name: string): string => r.output(name).notes.join("\n");
    expect(notes("means")).toMatch(/^mean: weighted along "time".*\nplain: .*unweighted/);
    expect(notes("warm")).toMatch(/weighted along "time"/);
    expect(notes("one")).toMatch(/weighted along "time"/);
    expect(notes("band")).toMatch(/across 6 runs; .*deviations with n−1/);
    expect(notes("band")).toMatch(/"T": fewer than 6 runs at 50 of 101 places, 5 at least; a mean can jump there/);
  });
  it("different ways are told apart, with their numbers of runs", async () => {
    fs.writeFileSync(path.join(s.folder, "runs/f100_d3/hall.csv"), "T [K]\n1\n5\n2\n");
    const r = await runScript(s, `${T}emit.table("means", t.rows((x) => ({ mean: x.mean("T") })));`);
    expect(r.output("means").notes.join("\n")).toMatch(
      /mean: weighted along "time".* \(5 runs\)\nmean: .*unweighted.* \(1 run\)/,
    );
  });
});
