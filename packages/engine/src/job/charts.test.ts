import fs from "node:fs";
import path from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "@jest/globals";
import type { ChartDescription } from "@oxtrum/core/charts";
import { runScript, smallStudy, type SmallStudy } from "../testing/small-study.js";
import { unpackValue } from "../store/serialize.js";

let s: SmallStudy;

const HEAD = `const runs = study("small").runs;
const t = runs.map((run) => run.table("hall.csv"));
const rows = t.rows((x, run) => ({ fan: run.params.fan, door: run.params.door, kind: run.params.kind, peak: x.max("T"), least: x.min("T"), p: x.max("p") }));
`;
/** All charts of these tests, drawn by one job. */
const CHARTS: Readonly<Record<string, string>> = {
  d: `chart.lines(t, { x: "time", y: "T", color: "door", colors: "categorical" })`,
  ramp: `chart.lines(t, { x: "time", y: "T", color: "kind", colors: "sequential" })`,
  two:
    `chart.lines(t.get("f050_d1"), { x: "time", y: ["T", "p"], marks: [{ y: "0 degC", text: "ice" }, ` +
    `{ x: ["0.5 min", "1 min"] }, { right: "1 kPa" }] })`,
  c: `chart.linePoints(rows, { x: "door", y: "peak", color: "kind", dash: "fan" })`,
  h: `chart.histogram(t, { x: "T", width: "10 K", color: "fan" })`,
  b: `chart.box(t, { x: "door", y: "T" })`,
  m: `chart.heat(rows, { x: "door", y: "fan", z: "peak" })`,
  c2: `chart.parity(rows, { x: "least", y: "peak", within: "10 %" })`,
  p: `chart.lines(t, { x: "time", y: "T", panels: "fan", color: "door", columns: 2 })`,
  q: `chart.lines(t.get("f050_d1"), { y: ["T", "p"], panels: "quantities" })`,
  w: `chart.lines(t.get("f050_d1"), { x: "time", y: "T", extremes: "both" })`,
  e: `chart.errorBars(rows, { x: "door", y: "peak", lower: "least", upper: "peak" })`,
  many: `chart.lines(t, { x: "time", y: ["T", "p"] })`,
  named:
    `chart.layers([chart.lines(t.get("f050_d1"), { x: "time", y: ["T", "p"], name: "hall" }), ` +
    `chart.lines(t.get("f050_d2"), { x: "time", y: "T", name: "hall · T [K]" })])`,
  r: `chart.residuals(runs.map((run) => run.lines("solver.log").read("Time = {time:s} s", "residual {r}")).get("f050_d1"))`,
};
let drawn: Record<string, ChartDescription>;
beforeAll(async () => {
  s = smallStudy();
  const views = path.join(s.data, "views");
  const body = Object.entries(CHARTS).map(([n, c]) => `emit.chart(${JSON.stringify(n)}, ${c}, { formats: ["csv"] });`);
  const r = await runScript(s, HEAD + body.join("\n"), { outFolder: s.out("a"), viewFolder: views });
  expect([r.errors, r.outputs.filter((o) => o.failed !== undefined).map((o) => `${o.name}: ${o.failed}`)]).toEqual([
    [],
    [],
  ]);
  drawn = Object.fromEntries(
    Object.keys(CHARTS).map((n) => [
      n,
      (unpackValue(fs.readFileSync(path.join(views, `${n}.value`))) as { chart: ChartDescription }).chart,
    ]),
  );
});
afterAll(() => s.remove());

const csv = (name: string): string[] =>
  fs
    .readFileSync(path.join(s.out("a"), `${name}.csv`), "utf8")
    .trim()
    .split("\n")
    .filter((l) => !l.startsWith("#"));
