import fs from "node:fs";
import path from "node:path";
import { afterEach, beforeEach, describe, expect, it } from "@jest/globals";
import { runScript, smallStudy, type SmallStudy } from "../testing/small-study.js";

let s: SmallStudy;
beforeEach(() => void (s = smallStudy()));
afterEach(() => s.remove());

const air = `const air = study("small").runs.map((run) => run.table("hall.csv"));\n`;
const csv = (folder: string, file: string): string[][] =>
  fs
    .readFileSync(path.join(s.out(folder), file), "utf8")
    .trim()
    .split("\n")
    .map((l) => l.split(","));
/** Rows of all runs: times in seconds, temperatures in K. */
function write(
  rows: readonly (readonly [number, number])[],
  other: (run: number) => { time: string; T: string; of: (t: number, T: number) => [number, number] },
): void {
  fs.readdirSync(path.join(s.folder, "runs")).forEach((run, k) => {
    const o = other(k);
    const text = [`time [${o.time}],T [${o.T}]`, ...rows.map(([t, T]) => o.of(t, T + k).join(","))].join("\n") + "\n";
    fs.writeFileSync(path.join(s.folder, "runs", run, "hall.csv"), text);
  });
}
const plain = { time: "s", T: "K", of: (t: number, T: number): [number, number] => [t, T] };
const minutes = { time: "min", T: "°C", of: (t: number, T: number): [number, number] => [t / 60, T - 273.15] };
const rows = Array.from({ length: 60 }, (_, i) => [12 * i, 280 + 5 * Math.sin(i / 7)] as const);

describe("units in one study", () => {
  it("a bound in min keeps the row in s that it names, in a window and in a condition", async () => {
    write(rows, () => plain);
    const r = await runScript(
      s,
      `${air}const a = air.get("f050_d1"); emit.value("w", a.window("time", ["0.2 min", "8.2 ` +
        `min"]).count("T")); emit.value("c", a.where("time >= 0.2 min and time <= 8.2 min").count("T")); ` +
        `emit.value("d", a.where("time < 8.2 min").count("T"));`,
      { outFolder: s.out("a") },
    );
    const value = (n: string): number => JSON.parse(fs.readFileSync(path.join(s.out("a"), `${n}.json`), "utf8")).value;
    expect(r.errors).toEqual([]);
    expect([value("w"), value("c"), value("d")]).toEqual([41, 41, 41]);
  });
  it("what is counted from an event given in min keeps the row of the event, and the row at the end", async () => {
    write(rows, () => plain);
    const r = await runScript(
      s,
      `${air}const a = air.get("f050_d1"); for (const [n, at] of [["a", "8.2 min"], ["b", "492 s"], ` +
        `["c", "0.2 min"]]) emit.table(n, a.since(q(at), { for: "2 min" }));`,
      { outFolder: s.out("a") },
    );
    expect(r.errors).toEqual([]);
    const times = (n: string): number[] =>
      fs
        .readFileSync(path.join(s.out("a"), `${n}.csv`), "utf8")
        .trim()
        .split("\n")
        .slice(1)
        .map((l) => Number(l.split(",")[0]));
    for (const n of ["a", "b", "c"]) {
      expect(times(n)).toHaveLength(11);
      times(n).forEach((t, i) => expect(t).toBeCloseTo(12 * i, 9));
    }
  });
  it("runs in s and K beside runs in min and °C give the wide table and the band of runs that are all alike", async () => {
    const script = `${air}emit.table("wide", air.wide("T")); emit.table("band", across(air, { on: "time" }));`;
    write(rows, () => plain);
    const a = await runScript(s, script, { outFolder: s.out("a") });
    write(rows, (k) => (k % 2 === 1 ? minutes : plain));
    const b = await runScript(s, script, { outFolder: s.out("b") });
    expect([a.errors, b.errors]).toEqual([[], []]);
    for (const file of ["wide.csv", "band.csv"]) {
      const [x, y] = [csv("a", file), csv("b", file)];
      expect(y.length).toBe(x.length);
      expect(y[0]).toEqual(x[0]);
      for (let i = 1; i < x.length; i++)
        x[i]!.forEach((c, k) => expect(Math.abs(Number(y[i]![k]) - Number(c))).toBeLessThan(1e-9));
    }
  });
});

