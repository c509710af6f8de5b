import fs from "node:fs";
import path from "node:path";
import { afterEach, beforeEach, describe, expect, it } from "@jest/globals";
import { showMesh } from "../index.js";
import { smallFieldStudy, writeLargeField, writeSmallField } from "../testing/small-field.js";
import { bytesOf, runNames, runScript, type SmallStudy } from "../testing/index.js";

let s: SmallStudy;
beforeEach(() => void (s = smallFieldStudy()));
afterEach(() => s.remove());

const csv = (name: string): Record<string, string>[] => {
  const [head, ...rows] = fs
    .readFileSync(path.join(s.out("a"), `${name}.csv`), "utf8")
    .trim()
    .split("\n");
  return rows.map((r) => Object.fromEntries(r.split(",").map((v, k) => [head!.split(",")[k]!, v])));
};
const run = (body: string, more = {}): ReturnType<typeof runScript> =>
  runScript(s, body, { outFolder: s.out("a"), ...more });
const at = 'import { at } from "oxtrum";\n';

describe("fields in scripts", () => {
  it("are sampled at a time, between times, and over all times, with units", async () => {
    const r = await run(`${at}const runs = study("small").runs;
const f = runs.map((run) => run.field("fields/f").at({ time: "10 s" })
  .sample(at.line([0, 0.5, 0.5], [2, 0.5, 0.5], { count: 3 }), ["T", "U.mag"]));
emit.table("line", f.get("f050_d1"));
emit.table("points", runs.rows((run) => ({
  end: run.field("fields/f").at("last").sample(at.point([1, 0.5, 0.5]), "T").first("T"),
  between: run.field("fields/f").at({ time: 12 }, { pick: "linear" }).sample(at.point([1, 0.5, 0.5]), "T").first("T"),
  near: run.field("fields/f").at({ time: "0.2 min" }, { pick: "nearest" }).sample(at.point([1, 0.5, 0.5]), "T").first("T"),
})));
emit.table("history", runs.map((run) => run.field("fields/f").window(["5 s", "20 s"])
  .history(at.points([[0, 0, 0], [2, 1, 1]], { names: ["a", "b"] }), "T")).get("f100_d1"));
emit.table("flow", runs.map((run) => run.field("fields/f")
  .history(at.plane({ x: 1 }), { T: { mean: "T" }, q: { flux: "U" } })).get("f100_d2"));
emit.table("times", runs.map((run) => run.field("fields/f").times()).get("f100_d2"));`);
    expect(r.errors).toEqual([]);
    expect(r.exit).toBe(0);
    expect(csv("line").map((x) => [x["distance [m]"], x["T [K]"], x["U.mag [m/s]"]])).toEqual([
      ["0", "9", "1"],
      ["1", "11", "1.4142135623730951"],
      ["2", "13", String(Math.hypot(2, 1))],
    ]);
    expect(csv("points").find((x) => x["run"] === "f100_d3")).toMatchObject({
      "end [K]": "26",
      "between [K]": "18",
      "near [K]": "16",
    });
    expect(csv("history")).toEqual([
      { "time [s]": "10", "T@a [K]": "10", "T@b [K]": "22" },
      { "time [s]": "20", "T@a [K]": "20", "T@b [K]": "32" },
    ]);
    expect(
      csv("flow").map((x) => [x["T [K]"], x["q [m^3/s]"]].map(Number).map((v) => Math.round(v * 1e9) / 1e9)),
    ).toEqual([
      [6, 1],
      [16, 1],
      [26, 1],
    ]);
    expect(csv("times").map((x) => x["time [s]"])).toEqual(["0", "10", "20"]);
  });

  it("formulas, patches of several files, and whole blocks", async () => {
    const r =
      await run(`${at}const one = study("small").runs.map((run) => run.field("walls/*.stl").reduce(at.patch("flo*"), { area: { size: true } })).get("f050_d1");
emit.table("area", one);
emit.table("all", study("small").runs.rows((run) => {
  const f = run.field("fields/f").at("first").derive("dT", "T - T0", { with: { T0: "1 K" } });
  const t = f.reduce(at.all(), { mean: { mean: "dT" }, high: { max: "dT" }, v: { size: true } });
  return { mean: t.first("mean"), high: t.first("high"), v: t.first("v") };
}));`);
    expect(r.errors).toEqual([]);
    expect(csv("area")[0]).toEqual({ "area [m^2]": "2" });
    expect(Number(csv("all")[0]!["mean [K]"])).toBeCloseTo(5, 12);
    expect(csv("all")[0]!["high [K]"]).toBe("11");
    expect(Number(csv("all")[0]!["v [m^3]"])).toBeCloseTo(2, 12);
  });

  it("sites of every kind, options, statistics over time and derivatives", async () => {
    fs.writeFileSync(
      path.join(s.folder, "places.csv"),
      "name,z [mm],x [mm],y [mm]\nlow,0,500,500\nhigh,1000,1500,500\nout,0,9000,0\n",
    );
    const r = await run(`${at}const small = study("small");
const f = small.runs.map((run) => run.field("fields/f")).get("f100_d1").at("last");
const places = at.points(small.table("places.csv"));
emit.table("places", f.sample(places, ["T", "U"]), { formats: ["csv", "vtp", "vtu"] });
emit.table("near", f.sample(at.point([0.1, 0.1, 0.1]), "T", { method: "nearest" }));
emit.table("order", f.sample(at.line([2, 0.5, 0.5], [0, 0.5, 0.5], { step: 0.5 }), ["T", "U.along"], { axis: "x" }));
emit.table("many", f.reduce(at.stations({
  along: { through: [[0.1, 0.5, 0.5], [1.9, 0.5, 0.5]] }, from: 0, to: 1.8, count: 3, bounds: { z: [0, 0.5] } }), {
  A: { size: true }, T: { mean: "T" }, hot: { max: "T", place: true },
}));
emit.table("line", f.derive("fill", "25 - T / T1", { with: { T1: "1 K" } })
  .reduce(at.column([0.5, 0.5], { count: 11 }), { T: { mean: "T" }, level: { level: "fill" } }));
emit.table("iso", f.reduce(at.iso("T", "25 K"), { T: { mean: "T" } }));
emit.table("node", f.sample(at.node([6]), "T"));
emit.table("slope", f.gradient("T").divergence("U").sample(at.point([1, 0.5, 0.5]), ["T.gradient", "U.divergence"]));
const all = small.runs.map((run) => run.field("fields/f")).get("f100_d1");
emit.table("over", all.overTime(at.point([1, 0.5, 0.5]), "T", { show: ["mean", "max", "timeOfMax"] }));
emit.table("chosen", all.history(at.point([1, 0.5, 0.5]), "T", { times: ["20 s", 0] }));
emit.table("blocks", small.runs.map((run) => run.field("walls/*.stl").patches()).get("f100_d1"));`);
    expect(r.errors).toEqual([]);
    expect(r.summary.left).toEqual([]);
    expect(r.outputs.flatMap((o) => o.failed ?? [])).toEqual([]);
    const one = (name: string, row = 0): (number | string)[] =>
      Object.values(csv(name)[row]!).map((v) =>
        v === "" || Number.isNaN(Number(v)) ? v : Math.round(Number(v) * 1e9) / 1e9,
      );
    expect([0, 1, 2].map((k) => one("places", k).slice(0, 5))).toEqual([
      ["low", 0.5, 0.5, 0, 22.5],
      ["high", 1.5, 0.5, 1, 29.5],
      ["out", 9, 0, 0, ""],
    ]);
    expect(one("near")[3]).toBe(20);
    expect(csv("order").map((x) => [x["x [m]"], x["T [K]"], x["U.along [m/s]"]])).toEqual([
      ["0", "24", "0"],
      ["0.5", "25", "-0.5"],
      ["1", "26", "-1"],
      ["1.5", "27", "-1.5"],
      ["2", "28", "-2"],
    ]);
    expect([0, 1, 2].map((k) => one("many", k))).toEqual(
      [
        [0, 0.5, 22.95, 24.2 + 1.5, 0.1, 1, 0.5],
        [0.9, 0.5, 24.75, 27.5, 1, 1, 0.5],
        [1.8, 0.5, 26.55, 29.3, 1.9, 1, 0.5],
      ].map((row) => row.map((v) => expect.closeTo(v, 8))),
    );
    expect(one("line")).toEqual([25, 0.4]);
    expect(one("iso")).toEqual([25]);
    expect(one("node").slice(-1)).toEqual([32]);
    expect(one("slope").slice(-5)).toEqual([2, 3, 5, expect.closeTo(Math.sqrt(38), 8), 1]);
    expect(one("over").slice(-3)).toEqual([16, 26, 20]);
    expect(csv("chosen").map((x) => x["T [K]"])).toEqual(["6", "26"]);
    expect(csv("blocks")).toEqual(
      ["floor", "roof"].map((b) => ({
        block: b,
        "dimension [1]": "2",
        "cells [1]": "2",
        "points [1]": "4",
        "length [m]": "",
        "area [m^2]": "2",
        "volume [m^3]": "",
      })),
    );
    // What was written reads back as the points that it was.
    for (const kind of ["vtp", "vtu"]) {
      const back = showMesh(path.join(s.out("a"), `places.${kind}`), true);
      expect([back.points, back.fields.map((q) => [q.name, q.unit])]).toEqual([
        3,
        [
          ["T", "K"],
          ["U", "m/s"],
          ["U.mag", "m/s"],
        ],
      ]);
    }
  });

  it("aliases of the definition hold for patches as for fields", async () => {
    fs.writeFileSync(
      path.join(s.folder, "oxtrum.study.json"),
      JSON.stringify({
        oxtrum: 1,
        runs: { case: "case.json" },
        names: { ground: ["floor"], warmth: ["T"] },
        units: { fields: { x: "m", time: "s" } },
      }),
    );
    const r = await run(`${at}const one = study("small").runs.map((run) => run);
emit.table("ground", one.get("f050_d1").field("walls/*.stl").reduce(at.patch("ground"), { area: { size: true } }));
emit.table("warmth", one.get("f050_d1").field("fields/f").at("last").sample(at.point([1, 0.5, 0.5]), "warmth"));`);
    expect([r.errors, r.outputs.flatMap((o) => o.failed ?? [])]).toEqual([[], []]);
    expect(csv("ground")).toEqual([{ "area [m^2]": "2" }]);
    expect(csv("warmth")[0]!["warmth [K]"]).toBe("16");
  });

  it("wrong names, vectors, times and patches are refused before anything is read", async () => {
    const wrong = async (call: string): Promise<string> =>
      (
        await run(
          `// @ts-nocheck\n${at}emit.table("a", study("small").runs.map((run) => run.field("fields/f")${call}));`.replace(
            "// @ts-nocheck\n",
            "",
          ),
          { asUsers: true },
        )
      ).errors[0]!;
    expect(await wrong('.at("last").sample(at.point([0, 0, 0]), ["Temp"])')).toMatch(
      /"Temp" is not found in any run.*Did you mean "T"/,
    );
    expect(await wrong('.at("last").reduce(at.all(), { m: { mean: "U" as string } })')).toMatch(/"U" is a vector/);
    expect(await wrong('.sample(at.point([0, 0, 0]), "T")')).toMatch(/has 3 times: choose one/);
    expect(await wrong('.at("last").reduce(at.patch("door"), { a: { size: true } })')).toMatch(
      /no patch or block "door"/,
    );
    expect(
      await wrong('.at("last").reduce(at.stations({ along: "x", from: 0, to: 1, count: 1e7 }), { a: { size: true } })'),
    ).toMatch(/count|100000/);
    expect(await wrong('.at("last").sample(at.line([0, 0, 0], [1, 0, 0], { count: 1e9 }), "T")')).toMatch(
      /count|10000000/,
    );
    const none = await run(
      `${at}emit.table("a", study("small").runs.map((run) => run.field("fields/f").at({ time: 7 }).sample(at.point([0, 0, 0]), "T")));`,
    );
    expect(none.errors[0]).toMatch(/there is no time 7; there is 0, 10, 20/);
  });

  it("a cut-off file leaves its run out of what needs that time only, by file", async () => {
    writeSmallField(s, "f050_d2", true);
    const r = await run(`${at}const runs = study("small").runs;
emit.table("ten", runs.rows((run) => ({ T: run.field("fields/f").at({ time: 10 }).sample(at.point([1, 0.5, 0.5]), "T").first("T") })));
emit.table("end", runs.rows((run) => ({ T: run.field("fields/f").at("last").sample(at.point([1, 0.5, 0.5]), "T").first("T") })));`);
    expect(r.exit).toBe(2);
    expect(r.output("ten").left).toEqual([expect.objectContaining({ run: "f050_d2", file: "fields/f10.vtu" })]);
    expect([r.output("ten").rows, r.output("end").rows]).toEqual([5, 6]);
  });

  it("a time that cannot be read is a gap with a reason where the script allows it, and leaves a check undecided", async () => {
    writeSmallField(s, "f050_d2", true);
    const r = await run(`${at}const runs = study("small").runs;
const h = runs.map((run) => run.field("fields/f").history(at.point([0, 0, 0]), "T", { gaps: "allow" }));
emit.table("gap", h.get("f050_d2"));
emit.table("strict", runs.map((run) => run.field("fields/f").history(at.point([0, 0, 0]), "T")).rows((t) => ({ T: t.max("T") })));
emit.table("over", runs.map((run) => run.field("fields/f")
  .overTime(at.point([0, 0, 0]), "T", { show: ["max"], gaps: "allow" })).get("f050_d2"));
emit.check("cold", h.get("f050_d2").max("T"), { below: "100 K" });`);
    expect(r.errors).toEqual([]);
    expect(csv("gap").map((x) => x["T [K]"])).toEqual(["0", "", "10"]);
    expect(r.output("gap").conditions!.map((c) => [c.run, c.kind, c.text])).toEqual([
      ["f050_d2", "gap", expect.stringMatching(/^time 10 is missing: fields\/f10\.vtu: /)],
    ]);
    expect(r.output("strict").left.map((l) => l.run)).toEqual(["f050_d2"]);
    expect(csv("over")[0]!["T.max [K]"]).toBe("10");
    expect(r.output("cold").verdict).toBe("undecided");
  });

  it("a probe in a large file knows it by the blocks that it read; what it did not read may change", async () => {
    for (const run of runNames) writeLargeField(s, run, 20);
    const body = (z: number): string =>
      `${at}emit.table("a", study("small").runs.map((run) => run.field("large/big").sample(at.point([0.7, 0.4, ${z}]), "T")));`;
    const values = (): string[] => csv("a").map((x) => Number(x["T [K]"]).toFixed(9));
    const manifest = (): { files: { path: string; size: number; blocks?: number; sha256: string }[] } =>
      JSON.parse(fs.readFileSync(path.join(s.out("a"), "manifest.json"), "utf8")) as never;
    await run(body(0.3), { workers: 1, cache: false });
    expect(values()).toEqual(runNames.map(() => "24.100000000"));
    const files = manifest().files.filter((f) => f.path.endsWith("big.vtu"));
    expect(files.map((f) => f.blocks)).toEqual(runNames.map(() => 1));
    const bytes = bytesOf(s.out("a"));
    await run(body(0.3), { workers: 2 });
    expect(bytesOf(s.out("a"))).toEqual(bytes);
    // Padding is not what was read: the same manifest. What was read is.
    writeLargeField(s, "f100_d1", 20, 9);
    await run(body(0.3));
    expect(bytesOf(s.out("a"))).toEqual(bytes);
    writeLargeField(s, "f100_d1", 25, 9);
    await run(body(0.3));
    expect(values()[3]).toBe("29.100000000");
    expect(bytesOf(s.out("a"))).not.toEqual(bytes);
    // On a face of the mesh the whole of it decides: the file is known by all its bytes.
    await run(body(1));
    expect(
      manifest()
        .files.filter((f) => f.path.endsWith("big.vtu"))
        .map((f) => f.blocks),
    ).toEqual(runNames.map(() => undefined));
  });

  it("the same bytes with one worker or two, from the cache, and not after a change", async () => {
    const body = `${at}emit.table("a", study("small").runs.map((run) => run.field("fields/f").history(at.all(), { T: { mean: "T" } })));`;
    await run(body, { workers: 1, cache: false });
    const cold = bytesOf(s.out("a"));
    await run(body, { workers: 2 });
    const warm = await run(body, { workers: 2 });
    expect(warm.summary.cellsCached).toBeGreaterThan(0);
    expect(bytesOf(s.out("a"))).toEqual(cold);
    const file = path.join(s.folder, "runs/f100_d3/fields/f20.vtu");
    fs.writeFileSync(file, fs.readFileSync(file, "utf8").replace("20 24", "21 24"));
    await run(body);
    expect(bytesOf(s.out("a"))).not.toEqual(cold);
  });
});
