import fs from "node:fs";
import path from "node:path";
import { afterEach, beforeEach, describe, expect, it } from "@jest/globals";
import { archiveJob, readArchive } from "./archive.js";
import { FileNames } from "../outputs/naming.js";
import { namingSchema } from "../sandbox/naming-schema.js";
import { diffJobs } from "../diff-jobs/then-and-now.js";
import { verifyManifest } from "./verify.js";
import { writeFieldDefinition, writeSmallField } from "../testing/small-field.js";
import { runNames, runScript, smallStudy, type SmallStudy } from "../testing/index.js";

let s: SmallStudy;
beforeEach(() => void (s = smallStudy()));
afterEach(() => s.remove());

const HEAD = `const runs = study("small").runs;
const t = runs.map((run) => run.table("hall.csv"));
const rows = t.rows((x, run) => ({ fan: run.params.fan, peak: x.max("T") }));
`;
const run = (body: string, name = "a", more = {}): ReturnType<typeof runScript> =>
  runScript(s, HEAD + body, { outFolder: s.out(name), ...more });
const under = (folder: string): string[] =>
  fs
    .readdirSync(folder, { recursive: true, withFileTypes: true })
    .filter((f) => f.isFile())
    .map((f) => path.relative(folder, path.join(f.parentPath, f.name)))
    .sort();
const own = ["index.html", "manifest.json", "outputs.json"];

describe("names of files", () => {
  it("follow the script's rule, by study, output, run and parameter", async () => {
    await run(`emit.naming({ file: "{study}-{output}", each: "{output} fan {fan} {kind} ({run})", folders: "run" });
emit.table("T", t, { layout: "each" }); emit.table("peaks", rows);`);
    expect(under(s.out("a"))).toEqual(
      [
        ...own,
        "small-peaks.csv",
        ...["050_d1", "050_d2", "100_d1", "100_d2"].map((r) => `f${r}/T-fan-${Number(r.slice(0, 3))}-narrow-f${r}.csv`),
        ...["050_d3", "100_d3"].map((r) => `f${r}/T-fan-${Number(r.slice(0, 3))}-wide-f${r}.csv`),
      ].sort(),
    );
    const v = await verifyManifest(path.join(s.out("a"), "manifest.json"), { small: s.folder });
    expect([v.same, v.notes]).toEqual([true, []]);
  });
  it("go into a folder for each output if asked", async () => {
    await run(
      `emit.naming({ folders: "output" }); emit.table("the peaks", rows); emit.value("most", rows.max("peak"));`,
    );
    expect(under(s.out("a"))).toEqual([...own, "most/most.json", "the-peaks/the-peaks.csv"].sort());
  });
  it("are refused where two would be the same", async () => {
    const r = await run(`emit.naming({ file: "same" }); emit.table("a", rows); emit.table("b", rows);`);
    expect(r.errors.join()).toContain('the outputs "a" and "b" would have the same file name same.csv');
    expect(fs.existsSync(s.out("a"))).toBe(false);
  });
  it("are refused where the rule asks for what a file does not have", () => {
    const names = (rule: object): FileNames =>
      new FileNames(namingSchema.parse(rule), ["small"], () => ({ fan: 50, kind: "wide" }));
    expect(() => names({ file: "{fan}" }).path("a")).toThrow(
      "there is no {fan} of a file that holds all runs; there is {study}, {output}",
    );
    expect(() => names({ each: "{wind}" }).path("a", { run: "r" })).toThrow("there is no {wind} here");
    expect(names({ each: "{output} {fan} {kind}" }).path("a", { run: "r" })).toBe("a-50-wide");
    expect(names({}).path("a", { frame: 3, title: "2 s" })).toBe("a-0003");
    expect(names({ each: "{output}-{time}" }).path("a", { frame: 3, title: "2 s" })).toBe("a-2-s");
    expect(namingSchema.safeParse({ folders: "deep" }).success).toBe(false);
    for (const name of ["../../x", "CON", "manifest", "index", "", "a/b\\c:d*e", "x".repeat(500)])
      expect(names({}).path(name)).toMatch(/^[\p{L}\p{N}_-][\p{L}\p{N}._-]{0,130}$/u);
  });
  it("stay within the folder, whatever the rule and the parameters are", async () => {
    fs.writeFileSync(path.join(s.folder, "runs/f050_d1/case.json"), JSON.stringify({ fan: 50, kind: "../../../x" }));
    await run(
      `emit.naming({ file: "../../{output}", each: "/etc/{kind}/{run}", folders: "run" }); ` +
        `emit.table("a", t, { layout: "each" }); emit.table("b", rows);`,
    );
    for (const f of under(s.out("a"))) expect(f.split("/")).not.toContain("..");
    expect(under(s.out("a")).filter((f) => f.endsWith(".csv"))).toHaveLength(7);
    expect(fs.existsSync(path.join(s.out("a"), "../b.csv"))).toBe(false);
  });
});