describe("a spread of temperatures", () => {
  const noise = `const a = air.get("f050_d1"); const spread = a.std("T");\n`;
  it.each([
    ["a value in °C", `emit.value("x", spread.in("degC"));`, /a difference of temperatures and °C cannot be converted/],
    ["a limit in °C", `emit.check("x", spread, { below: "5 degC" });`, /°C cannot be converted into each other.*say K/],
    [
      "a limit in °C on a run's own",
      `emit.check("x", air.rows((t) => ({ s: t.std("T") })).max("s"), { below: "5 degC" });`,
      /say K/,
    ],
    ["a column in °F", `emit.table("x", across(air, { on: "time" }).to("T.std", "degF"));`, /T\.std.*say K/],
    ["a row in °C", `emit.table("x", air.rows((t) => ({ s: t.std("T").in("degC") })));`, /say K/],
  ])("never gets the zero of a scale: %s", async (_, body, message) => {
    write(rows, (k) => (k === 0 ? { ...minutes, time: "s", of: (t, T) => [t, T - 273.15] } : plain));
    const r = await runScript(s, air + noise + body);
    expect(r.exit).not.toBe(0);
    expect(JSON.stringify([r.errors, r.events])).toMatch(message);
  });
  it.each(["°C", "K", "°F"])(
    "the difference of two temperatures has none either, whatever their scale: %s",
    async (scale) => {
      const of = (t: number, T: number): [number, number] => [
        t,
        scale === "K" ? T : scale === "°C" ? T - 273.15 : T * 1.8 - 459.67,
      ];
      write(rows, () => ({ time: "s", T: scale, of }));
      const refused = async (body: string): Promise<void> => {
        const r = await runScript(s, `${air}const a = air.get("f050_d1");\n${body}`);
        expect(r.exit).not.toBe(0);
        expect(JSON.stringify([r.errors, r.events])).toMatch(/°C cannot be converted into each other.*say K/);
      };
      await refused(`emit.value("x", a.max("T").minus(a.min("T")).in("degC"));`);
      await refused(`emit.table("x", a.derive("d", "T - T0", { with: { T0: a.first("T") } }).to("d", "degC"));`);
      await refused(`emit.value("x", a.value("max(T) - min(T)").in("degC"));`);
      await refused(`emit.check("x", a.max("T").minus(a.mean("T")), { below: "5 degC" });`);
      const r = await runScript(
        s,
        `${air}const a = air.get("f050_d1"); emit.value("warmer", a.max("T").minus(a.min("T")).in("K")); ` +
          `emit.value("back", a.mean("T").minus(a.max("T").minus(a.mean("T"))).in("degC"));`,
        { outFolder: s.out("o") },
      );
      expect(r.errors).toEqual([]);
      const json = (n: string): { value: number; unit: string } =>
        JSON.parse(fs.readFileSync(path.join(s.out("o"), `${n}.json`), "utf8"));
      const T = rows.map((x) => x[1]);
      expect(json("warmer").value).toBeCloseTo(Math.max(...T) - Math.min(...T), 9);
      expect(json("warmer").unit).toBe("K");
      expect(json("back").unit).toBe("degC");
    },
  );
  it("is given in K, in files and to the script, whatever the scale of the temperatures", async () => {
    const script =
      `${air}${noise}emit.value("x", spread); emit.value("m", spread.in("mK")); emit.text("u", ` +
      `spread.unit()); emit.table("t", across(air, { on: "time" })); emit.table("r", air.rows((t) => ` +
      `({ s: t.std("T"), half: t.std("T").times(0.5), low: t.mean("T").minus(t.std("T")).in("K") })));`;
    const seen: number[][] = [];
    for (const scale of ["°C", "K", "°F"]) {
      const of = (t: number, T: number): [number, number] => [
        t,
        scale === "K" ? T : scale === "°C" ? T - 273.15 : T * 1.8 - 459.67,
      ];
      write(rows, () => ({ time: "s", T: scale, of }));
      const r = await runScript(s, script, { outFolder: s.out("o") });
      expect(r.errors).toEqual([]);
      const json = (n: string): { value: number; unit: string } =>
        JSON.parse(fs.readFileSync(path.join(s.out("o"), `${n}.json`), "utf8"));
      expect([json("x").unit, json("m").unit, fs.readFileSync(path.join(s.out("o"), "u.txt"), "utf8").trim()]).toEqual([
        "K",
        "mK",
        "K",
      ]);
      expect(csv("o", "t.csv")[0]!.filter((h) => h.startsWith("T.std"))).toEqual(["T.std [K]"]);
      expect(csv("o", "r.csv")[0]!.slice(-3)).toEqual(["s [K]", "half [K]", "low [K]"]);
      expect(fs.readFileSync(path.join(s.out("o"), "manifest.json"), "utf8")).not.toContain("Δ");
      seen.push([json("x").value, json("m").value / 1000, ...csv("o", "r.csv")[1]!.slice(-3).map(Number)]);
    }
    for (const other of seen.slice(1)) other.forEach((v, k) => expect(Math.abs(v - seen[0]![k]!)).toBeLessThan(1e-9));
  });
});

