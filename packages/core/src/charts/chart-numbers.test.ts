import { describe, expect, it } from "@jest/globals";
import { numbers, type Table } from "../tables/table.js";
import { chartNumbers } from "./chart-numbers.js";
import type { ChartAxis, ChartDescription, Series } from "./description.js";

const axis = (title: string, unit: string | null, more: Partial<ChartAxis> = {}): ChartAxis => ({
  title,
  unit,
  scale: "linear",
  ...more,
});
const series = (o: Partial<Series> = {}): Series => ({
  name: "a",
  kind: "lines",
  x: [0, 1],
  y: [10, 20],
  color: { palette: 0 },
  ...o,
});
const chart = (list: Series[], more: Partial<ChartDescription> = {}): ChartDescription => ({
  x: axis("Time", "s"),
  y: axis("T", "degC"),
  series: list,
  ...more,
});
const heads = (t: Table): unknown[] => t.columns.map((c) => (c.kind === "number" ? [c.name, c.unit] : c.name));
const column = (t: Table, name: string): unknown[] =>
  Array.from(t.columns.find((c) => c.name === name)!.values as ArrayLike<unknown>);

describe("the numbers behind a chart", () => {
  it("are its points, in the units of its axes", () => {
    const t = chartNumbers(chart([series(), series({ name: "b", legend: "second", x: [5], y: [Number.NaN] })]));
    expect(heads(t)).toEqual(["series", "quantity", "unit", ["Time", "s"], ["T", "degC"]]);
    expect([column(t, "series"), column(t, "Time"), column(t, "T")]).toEqual([
      ["a", "a", "second"],
      [0, 1, 5],
      [10, 20, Number.NaN],
    ]);
    expect([column(t, "quantity"), column(t, "unit")]).toEqual([Array(3).fill("T"), Array(3).fill("°C")]);
  });
  it("of two axes have no unit in common: it stands beside each", () => {
    const right = axis("q", "kW");
    const t = chartNumbers(chart([series({ quantity: "T_mean" }), series({ name: "b", axis: "right" })], { right }));
    expect(heads(t)).toEqual(["series", "quantity", "unit", ["Time", "s"], ["value", null]]);
    expect(column(t, "unit")).toEqual(["°C", "°C", "kW", "kW"]);
    expect(column(t, "quantity")).toEqual(["T_mean", "T_mean", "q", "q"]);
    expect(column(t, "value")).toEqual([10, 20, 10, 20]);
    // Two axes of one unit have it in common.
    const same = chartNumbers(chart([series(), series({ axis: "right" })], { right: axis("U", "degC") }));
    expect(heads(same).at(-1)).toEqual(["T", "degC"]);
  });
  it("of bands, error bars and boxes have both ends", () => {
    const band = chartNumbers(chart([series({ kind: "band", high: [11, 22] }), series({ name: "line" })]));
    expect(heads(band).slice(-2)).toEqual([
      ["low", "degC"],
      ["high", "degC"],
    ]);
    expect([column(band, "low"), column(band, "high")]).toEqual([
      [10, 20, Number.NaN, Number.NaN],
      [11, 22, Number.NaN, Number.NaN],
    ]);
    const bars = chartNumbers(chart([series({ kind: "errorBars", low: [9, 18], high: [12, 21] })]));
    expect([column(bars, "T"), column(bars, "low"), column(bars, "high")]).toEqual([
      [10, 20],
      [9, 18],
      [12, 21],
    ]);
    const box = { low: 1, q1: 2, median: 3, q3: 4, high: 5, beyond: [] };
    const boxes = chartNumbers(chart([series({ kind: "box", x: [0], y: [3], boxes: [box] })]));
    expect([column(boxes, "T"), column(boxes, "low"), column(boxes, "high")]).toEqual([[3], [1], [5]]);
  });
  it("have words where the axis has some", () => {
    const t = chartNumbers(
      chart([series({ kind: "bars", x: [1, 0, 7], y: [1, 2, 3] })], {
        x: axis("fan", null, { categories: ["50 %", "75 %"] }),
      }),
    );
    expect(column(t, "fan")).toEqual(["75 %", "50 %", ""]);
  });
  it("of maps are their cells", () => {
    const heat = { x: [0, 1], y: [5, 6], values: [1, 2, 3, Number.NaN], title: "p", unit: "Pa", min: 1, max: 3 };
    const t = chartNumbers(chart([], { y: axis("z", "m"), heat }));
    expect(heads(t)).toEqual(["series", ["Time", "s"], ["z", "m"], ["value", "Pa"]]);
    expect([column(t, "Time"), column(t, "z"), column(t, "value")]).toEqual([
      [0, 1, 0, 1],
      [5, 5, 6, 6],
      [1, 2, 3, Number.NaN],
    ]);
  });
  it("of panels name the panel; equal and empty titles stay apart", () => {
    const panels = ["fan 50", "fan 75"].map((title) => chart([series()], { title }));
    const t = chartNumbers(chart([], { panels }));
    expect(heads(t)[0]).toBe("panel");
    expect(column(t, "panel")).toEqual(["fan 50", "fan 50", "fan 75", "fan 75"]);
    const untitled = chartNumbers(chart([series()], { x: axis("", "m"), y: axis("", "m") }));
    expect(heads(untitled).slice(-2)).toEqual([
      ["x", "m"],
      ["y", "m"],
    ]);
    const alike = chartNumbers(chart([series()], { x: axis("T", "K"), y: axis("T", "K") }));
    expect(heads(alike).slice(-2)).toEqual([
      ["T", "K"],
      ["T.y", "K"],
    ]);
    expect(chartNumbers(chart([])).rows).toBe(0);
  });
  it("are those of the series themselves: nothing is thinned", () => {
    const x = Float64Array.from({ length: 5000 }, (_, i) => i);
    const t = chartNumbers(chart([series({ x, y: x.map((v) => Math.sin(v)) })]));
    expect(t.rows).toBe(5000);
    expect(numbers(t, "T").values[4999]).toBe(Math.sin(4999));
  });
});
