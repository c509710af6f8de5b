import { describe, expect, it } from "@jest/globals";
import type { ChartDescription } from "@oxtrum/core/charts";
import { axis, chart, series } from "../../testing/chart";
import { onSharedAxes } from "./shared-axes";

const ranges = (c: ChartDescription): unknown[] => [c.x.min, c.x.max, c.y.min, c.y.max];

describe("charts side by side", () => {
  it("reach from the least to the largest of all values, edges of bands among them, to a tick", () => {
    const shared = onSharedAxes([
      chart([series({ x: [0, 10], y: [1, 2.3] })]),
      chart([series({ x: [5, 20], y: [Number.NaN, 1], kind: "band", high: [4.7, Infinity] })]),
    ]);
    for (const { chart: c } of shared) expect(ranges(c)).toEqual([0, 20, 1, 5]);
    expect(shared.map(({ whole }) => ranges(whole))).toEqual([Array(4).fill(undefined), Array(4).fill(undefined)]);
  });
  it("are in the units of the first, with a right axis apart", () => {
    const [a, b] = onSharedAxes([
      chart([series({ y: [273.15, 283.15, 293.15] })]),
      chart([series({ x: [0, 1 / 60, 1 / 30], y: [0, 10, 40] }), series({ axis: "right", y: [9e9, 0, 0] })], {
        x: axis({ unit: "min" }),
        y: axis({ unit: "degC" }),
        right: axis({ unit: "kW" }),
      }),
    ]);
    expect([b!.chart.x.unit, b!.chart.y.unit, b!.chart.right!.unit]).toEqual(["s", "K", "kW"]);
    expect(Array.from(b!.chart.series[0]!.y, Math.round)).toEqual([273, 283, 313]);
    expect(Array.from(b!.chart.series[0]!.x, (v) => Math.round(v * 1e6) / 1e6)).toEqual([0, 1, 2]);
    expect(ranges(a!.chart)).toEqual(ranges(b!.chart));
    expect(a!.chart.y.max).toBeLessThan(400);
  });
  it("keep their own axes where they have no such unit", () => {
    const odd = chart([series({ y: [1e5, 2e5, 1e5] })], { y: axis({ unit: "Pa" }) });
    const [a, b] = onSharedAxes([chart([series()]), odd]);
    expect(b).toEqual({ whole: odd, chart: odd });
    expect([a!.chart.y.min, a!.chart.y.max]).toEqual([0, 1]);
  });
  it("have no range without values", () => {
    expect(onSharedAxes([])).toEqual([]);
    const [only] = onSharedAxes([chart([series({ x: [], y: [] })])]);
    expect(ranges(only!.chart)).toEqual([undefined, undefined, undefined, undefined]);
  });
});
