import { describe, expect, it } from "@jest/globals";
import type { ChartDescription, Series } from "@oxtrum/core/charts";
import { overdrawn } from "./overdrawn.js";

const series = (o: Partial<Series>): Series => ({
  name: "a",
  kind: "bars",
  x: [0, 1, 2],
  y: [1, 2, 3],
  color: { palette: 0 },
  ...o,
});
const chart = (list: Series[], categories?: string[]): ChartDescription => ({
  x: { title: "fan", unit: categories ? null : "%", scale: "linear", ...(categories && { categories }) },
  y: { title: "", unit: "K", scale: "linear" },
  series: list,
});
const told = (c: ChartDescription): string[] => overdrawn(c).map((n) => `${n.run ?? ""} ${n.text}`.trim());
const ending =
  "lie on each other: the longest hides the rest; tell them apart by a color, or take one value for each place";

describe("bars that lie on each other", () => {
  it("are none where each place of a series has one, or the others are missing; nor points and lines", () => {
    const list = [
      series({}),
      series({ x: [0, 0, 1], y: [1, Number.NaN, 2] }),
      series({ kind: "points", x: [0, 0, 0] }),
    ];
    expect(overdrawn(chart(list))).toEqual([]);
    expect(overdrawn(chart([series({ kind: "lines", x: [1, 1, 1] })]))).toEqual([]);
  });

  it("are told once for each series, with the first place of several in the axis' own words", () => {
    expect(told(chart([series({ quantity: "peak", x: [50, 75, 75], run: "r1" })]))).toEqual([
      `r1 2 bars of "peak" at 75 % ${ending}`,
    ]);
    const list = [series({ x: [1, 0, 1, 0, 1], y: [1, 2, 3, 4, 5], stack: "left" }), series({})];
    expect(told(chart(list, ["none", "strip"]))).toEqual([`3 bars of "a" at strip and 1 more place ${ending}`]);
  });

  it("are told of each panel", () => {
    const panel = chart([series({ x: [1, 1, 1] })]);
    expect(overdrawn({ ...chart([]), panels: [panel, chart([series({})]), panel] })).toHaveLength(2);
  });
});