describe("charts", () => {
  it("put like quantities on one axis and the other kind on the second", async () => {
    const { two } = drawn;
    expect([two!.y.unit, two!.right?.unit, two!.series.map((x) => x.axis)]).toEqual(["K", "Pa", ["left", "right"]]);
    expect(two!.marks).toEqual([{ y: 273.15, text: "ice" }, { x: [30, 60] }, { y: 1000, axis: "right" }]);
  });
  it("of several runs and columns: the colour is the run, the dash is the column, and legends name both with units", () => {
    const { series } = drawn["many"]!;
    expect(series.slice(0, 4).map((x) => [x.legend, x.color, x.dash])).toEqual([
      ["f050_d1 · T [K]", { palette: 0 }, 0],
      ["f050_d1 · p [Pa]", { palette: 0 }, 1],
      ["f050_d2 · T [K]", { palette: 1 }, 0],
      ["f050_d2 · p [Pa]", { palette: 1 }, 1],
    ]);
    expect(new Set(series.map((x) => x.legend)).size).toBe(12);
  });
  it("a layer's name hides no other series", () => {
    expect(drawn["named"]!.series.map((x) => x.legend)).toEqual(["hall · T [K]", "hall · p [Pa]", "hall · T [K] (2)"]);
  });
  it("numbers of a chart state quantity and unit of each series", () => {
    const [head, ...rows] = csv("many");
    expect(head).toBe("series,quantity,unit,time [s],value");
    expect(rows[0]).toBe("f050_d1 · T [K],T,K,0,1");
    expect(rows.find((l) => l.startsWith("f050_d1 · p"))).toBe("f050_d1 · p [Pa],p,Pa,0,1");
    expect(csv("d")[0]).toBe("series,quantity,unit,time [s],T [K]");
  });
  it("tell rows of one table apart by its columns", async () => {
    const { c } = drawn;
    expect(c!.series.map((x) => [x.legend, x.kind, Array.from(x.x), Array.from(x.y)])).toEqual([
      ["kind narrow, fan 50 %", "linePoints", [1, 2], [51, 52]],
      ["kind wide, fan 50 %", "linePoints", [3], [53]],
      ["kind narrow, fan 100 %", "linePoints", [1, 2], [101, 102]],
      ["kind wide, fan 100 %", "linePoints", [3], [103]],
    ]);
    expect(new Set(c!.series.map((x) => JSON.stringify(x.color))).size).toBe(2);
    expect(drawn["d"]!.series.map((x) => x.color)).toEqual([0, 1, 2, 0, 1, 2].map((palette) => ({ palette })));
    expect(drawn["ramp"]!.series.map((x) => x.color)).toEqual([0, 0, 1, 0, 0, 1].map((ramp) => ({ ramp })));
  });
  it("count values in common bins, stacked by group", async () => {
    const { h } = drawn;
    const total = h!.series.map((x) => Array.from(x.y).reduce((a, b) => a + b, 0));
    expect([total, h!.series.map((x) => x.touching)]).toEqual([
      [303, 303],
      [true, true],
    ]);
    expect(Array.from(h!.series[0]!.x)).toEqual([5, 15, 25, 35, 45, 55, 65, 75, 85, 95, 105]);
    // T of fan 50 is time/2 + door: 18 of 101 values lie below 10 with door 1, 16 with 2, 14 with 3.
    expect(h!.series[0]!.y[0]).toBe(18 + 16 + 14);
  });
  it("spread values by quartiles, whiskers and what lies beyond", async () => {
    const { b } = drawn;
    expect(b!.x.categories).toEqual(["1", "2", "3"]);
    const box = b!.series[0]!.boxes![0]!;
    // T of doors 1: 1 + time/2 and 1 + time, time 0 to 100 in whole seconds.
    const all = [0.5, 1].flatMap((f) => Array.from({ length: 101 }, (_, k) => 1 + f * k)).sort((x, y) => x - y);
    const at = (p: number): number => {
      const h = 201 * p;
      const k = Math.floor(h);
      return all[k]! + (h - k) * ((all[k + 1] ?? 0) - all[k]!);
    };
    expect([box.q1, box.median, box.q3, box.low, box.high]).toEqual([at(0.25), at(0.5), at(0.75), 1, 101]);
    expect(box.beyond).toEqual([]);
  });
  it("colour cells, one row each", async () => {
    const { m } = drawn;
    expect([
      Array.from(m!.heat!.x),
      Array.from(m!.heat!.y),
      Array.from(m!.heat!.values),
      m!.heat!.min,
      m!.heat!.max,
    ]).toEqual([[1, 2, 3], [50, 100], [51, 52, 53, 101, 102, 103], 51, 103]);
    expect(csv("m")[0]).toBe("series,door [s],fan [%],value [K]");
  });
  it("hold one column against another, on equal axes", async () => {
    const { c2: c } = drawn;
    expect([c!.x.min, c!.x.max]).toEqual([c!.y.min, c!.y.max]);
    const [points, same, above, below] = c!.series;
    expect(Array.from(points!.y)).toEqual([51, 52, 53, 101, 102, 103]);
    expect(Array.from(same!.x)).toEqual(Array.from(same!.y));
    expect(above!.y[7]! / above!.x[7]!).toBeCloseTo(1.1, 12);
    expect([above!.legend, below!.legend]).toEqual(["± 10 %", "± 10 %"]);
  });
  it("make a panel a value, or a quantity, with common axes", async () => {
    const { p, q } = drawn;
    expect(p!.panels!.map((c) => [c.title, c.series.map((x) => x.run)])).toEqual([
      ["fan 50", ["f050_d1", "f050_d2", "f050_d3"]],
      ["fan 100", ["f100_d1", "f100_d2", "f100_d3"]],
    ]);
    expect(p!.panels![0]!.y).toEqual(p!.panels![1]!.y);
    expect(q!.panels!.map((c) => [c.title, c.y.unit, c.series.length])).toEqual([
      ["T", "K", 1],
      ["p", "Pa", 1],
    ]);
    expect(csv("p")).toHaveLength(1 + 6 * 101);
  });
  it("write extremes at their points, and error bars with their ends", async () => {
    const { w, e } = drawn;
    expect(w!.notes).toEqual([
      { series: 0, x: 100, y: 51, text: "51 K at 100 s" },
      { series: 0, x: 0, y: 1, text: "1 K at 0 s" },
    ]);
    expect([Array.from(e!.series[0]!.low!), Array.from(e!.series[0]!.high!)]).toEqual([
      [1, 2, 3, 1, 2, 3],
      [51, 52, 53, 101, 102, 103],
    ]);
  });
  it("draw residuals over a logarithmic axis", async () => {
    const { r } = drawn;
    expect([r!.y.scale, r!.y.title, Array.from(r!.series[0]!.y)]).toEqual(["log", "residual", [1e-3, 1e-5]]);
  });
  it("are refused before anything is read where they cannot be, line by line", async () => {
    const wrong: [string, string][] = [
      [`chart.lines(t, { x: "time", y: "T", color: "wind" as never })`, "wind"],
      [`chart.lines(t, { x: "time", y: "T", yRange: [5, 2] })`, "the second has to be larger"],
      [`chart.lines(t, { x: "time", y: "T", yScale: "log", yRange: [0, 2] })`, "a logarithmic axis cannot begin at 0"],
      [
        `chart.lines(t.get("f050_d1"), { x: "time", y: "T", marks: [{ x: 1, y: 2 }] })`,
        "a mark has one of x, y and right",
      ],
      [`chart.lines(t.get("f050_d1"), { x: "time", y: "T", marks: [{ right: 2 }] })`, "nothing is drawn there"],
      [`chart.bars(rows, { x: "door", y: "peak", swapAxes: true })`, "cannot be drawn with swapped axes"],
    ];
    const first = HEAD.split("\n").length + 1;
    const r = await runScript(s, HEAD + wrong.map(([c], k) => `emit.chart("c${k}", ${c});`).join("\n"), {
      asUsers: true,
    });
    wrong.forEach(([, why], k) =>
      expect(r.errors.filter((e) => e.startsWith(`main.ts:${first + k} `)).join()).toContain(why),
    );
  });
  it("are not made where the data do not fit, and say why", async () => {
    const r = await runScript(s, `${HEAD}emit.chart("c", chart.heat(rows, { x: "kind", y: "fan", z: "peak" }));`);
    expect(r.output("c").failed).toContain("rows 1 and 2 are for the same cell");
    const sizes = await runScript(
      s,
      `${HEAD}const c = { x: "time", y: "T" };
emit.chart("large", chart.lines(t, { ...c, size: [8000, 7000] }), { formats: ["png"] });
emit.chart("vectors", chart.lines(t, { ...c, size: [8000, 7000] }), { formats: ["pdf"] });
emit.chart("inches", chart.lines(t, { ...c, size: ["3 in", q("50 mm")], resolution: 300 }), { formats: ["png"] });
emit.chart("furlongs", chart.lines(t, { ...c, size: ["3 furlong", 100] }), { formats: ["png"] });`,
      { outFolder: s.out("sizes") },
    );
    expect(sizes.output("large").failed).toContain("16000 × 14000 dots are more than 64 million");
    expect(sizes.output("vectors").failed).toBeUndefined();
    expect(sizes.output("furlongs").failed).toContain('size in "furlong"');
    const png = fs.readFileSync(path.join(s.out("sizes"), "inches.png"));
    expect([png.readUInt32BE(16), png.readUInt32BE(20)]).toEqual([900, 591]);
  });
});
