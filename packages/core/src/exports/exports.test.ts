import { Chart } from "chart.js";
import { describe, expect, it } from "@jest/globals";
import { decimate, fieldColor, richText, type ChartDescription } from "../charts/index.js";
import { bufferSource, readTextTable } from "../formats/index.js";
import { makeTable, numberColumn, textColumn } from "../tables/index.js";
import { drawPng, drawSvg, stableJson, toCsv } from "./index.js";

const x = Float64Array.from({ length: 2000 }, (_, i) => i);
const chart = (y: Float64Array = x.map((v) => Math.sin(v / 100))): ChartDescription => ({
  title: "A title with T_{mean} and m^2",
  x: { title: "Time", unit: "s", scale: "linear" },
  y: { title: "Air", unit: "degC", scale: "linear" },
  series: [
    { kind: "lines", name: "a", x, y, color: { palette: 0 } },
    { kind: "band", name: "b", x, y: y.map((v) => v - 1), high: y.map((v) => v + 1), color: { palette: 1 } },
    { kind: "points", name: "c", x: x.subarray(0, 5), y: y.subarray(0, 5), color: { ramp: 0.5 }, dash: 2 },
  ],
});

describe("CSV", () => {
  it("reads back as it was written", () => {
    const t = makeTable(
      [
        numberColumn("time", "s", [0, 0.1, 1e-300]),
        numberColumn("T, mean", "degC", [NaN, -0.5, 20]),
        textColumn("note", ["plain", 'with "quotes", and comma', " blank "]),
      ],
      { axis: "time" },
    );
    const csv = Buffer.from(toCsv(t)).toString("utf8");
    expect(csv.split("\n")[0]).toBe('time [s],"T, mean [degC]",note');
    const again = readTextTable(bufferSource("x", new TextEncoder().encode(csv))).table;
    expect(again.columns.map((c) => [c.name, c.kind === "number" ? c.unit : null])).toEqual([
      ["time", "s"],
      ["T, mean", "degC"],
      ["note", null],
    ]);
    expect([...again.columns[0]!.values]).toEqual([0, 0.1, 1e-300]);
  });
});

describe("JSON", () => {
  it("has its keys in order whatever order they came in", () => {
    expect(stableJson({ b: 1, a: [NaN, Infinity], c: undefined })).toBe(stableJson({ a: [NaN, Infinity], b: 1 }));
  });
});

describe("drawings", () => {
  it("come out with the same bytes each time, at the size asked for", async () => {
    const a = await drawPng(chart(), { width: 400, height: 300, scale: 2 });
    expect(a.equals(await drawPng(chart(), { width: 400, height: 300, scale: 2 }))).toBe(true);
    expect([a.readUInt32BE(16), a.readUInt32BE(20)]).toEqual([800, 600]);
    const svg = drawSvg(chart(), { width: 400, height: 300 });
    expect(svg.equals(drawSvg(chart(), { width: 400, height: 300 }))).toBe(true);
    expect(svg.toString()).toMatch(/^<\?xml|^<svg/);
    expect(svg.toString().includes(">Time (s)</text>")).toBe(true);
    expect(svg.toString().includes("data:font/woff2;base64,")).toBe(true);
  });
  it("differ when a value differs", async () => {
    const y = x.map((v) => Math.sin(v / 100));
    y[1000] = 5;
    expect((await drawPng(chart(y))).equals(await drawPng(chart()))).toBe(false);
  });
  it.each([
    ["nothing", new Float64Array(0)],
    ["one point", Float64Array.of(3)],
    ["all missing", new Float64Array(2000).fill(NaN)],
    ["tiny ranges", x.map((v) => v * 1e-303)],
    ["huge ranges", x.map((v) => v * 1e300)],
    ["a constant", new Float64Array(2000).fill(7)],
  ])("draws %s", async (_, y) => {
    const c = {
      ...chart(),
      series: [{ kind: "lines" as const, name: "a", x: x.subarray(0, y.length), y, color: { palette: 0 }, dash: 1 }],
    };
    expect((await drawPng(c, { width: 200, height: 120, scale: 1 })).length).toBeGreaterThan(200);
  });
  it("ends on values far outside a fixed range", async () => {
    const y = x.map((v) => (v % 2 ? 1e15 : -1e15));
    const c = {
      ...chart(),
      y: { title: "y", unit: null, scale: "linear" as const, min: 0, max: 1 },
      series: [{ kind: "lines" as const, name: "a", x, y, color: { palette: 0 }, dash: 1 }],
    };
    expect((await drawPng(c, { width: 200, height: 120, scale: 1 })).length).toBeGreaterThan(200);
  });
});