describe("a check on a value of a damaged file", () => {
  const check = (more = ""): string =>
    `${air}emit.check("warm", air.get("f050_d1").max("T"), { below: "400 K"${more} });`;
  it("is undecided and says why, unless it is told to judge all the same", async () => {
    write(rows, () => plain);
    expect((await runScript(s, check())).output("warm").verdict).toBe("passed");
    const file = path.join(s.folder, "runs/f050_d1/hall.csv");
    fs.writeFileSync(file, fs.readFileSync(file, "utf8").replace("\n12,", "\n12\n12,"));
    const r = await runScript(s, check());
    expect([r.output("warm").verdict, r.exit]).toEqual(["undecided", 3]);
    expect(r.output("warm").notes.join()).toMatch(/hall\.csv: 1 row is damaged/);
    expect((await runScript(s, check(', conditions: "allow"'))).output("warm").verdict).toBe("passed");
  });
});

describe("a run whose column cannot be converted to that of the others", () => {
  const head = `const t = study("small").runs.map((run) => run.table("hall.csv"));\n`;
  it.each([
    ["stacked", `emit.table("x", t.stack());`],
    ["side by side", `emit.table("x", t.wide("T"));`],
    ["across runs", `emit.table("x", across(t, { on: "time", columns: ["T"] }));`],
    ["in a chart", `emit.chart("x", chart.lines(t, { x: "time", y: "T" }));`],
    ["as a row", `emit.table("x", t.rows((x) => ({ peak: x.max("T") })));`],
  ])("is excluded alone, with column, units and cure: %s", async (_, body) => {
    const rows = Array.from({ length: 101 }, (__, k) => `${k},${k},2`).join("\n");
    fs.writeFileSync(path.join(s.folder, "runs/f050_d1/hall.csv"), `time [s],T [Pa],p [Pa]\n${rows}\n`);
    fs.writeFileSync(path.join(s.folder, "runs/f050_d3/hall.csv"), `time [s],T,p [Pa]\n${rows}\n`);
    const r = await runScript(s, head + body);
    expect([r.errors, r.exit]).toEqual([[], 2]);
    expect(r.output("x").left.map((l) => [l.run, l.reason])).toEqual([
      [
        "f050_d1",
        expect.stringMatching(/^column "(T|peak)" is in Pa in this run and in K in 4 others, .*correct its unit/),
      ],
      [
        "f050_d3",
        expect.stringMatching(
          /^column "(T|peak)" is without a unit in this run and in K in 4 others, .*say it with \.unit/,
        ),
      ],
    ]);
  });
});