describe("what lies beside the outputs", () => {
  it("lists them for programs and for people", async () => {
    await run(
      `emit.table("peaks <b>", rows, { formats: ["csv", "json"] }); emit.check("cool", rows.max("peak"), { below: "100 K" });`,
    );
    const list = JSON.parse(fs.readFileSync(path.join(s.out("a"), "outputs.json"), "utf8")) as {
      outputs: { name: string; kind: string; rows?: number; verdict?: string; files: { file: string }[] }[];
    };
    expect(list.outputs.map((o) => [o.name, o.kind, o.rows, o.verdict, o.files.map((f) => f.file)])).toEqual([
      ["peaks <b>", "table", 6, undefined, ["peaks-b.csv", "peaks-b.json"]],
      ["cool", "check", undefined, "failed", ["cool.json"]],
    ]);
    const page = fs.readFileSync(path.join(s.out("a"), "index.html"), "utf8");
    expect(page).toContain('href="peaks-b.csv"');
    expect(page).not.toContain("<b>");
  });
});

describe("a report", () => {
  const REPORT = `emit.chart("air", chart.lines(t, { x: "time", y: "T" }), { formats: ["svg"] });
emit.table("peaks", rows); emit.value("most", rows.max("peak")); emit.check("cool", rows.max("peak"), { below: "200 K" });
emit.report("all", { title: "Doors", notes: \`
  # Findings
  The most is **{{most}}**, check: {{cool}}.

  {{air}}
\` });`;
  it("gathers outputs, values by name, checks, runs, what was left out and where it comes from", async () => {
    fs.writeFileSync(path.join(s.folder, "runs/f100_d3/hall.csv"), "nothing\n");
    const r = await run(REPORT);
    expect(r.output("all").failed).toBeUndefined();
    const html = fs.readFileSync(path.join(s.out("a"), "all.html"), "utf8");
    expect(html).toContain("<strong>102 K</strong>");
    expect(html).toMatch(/check: undecided/);
    for (const words of ["<svg", "f050_d2", "Excluded runs", "hall.csv", "SHA-256", "emit.report(", "200 K"])
      expect(html).toContain(words);
    // The chart stands where the notes put it, and once.
    expect(html.match(/<svg/g)).toHaveLength(1);
    expect(html.indexOf("<svg")).toBeLessThan(html.lastIndexOf(">Outputs<"));
    expect(
      fs
        .readFileSync(path.join(s.out("a"), "all.pdf"))
        .subarray(0, 5)
        .toString(),
    ).toBe("%PDF-");
  });
  it("has the same bytes each time, with any number of workers", async () => {
    await run(REPORT);
    await run(REPORT, "b", { workers: 1, cache: false });
    for (const f of ["all.html", "all.pdf", "manifest.json"])
      expect(fs.readFileSync(path.join(s.out("a"), f)).equals(fs.readFileSync(path.join(s.out("b"), f)))).toBe(true);
    expect(diffJobs(s.out("a"), s.out("b"), { absolute: 0, relative: 0 }).verdict).toBe("same bytes");
  });
  it("says which output its notes name that is not there; the rest is made", async () => {
    const r = await run(`emit.value("most", rows.max("peak")); emit.report("all", { notes: "It is {{mots}}." });`);
    expect(r.output("all").failed).toBe('report: there is no output "mots"; did you mean "most"');
    expect(r.output("most").files).toHaveLength(1);
  });
});

