import fs from "node:fs";
import path from "node:path";
import { afterEach, beforeEach, describe, expect, it } from "@jest/globals";
import { bytesOf, runNames, runScript, smallStudy, type SmallStudy } from "../testing/small-study.js";
import { verifyManifest } from "./verify.js";

let s: SmallStudy;
beforeEach(() => void (s = smallStudy()));
afterEach(() => s.remove());

const PEAKS = `
const t = study("small").runs.map((run) => run.table("hall.csv").to("T", "degC"));
const rows = t.rows((x, run) => ({ fan: run.params.fan, door: run.params.door, peak: x.max("T"), mean: x.mean("T"), at: x.max("T").at }));
emit.table("peaks", rows, { formats: ["csv", "json"] });
emit.chart("lines", chart.lines(t, { x: "time", y: "T", color: "fan" }));
emit.table("band", across(t, { on: "time", columns: ["T"] }));
emit.check("cool", rows.max("peak"), { below: "104 K" });
emit.value("warmest", rows.max("peak"));
emit.text("note", "as agreed");
`;

const csv = (folder: string, name: string): string[] =>
  fs.readFileSync(path.join(folder, name), "utf8").trim().split("\n");

describe("a job", () => {
  it("works a script off on all runs, with right numbers and units", async () => {
    const r = await runScript(s, PEAKS, { outFolder: s.out("a") });
    expect(r.errors).toEqual([]);
    expect(r.exit).toBe(0);
    const lines = csv(s.out("a"), "peaks.csv");
    expect(lines[0]).toBe("run,fan [%],door [s],peak [degC],mean [degC],at [s]");
    expect(lines).toHaveLength(7);
    // fan 100 %, door 2: T runs from 2 to 102 K.
    const row = lines
      .find((l) => l.startsWith("f100_d2"))!
      .split(",")
      .map(Number);
    expect(row[3]).toBeCloseTo(102 - 273.15, 10);
    expect(row[4]).toBeCloseTo(52 - 273.15, 10);
    expect(row[5]).toBe(100);
    expect(r.output("cool").verdict).toBe("passed");
    const band = csv(s.out("a"), "band.csv");
    expect(band[0]).toBe("time [s],T.mean [degC],T.std [K],T.min [degC],T.max [degC],T.n [1]");
    expect(Number(band[101]!.split(",")[1])).toBeCloseTo(77 - 273.15, 10);
    expect(fs.readdirSync(s.out("a")).sort()).toEqual([
      "band.csv",
      "cool.json",
      "index.html",
      "lines.png",
      "lines.svg",
      "manifest.json",
      "note.txt",
      "outputs.json",
      "peaks.csv",
      "peaks.json",
      "warmest.json",
    ]);
  });

  it("gives the same bytes with one worker or two, with and without what is kept", async () => {
    await runScript(s, PEAKS, { outFolder: s.out("cold"), workers: 1, cache: false });
    await runScript(s, PEAKS, { outFolder: s.out("first"), workers: 2 });
    const warm = await runScript(s, PEAKS, { outFolder: s.out("warm"), workers: 2 });
    expect(warm.summary.cellsCached).toBeGreaterThan(0);
    expect(bytesOf(s.out("first"))).toEqual(bytesOf(s.out("cold")));
    expect(bytesOf(s.out("warm"))).toEqual(bytesOf(s.out("cold")));
  });

  it("leaves a run with a broken file out of what needs that file only, by name, file and line", async () => {
    fs.writeFileSync(path.join(s.folder, "runs/f050_d2/hall.csv"), "time [s],T [K],p [Pa]\n}\n");
    const body = `${PEAKS}\nemit.table("other", study("small").runs.rows((run) => ({ q: run.table("extra.csv").max("q") })));`;
    const r = await runScript(s, body, { outFolder: s.out("a") });
    expect(r.exit).toBe(3);
    expect(r.output("cool").verdict).toBe("undecided");
    expect(r.output("cool").summary).toMatch(/1 run excluded: f050_d2/);
    expect(r.output("peaks").left).toEqual([expect.objectContaining({ run: "f050_d2", file: "hall.csv" })]);
    expect(r.output("peaks").rows).toBe(5);
    expect(r.output("other").left).toEqual([]);
    expect(r.output("other").rows).toBe(6);
    expect(csv(s.out("a"), "band.csv")[1]!.split(",")[5]).toBe("5");
    const without = await runScript(s, body.replace(/emit\.check.*\n/, ""));
    expect(without.exit).toBe(2);
  });

  it("lets a check pass over runs that are out only when told to", async () => {
    fs.rmSync(path.join(s.folder, "runs/f050_d2/hall.csv"));
    const r = await runScript(
      s,
      `emit.check("c", study("small").runs.rows((run) => ({ m: run.table("hall.csv").max("T") ` +
        `})).max("m"), { below: "200 K", missing: "allow" });`,
    );
    expect(r.output("c").verdict).toBe("passed");
    expect(r.exit).toBe(2);
  });

  it("fails a check on a value that is missing", async () => {
    const r = await runScript(
      s,
      `emit.check("c", study("small").runs.rows((run) => ({ m: run.table("hall.csv").settles("T", { ` +
        `within: "0.1 K" }) })).max("m"), { below: "1000 s" });`,
    );
    expect(r.output("c").verdict).toBe("failed");
    expect(r.output("c").summary).toMatch(/there is no value/);
  });

  it("refuses a name that no run has, before anything is read; warns of one that some lack", async () => {
    const wrong = await runScript(
      s,
      `emit.table("a", study("small").runs.map((run) => run.table("hall.csv").pick("Tmean")));`,
      { asUsers: true },
    );
    expect(wrong.exit).toBe(1);
    expect(wrong.errors[0]).toMatch(
      /main\.ts:2 "Tmean" is not found in any run: hall\.csv has no such column\. There is "time", "T", "p"/,
    );
    fs.writeFileSync(path.join(s.folder, "runs/f100_d1/hall.csv"), "time [s],T [K]\n0,1\n1,2\n");
    const some = await runScript(
      s,
      `emit.table("a", study("small").runs.rows((run) => ({ p: run.table("hall.csv").max("p") })));`,
    );
    expect(some.warnings[0]).toMatch(/main\.ts:2 excluded here: f100_d1 \(no column "p"/);
    expect(some.output("a").rows).toBe(5);
  });

  it("finds computed names and wrong units before anything is read", async () => {
    const name = await runScript(
      s,
      `const n = ["T", "x"].join("_");\nemit.table("a", study("small").runs.rows((run) => ({ m: run.table("hall.csv").max(n) })));`,
    );
    expect(name.errors[0]).toMatch(/main\.ts:3 no column "T_x"/);
    const unit = await runScript(
      s,
      `emit.table("a", study("small").runs.map((run) => run.table("hall.csv").derive("x", "T + p")));`,
    );
    expect(unit.errors[0]).toMatch(/main\.ts:2 "\+" joins T \(K\) with p \(Pa\)/);
    expect(unit.events.some((e) => e.type === "cells")).toBe(false);
  });

  it("tells what it would read, and reads nothing, when run dry", async () => {
    fs.rmSync(path.join(s.folder, "runs/f050_d2/hall.csv"));
    const r = await runScript(s, PEAKS, { mode: "dry" });
    const asked = r.events.find((e) => e.type === "asked");
    expect(asked?.type === "asked" && asked.asked).toHaveLength(6);
    expect(asked?.type === "asked" && asked.asked.filter((a) => a.missing !== undefined).map((a) => a.run)).toEqual([
      "f050_d2",
    ]);
    expect(r.events.some((e) => e.type === "cells")).toBe(false);
    const blocking = await runScript(
      s,
      `const m = study("small").runs.map((run) => run.table("hall.csv").max("T").value);\nemit.text("n", String(m.ids.length));`,
      { mode: "dry" },
    );
    expect(blocking.exit).not.toBe(1);
  });

  it("answers blocking reads, fetches ahead, and leaves out the run whose value cannot be had", async () => {
    fs.rmSync(path.join(s.folder, "runs/f050_d2/hall.csv"));
    const r = await runScript(
      s,
      `
const warm = study("small").runs.map((run) => {
  const t = run.table("hall.csv");
  if (t.max("T").value > 60) return t.pick("T");
  return t.derive("T", "T * 0");
});
emit.table("m", warm.rows((t) => ({ max: t.max("T"), n: t.values("T").length })));`,
    );
    expect(r.errors).toEqual([]);
    expect(r.output("m").rows).toBe(5);
    expect(r.output("m").left.map((l) => l.run)).toEqual(["f050_d2"]);
  });

  it("tries one run and says how many there are", async () => {
    const r = await runScript(s, PEAKS, { mode: "try", tryRuns: { small: "f100_d1" } });
    expect(r.output("lines")).toMatchObject({ runs: 1, notTried: 5 });
    expect(r.output("cool").verdict).toBe("undecided");
    expect(r.summary.left).toEqual([]);
  });

  it("says that one run was tried where an output needs more of them", async () => {
    const text = `
import { fit } from "oxtrum";
const peaks = study("small").runs.rows((run) => ({ fan: run.params.fan, peak: run.table("hall.csv").max("T") }));
emit.table("law", fit.linear(peaks, { y: "peak", x: "fan" }));
emit.value("peak", peaks.max("peak"));`;
    const failed = (r: Awaited<ReturnType<typeof runScript>>): (string | undefined)[] =>
      ["law", "peak"].map((name) => r.output(name).failed);
    const reason = "a fit of 2 constants needs more than 2 points; there is 1";
    expect(failed(await runScript(s, text, { mode: "try", tryRuns: { small: "f100_d1" } }))).toEqual([
      `${reason}; a part of the 6 runs was tried`,
      undefined,
    ]);
    // A whole run on one run has no more of them.
    expect(failed(await runScript(s, text, { runs: "f100_d1" }))).toEqual([reason, undefined]);
    expect(failed(await runScript(s, text, { mode: "try", tryRuns: { small: "*" } }))).toEqual([undefined, undefined]);
  });

  it("makes what is asked for by the name of another run than the one that is tried", async () => {
    const text = `
const t = study("small").runs.map((run) => run.table("hall.csv")).map((x) => x.to("T", "degC"));
const base = t.get("f050_d1");
emit.table("off", t.map((x) => x.join(base.pick("T"), { suffix: ".base" })).rows((x) => ({ off: x.value("mean(T - T.base)") })));
`;
    const r = await runScript(s, text, { mode: "try", tryRuns: { small: "f100_d3" }, viewFolder: s.out("views") });
    expect(r.errors).toEqual([]);
    expect(r.output("off")).toMatchObject({ runs: 1, notTried: 5, rows: 1 });
  });

  it("takes runs by selector and inputs from outside", async () => {
    const body =
      `const limit = input("limit", q("1 min"));\nemit.value("limit", limit.in("s"));\nemit.table("r", ` +
      `study("small").runs.rows((run) => ({ fan: run.params.fan })));`;
    const r = await runScript(s, body, { runs: "fan=50,f050_*", inputs: { limit: "2 min" }, outFolder: s.out("a") });
    expect(r.output("r").rows).toBe(3);
    expect(JSON.parse(fs.readFileSync(path.join(s.out("a"), "limit.json"), "utf8"))).toMatchObject({
      value: 120,
      unit: "s",
    });
    expect((await runScript(s, body, { runs: "fan=51" })).errors[0]).toMatch(/no run fits "fan=51"; "fan" is 50, \d+/);
    expect((await runScript(s, body, { runs: "g*" })).errors[0]).toMatch(/runs are f050_/);
  });

  it("a parameter value that no run has is an error that lists those there are; one outside of --runs is none", async () => {
    const where = (fan: string): string =>
      `emit.table("r", study("small").runs.where({ fan: ${fan} }).rows((run) => ({ fan: run.params.fan })));`;
    for (const fan of ["[51, 52]", "{ min: 1000 }"])
      expect((await runScript(s, where(fan))).errors[0]).toMatch(
        /"fan" has no such value in any run; its values are 50, /,
      );
    expect((await runScript(s, where("[51, 50]"))).output("r").rows).toBe(3);
    // Amounts with a unit are converted to the parameter's; ids take stars.
    const of = async (condition: string): Promise<number> =>
      (
        await runScript(s, `emit.table("r", study("small").runs.where(${condition}).rows((run) => ({ a: 1 })));`)
      ).output("r").rows!;
    expect([
      await of(`{ fan: "0.5" }`.replace('"0.5"', 'q("0.5 1").in("%")')),
      await of(`{ door: { min: "2000 ms", max: q("0.05 min") } }`),
      await of(`{ door: "0.05 min" }`),
      await of(`{ id: "*_d2" }`),
    ]).toEqual([3, 4, 2, 2]);
    expect(
      (await runScript(s, `emit.text("a", String(study("small").runs.where({ id: "g*" }).count));`)).errors[0],
    ).toMatch(/no run is called "g\*"; runs are f050_d1/);
    const other = await runScript(s, where("{ min: 51 }"), { runs: "fan=50" });
    expect([other.errors, other.output("r").rows]).toEqual([[], 0]);
  });

  it("reads logs by pattern, joins modules, stacks and compares", async () => {
    const main = `import { study, emit } from "oxtrum";
import { half } from "./parts.ts";
const runs = study("small").runs.where({ kind: "narrow" }).sort("door", "falling");
emit.table("logs", runs.map((run) => run.lines("solver.log").read("Time = {time:s} s", "residual {r}")));
emit.table("cmp", runs.rows((run) => ({ fan: run.params.fan, door: run.params.door, half: half(run.table("hall.csv").max("T")) })).compareTo({ fan: 50 }, { match: ["door"] }));
`;
    const parts = `import { type Quantity } from "oxtrum";\nexport const half = (x: Quantity): Quantity => x.over(2);\n`;
    const r = await runScript(s, "", {
      files: { "main.ts": main, "parts.ts": parts },
      outFolder: s.out("a"),
      asUsers: true,
    });
    expect(r.errors).toEqual([]);
    expect(csv(s.out("a"), "logs.csv")).toHaveLength(9);
    expect(csv(s.out("a"), "logs.csv")[0]).toBe("run,fan [%],door [s],kind,time [s],r");
    const cmp = csv(s.out("a"), "cmp.csv");
    expect(cmp[0]).toBe("run,fan [%],door [s],half [K],half.diff [K],half.percent [%]");
    expect(cmp.map((l) => l.split(",")[0])).toEqual(["run", "f050_d2", "f100_d2", "f050_d1", "f100_d1"]);
    expect(Number(cmp[2]!.split(",")[4])).toBe(25);
  });

  it("writes tables in every format, one for all runs or one for each, the same bytes each time", async () => {
    const text = `
const t = study("small").runs.where({ fan: 50 }).map((run) => run.table("hall.csv").head(3));
emit.table("all", t, { formats: ["csv", "tsv", "semicolon", "json", "xlsx", "parquet", "md", "tex", "html"] });
emit.table("by run", t, { formats: ["csv", "xlsx"], layout: "each", digits: 4 });
`;
    const r = await runScript(s, text, { outFolder: s.out("a"), workers: 1 });
    expect([r.errors, r.exit]).toEqual([[], 0]);
    const ends = ["csv", "html", "json", "md", "parquet", "semicolon.csv", "tex", "tsv", "xlsx"];
    expect(fs.readdirSync(s.out("a")).sort()).toEqual(
      [
        ...ends.map((e) => `all.${e}`),
        "by-run-f050_d1.csv",
        "by-run-f050_d2.csv",
        "by-run-f050_d3.csv",
        "by-run.xlsx",
        "index.html",
        "manifest.json",
        "outputs.json",
      ].sort(),
    );
    expect(csv(s.out("a"), "by-run-f050_d2.csv").slice(0, 3)).toEqual([
      "fan [%],door [s],kind,time [s],T [K],p [Pa]",
      "50.00,2.000,narrow,0,2.000,2.000",
      "50.00,2.000,narrow,1.000,2.500,2.000",
    ]);
    await runScript(s, text, { outFolder: s.out("b"), workers: 2 });
    expect(bytesOf(s.out("b"))).toEqual(bytesOf(s.out("a")));
    const wrong = await runScript(s, text.replace('"tsv", ', '"tvs", ').replace(/^.*by run.*$/m, ""), {
      outFolder: s.out("c"),
      asUsers: true,
    });
    expect(wrong.errors.join()).toMatch(/"tvs"/);
  });

  it("puts outputs in place whole, and keeps away from folders that hold other things", async () => {
    fs.mkdirSync(s.out("mine"));
    fs.writeFileSync(path.join(s.out("mine"), "thesis.txt"), "x");
    expect((await runScript(s, PEAKS, { outFolder: s.out("mine") })).errors[0]).toMatch(/holds other files/);
    expect(fs.readdirSync(s.out("mine"))).toEqual(["thesis.txt"]);
    const twice = await runScript(s, `emit.text("a b", "x");\nemit.text("a-b", "y");`, { outFolder: s.out("b") });
    expect(twice.errors[0]).toMatch(/same file name/);
    expect(fs.existsSync(s.out("b"))).toBe(false);
    const away = await runScript(s, `emit.text("../../etc/x", "y");`, { outFolder: s.out("c") });
    expect(fs.readdirSync(s.out("c")).sort()).toEqual(
      [away.output("../../etc/x").files[0]!.file, "index.html", "manifest.json", "outputs.json"].sort(),
    );
  });

  it("stops when told to", async () => {
    const abort = new AbortController();
    const { jobRequestSchema, runJob } = await import("../index.js");
    const done = runJob(
      jobRequestSchema.parse({
        files: { "main.ts": `import { emit } from "oxtrum";\nfor (;;) {}\nemit.text("a", "b");` },
        main: "main.ts",
        studies: [{ name: "small", folder: s.folder }],
        dataFolder: s.data,
        outFolder: s.out("a"),
      }),
      (e) => e.type === "stage" && e.stage === "script" && setTimeout(() => abort.abort(), 200),
      abort.signal,
    );
    expect((await done).exit).toBe(1);
    expect(fs.existsSync(s.out("a"))).toBe(false);
  });
});

describe("verify", () => {
  it("finds the same bytes again, and names what a changed input byte changed", async () => {
    await runScript(s, PEAKS, { outFolder: s.out("a") });
    const manifest = path.join(s.out("a"), "manifest.json");
    const same = await verifyManifest(manifest, { small: s.folder });
    expect(same).toMatchObject({ same: true, inputs: [] });
    expect(fs.readFileSync(manifest, "utf8")).not.toContain(s.folder);
    const file = path.join(s.folder, "runs", runNames[3], "hall.csv");
    fs.writeFileSync(file, fs.readFileSync(file, "utf8").replace("100,101,", "100,109,"));
    const other = await verifyManifest(manifest, { small: s.folder });
    expect(other.same).toBe(false);
    expect(other.inputs).toEqual([{ study: "small", path: "runs/f100_d1/hall.csv", change: "changed" }]);
    const differing = other.outputs.filter((o) => o.verdict === "differs").map((o) => o.name);
    expect(differing.sort()).toEqual(["band", "cool", "lines", "peaks", "warmest"]);
    expect(other.outputs.find((o) => o.name === "note")!.verdict).toBe("same bytes");
  });
  it("notices an output that was changed by hand", async () => {
    await runScript(s, `emit.text("note", "a");`, { outFolder: s.out("a") });
    fs.appendFileSync(path.join(s.out("a"), "note.txt"), "b");
    expect(
      (await verifyManifest(path.join(s.out("a"), "manifest.json"), { small: s.folder })).outputs[0]!.detail,
    ).toMatch(/not the file that the job wrote/);
  });
});