describe("thinning", () => {
  it("keeps every extreme and every gap", () => {
    const y = x.map((v) => Math.sin(v));
    y[777] = 50;
    y[1200] = -50;
    y[1500] = NaN;
    const t = decimate(x, y, 50);
    expect(t.x.length).toBeLessThanOrEqual(250);
    expect(Math.max(...t.y.filter((v) => v === v))).toBe(50);
    expect(Math.min(...t.y.filter((v) => v === v))).toBe(-50);
    expect(t.y.some((v) => v !== v)).toBe(true);
    expect([t.x[0], t.x[t.x.length - 1]]).toEqual([0, 1999]);
  });
  it("keeps the finite peaks beside what is infinite", () => {
    const y = x.map((v) => Math.sin(v));
    y[777] = 50;
    y[778] = Infinity;
    y[779] = -Infinity;
    y[780] = -50;
    const t = decimate(x, y, 50);
    expect([t.y.includes(50), t.y.includes(-50)]).toEqual([true, true]);
    // In a drawing it is a gap: the same bytes as with a missing value.
    const drawn = (values: ArrayLike<number>): string =>
      drawSvg({
        ...chart(),
        series: [{ kind: "lines" as const, name: "a", x, y: values, color: { palette: 0 } }],
      }).toString();
    expect(drawn(y)).toBe(drawn(y.map((v) => (Number.isFinite(v) ? v : Number.NaN))));
    for (const kind of ["bars", "points", "steps", "linePoints"] as const) {
      const of = (v: number): string =>
        drawSvg({
          ...chart(),
          series: [{ kind, name: "a", x: [0, 1, 2], y: [1, v, 2], color: { palette: 0 } }],
        }).toString();
      expect([kind, of(Infinity) === of(Number.NaN), of(-Infinity) === of(Number.NaN)]).toEqual([kind, true, true]);
    }
  });
});

describe("a drawing that cannot be made", () => {
  it("says so, and is not tried again later", async () => {
    const values = new Proxy([1], {
      get: () => {
        throw new Error("broken cells");
      },
    });
    const heat = { x: [0], y: [0], values, title: "T", unit: "K", min: 0, max: 1 };
    const broken = { ...chart(), series: [], heat };
    expect(() => drawSvg(broken)).toThrow("broken cells");
    await expect(drawPng(broken)).rejects.toThrow("broken cells");
    expect(Object.keys(Chart.instances)).toEqual([]);
    await new Promise((later) => setTimeout(later, 50));
    // The next one is drawn as ever.
    expect(drawSvg(chart()).length).toBeGreaterThan(1000);
  });
  it("has cells that are infinite or missing as nothing, and colours for any share", () => {
    const of = (v: number): string => {
      const heat = { x: [0, 1], y: [0], values: [v, 1], title: "T", unit: "K", min: 0, max: 1 };
      return drawSvg({ ...chart(), series: [], heat }).toString();
    };
    expect([of(Infinity), of(-Infinity)]).toEqual([of(Number.NaN), of(Number.NaN)]);
    for (const share of [Number.NaN, -Infinity, Infinity, -1, 0, 0.5, 1, 2])
      for (const c of fieldColor(share)) expect(c >= 0 && c <= 1).toBe(true);
  });
});

describe("titles", () => {
  it("raise and lower", () => {
    expect(richText("T_{mean} m^2 a_b")).toEqual([
      { text: "T", shift: "none" },
      { text: "mean", shift: "sub" },
      { text: " m", shift: "none" },
      { text: "2", shift: "super" },
      { text: " a_b", shift: "none" },
    ]);
  });
});