describe("an archive", () => {
  it("holds script, definitions, manifest and outputs, and runs again to the same bytes", async () => {
    fs.writeFileSync(
      path.join(s.folder, "oxtrum.study.json"),
      JSON.stringify({ oxtrum: 1, runs: { case: "case.json" }, names: { door: ["kind"] } }),
    );
    await run(
      `const limit = input("limit", q("1 K")); emit.table("peaks", rows); emit.check("cool", rows.max("peak"), { below: limit });`,
      "a",
      { inputs: { limit: "60 K" }, runs: "fan=50" },
    );
    const zip = archiveJob(s.out("a"));
    expect(Buffer.from(archiveJob(s.out("a"))).equals(Buffer.from(zip))).toBe(true);
    const file = path.join(s.data, "job.zip");
    fs.writeFileSync(file, zip);
    const a = readArchive(file);
    expect([a.main, a.inputs, a.runs, a.studies.map((x) => x.name)]).toEqual([
      "main.ts",
      { limit: "60 K" },
      "fan=50",
      ["small"],
    ]);
    const definition = path.join(s.data, "definition.json");
    fs.writeFileSync(definition, JSON.stringify(a.studies[0]!.definition));
    fs.rmSync(path.join(s.folder, "oxtrum.study.json"));
    await runScript(s, "", {
      files: { ...a.files },
      main: a.main,
      inputs: { ...a.inputs },
      runs: a.runs!,
      studies: [{ name: "small", folder: s.folder, definitionFile: definition }],
      outFolder: s.out("b"),
      asUsers: true,
    });
    expect(Buffer.from(archiveJob(s.out("b"))).equals(Buffer.from(zip))).toBe(true);
  });
  it("says what is wrong with a file that is none", () => {
    const file = path.join(s.data, "x.zip");
    fs.mkdirSync(s.data, { recursive: true });
    for (const content of [
      Buffer.from("no archive"),
      Buffer.alloc(0),
      Buffer.from("PK\x05\x06".padEnd(22, "\0"), "latin1"),
    ]) {
      fs.writeFileSync(file, content);
      expect(() => readArchive(file)).toThrow(/^x\.zip/);
    }
  });
});

describe("the house style", () => {
  it("goes into every chart, into the manifest, and stands back where the script says otherwise", async () => {
    const script =
      `emit.chart("a", chart.lines(t, { x: "time", y: "T" }), { formats: ["svg"] }); emit.chart("b", ` +
      `chart.lines(t, { x: "time", y: "T", theme: "screen" }), { formats: ["svg"] });`;
    await run(script, "a", { style: { lineWidth: 5, theme: "print", colors: ["#112233"] } });
    await run(script, "b");
    const [a, b, plain] = [
      ["a", "a"],
      ["a", "b"],
      ["b", "a"],
    ].map(([f, n]) => fs.readFileSync(path.join(s.out(f!), `${n!}.svg`), "utf8")) as [string, string, string];
    expect([a, b, plain].map((x) => x.includes('stroke-width="5"'))).toEqual([true, true, false]);
    expect([a, b, plain].map((x) => x.includes('fill="#000000"') || x.includes('fill="black"'))).toEqual([
      true,
      false,
      false,
    ]);
    expect(fs.readFileSync(path.join(s.out("a"), "manifest.json"), "utf8")).toContain('"lineWidth": 5');
    expect((await verifyManifest(path.join(s.out("a"), "manifest.json"), { small: s.folder })).same).toBe(true);
  });
});

