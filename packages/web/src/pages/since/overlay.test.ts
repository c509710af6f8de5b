import { describe, expect, it } from "@jest/globals";
import type { ChartDescription, Series } from "@oxtrum/core/charts";
import { axis, chart, series } from "../../testing/chart";
import { overlaid } from "./overlay";

const names = (c: ChartDescription): string[] => c.series.map((s) => s.name);

describe("a chart over what it was", () => {
  it("draws once what has not changed, and what was in grey and dashed", () => {
    const then = chart([series({ name: "same" }), series({ name: "moved", y: [0, 2, 0] }), series({ name: "gone" })]);
    const now = chart([series({ name: "same" }), series({ name: "moved" }), series({ name: "new" })], {
      notes: [{ series: 0, x: 0, y: 0, text: "0 K" }],
    });
    const both = overlaid(then, now);
    expect(both.chart.series.map((s) => [s.name, s.dash ?? 0])).toEqual([
      ["same", 0],
      ["moved", 0],
      ["new", 0],
      ["moved, then", 2],
      ["gone, then", 2],
    ]);
    expect(both.chart).not.toHaveProperty("notes");
    expect(both.apart).toBeUndefined();
  });
  it.each([
    ["a longer line", { x: [0, 1], y: [0, 1] }, {}],
    ["an infinite value", { y: [0, Infinity, 0] }, {}],
    ["the sign of one", { y: [0, Infinity, 0] }, { y: [0, -Infinity, 0] }],
    ["a gap", { y: [0, Number.NaN, 0] }, {}],
    ["the upper edge of a band", { kind: "band", high: [1, 2, 3] }, { kind: "band", high: [1, 2, 4] }],
    ["the lower end of an error bar", { kind: "errorBars", low: [0, 0, 0] }, { kind: "errorBars", low: [0, -1, 0] }],
    [
      "a box",
      { kind: "box", boxes: [] },
      { kind: "box", boxes: [{ low: 0, q1: 1, median: 2, q3: 3, high: 4, beyond: [] }] },
    ],
    ["the axis", { axis: "right" as const }, {}],
    ["the kind", { kind: "points" }, {}],
  ])("sees that something moved: %s", (_, a, b) => {
    expect(names(overlaid(chart([series(a)]), chart([series(b)])).chart)).toEqual(["s", "s, then"]);
    expect(names(overlaid(chart([series(a)]), chart([series(a)])).chart)).toEqual(["s"]);
  });
  it("is drawn panel by panel, by their titles", () => {
    const panel = (title: string, y: number[]): ChartDescription => chart([series({ y })], { title });
    const then = chart([], { panels: [panel("50", [1, 1, 1]), panel("75", [2, 2, 2])] });
    const now = chart([], { panels: [panel("75", [2, 2, 2]), panel("50", [9, 9, 9])] });
    expect(overlaid(then, now).chart.panels!.map((p) => [p.title, p.series.length])).toEqual([
      ["75", 1],
      ["50", 2],
    ]);
  });
  it("has what was in the units of now", () => {
    const then = chart(
      [series({ x: [0, 60, 120], y: [273.15, 283.15, 274.15] }), series({ name: "q", axis: "right" })],
      {
        right: axis({ unit: "kW" }),
      },
    );
    const now = chart([series({ y: [0, 10, 2] })], {
      x: axis({ unit: "min" }),
      y: axis({ unit: "degC" }),
      right: axis({ unit: "W" }),
    });
    const { chart: both, apart } = overlaid(then, now);
    expect(apart).toBeUndefined();
    const [, was, q] = both.series;
    expect(Array.from(was!.x)).toEqual([0, 1, 2]);
    Array.from(was!.y).forEach((v, i) => expect(v).toBeCloseTo([0, 10, 1][i]!, 9));
    expect(Array.from(q!.y)).toEqual([0, 1000, 0]);
    // The same in another unit has not moved.
    const kelvin = chart([series({ y: [274.71, 275.33, Number.NaN] })]);
    const celsius = chart([series({ y: [274.71 - 273.15, 275.33 - 273.15, Number.NaN] })], {
      y: axis({ unit: "degC" }),
    });
    expect(names(overlaid(kelvin, celsius).chart)).toEqual(["s"]);
    expect(names(overlaid(celsius, kelvin).chart)).toEqual(["s"]);
    const same = overlaid(chart([series({ x: [0, 60, 120] })]), chart([series()], { x: axis({ unit: "min" }) }));
    expect(names(same.chart)).toEqual(["s"]);
  });
  it("says that what was has no place on the axes of now", () => {
    const { chart: drawn, apart } = overlaid(chart([series()]), chart([series()], { y: axis({ unit: "Pa" }) }));
    expect(names(drawn)).toEqual(["s"]);
    expect(apart).toBe("Then the axes had s, K, now they have s, Pa: only now is drawn.");
    const words = overlaid(chart([series()]), chart([series()], { x: axis({ unit: null, categories: ["a"] }) }));
    expect(words.apart).toBe("Then the axes had s, K, now they have words, K: only now is drawn.");
    const heat = { x: [0], y: [0], values: [1], title: "T", unit: "K", min: 0, max: 1 };
    expect(overlaid(chart([], { heat }), chart([], { heat })).apart).toContain("only now is drawn");
    const panels = overlaid(
      chart([], { panels: [chart([series()])] }),
      chart([], { panels: [chart([series()], { y: axis({ unit: null }) })] }),
    );
    expect(panels.apart).toContain("only now is drawn");
  });
  it("has what was over the words that it belongs to, also over those that are gone", () => {
    const over = (categories: string[], more: Partial<Series>): ChartDescription =>
      chart([series({ kind: "bars", ...more })], { x: axis({ unit: null, categories }) });
    const { chart: both } = overlaid(
      over(["a", "b", "c"], { x: [0, 1, 2.2], y: [1, 2, 3] }),
      over(["c", "a"], { x: [0, 1], y: [3, 1] }),
    );
    expect(both.x.categories).toEqual(["c", "a", "b"]);
    const was = both.series[1]!;
    expect(Array.from(was.x, (v) => Math.round(10 * v) / 10)).toEqual([1, 2, 0.2]);
    expect(Array.from(was.y)).toEqual([1, 2, 3]);
  });
  it("lets a fixed range go that would cut off what was", () => {
    const fixed = (max: number): ChartDescription => chart([series()], { y: axis({ min: -1, max }) });
    const then = chart([series({ y: [0, 5, 0] })]);
    expect(overlaid(then, fixed(9)).chart.y).toMatchObject({ min: -1, max: 9 });
    expect(overlaid(then, fixed(2)).chart.y).not.toHaveProperty("max");
    expect(overlaid(then, fixed(2)).chart.y).toMatchObject({ unit: "K" });
  });
});