describe("pictures of fields", () => {
  it("show planes, patches and times of runs, and say what is not there", async () => {
    for (const r of runNames) writeSmallField(s, r);
    writeFieldDefinition(s);
    const r = await runScript(
      s,
      `import { at, picture } from "oxtrum";
const runs = study("small").runs;
const cut = runs.map((run) => run.field("fields/f").at("last").surface(at.plane({ y: 0.5 }), { color: "T", vectors: "U" }));
emit.table("view", cut.get("f050_d1"));
emit.picture("all", picture.panels(cut, { contours: 3, arrows: true, size: [240, 160], resolution: 96 }), { formats: ["png", "pdf"] });
emit.picture("skin", picture.panels(
  runs.map((run) => run.field("fields/f").at("first").surface(at.all(), { color: "T" })).get("f100_d1"), { camera: "isometric", size: [240, 160], resolution: 96 }));
emit.picture("times", picture.frames(["0 s", "10 s"].map((time) =>
  runs.map((run) => run.field("fields/f").at({ time }).surface(at.plane({ x: 1 }), { color: "T" })).get("f100_d1")), { titles: ["0 s", "10 s"], size: [240, 160], resolution: 96 }), { formats: ["png", "apng"] });
emit.picture("still", picture.panels(cut), { formats: ["apng"] });`,
      { outFolder: s.out("a") },
    );
    expect(r.errors).toEqual([]);
    const failed = Object.fromEntries(r.outputs.flatMap((o) => (o.failed === undefined ? [] : [[o.name, o.failed]])));
    expect(failed["still"]).toContain("a picture of panels does not move");
    expect(Object.keys(failed)).toEqual(["still"]);
    expect(under(s.out("a")).filter((f) => f.startsWith("times"))).toEqual([
      "times-0001.png",
      "times-0002.png",
      "times.anim.png",
    ]);
    // T = 10 + 2x + 3·0.5 + 5z on the plane y = 0.5 of f050_d1 at 20 s: every corner is exact.
    const rows = fs
      .readFileSync(path.join(s.out("a"), "view.csv"), "utf8")
      .trim()
      .split("\n")
      .filter((l) => !l.startsWith("#"))
      .slice(1)
      .map((l) => l.split(",").map((v) => (v === "" ? Number.NaN : Number(v))));
    const corners = rows.filter((x) => x[0] === 0);
    expect(corners.length % 3).toBe(0);
    const off = corners.map(([, x, y, z, value]) => Math.abs(y! - 0.5) + Math.abs(value! - (11.5 + 2 * x! + 5 * z!)));
    expect(Math.max(...off)).toBeLessThan(1e-10);
    let area = 0;
    for (let k = 0; k < corners.length; k += 3)
      area +=
        Math.abs(
          (corners[k + 1]![1]! - corners[k]![1]!) * (corners[k + 2]![3]! - corners[k]![3]!) -
            (corners[k + 2]![1]! - corners[k]![1]!) * (corners[k + 1]![3]! - corners[k]![3]!),
        ) / 2;
    expect(area).toBeCloseTo(2, 10);
    const grid = rows.filter((x) => x[0] === 3);
    for (const [, x, , , , ux, uy, uz] of grid)
      expect([ux, uy, uz]).toEqual([x!, 1, 0].map((v) => expect.closeTo(v, 10)));
    const wrong = await runScript(
      s,
      `import { at, picture } from "oxtrum";
const cut = study("small").runs.map((run) => run.field("fields/f").at("last").surface(at.plane({ y: 0.5 }), { color: "T" }));
emit.picture("wrong", picture.panels(cut, { camera: "top" }));`,
    );
    expect(wrong.errors.join()).toContain('camera "top": there is "fromX+"');
    expect(r.output("all").inputs).toEqual(["small: fields/f"]);
  });
});
