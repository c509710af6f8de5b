import { describe, expect, it } from "@jest/globals";
import fc from "fast-check";
import type { ChartDescription, Series } from "@oxtrum/core/charts";
import { axis, chart, series as line } from "../../testing/chart";
import { valuesAt } from "./reading";

/** A line that rises by ten with each step. */
const series = (o: Partial<Series> = {}): Series => line({ y: [0, 10, 20], ...o });
const read = (s: Partial<Series>, x: number, reach = 0.1, more: Partial<ChartDescription> = {}): number | undefined =>
  valuesAt(chart([series(s)], more), ["red"], new Set(), x, reach)[0]?.value;

describe("what a crosshair reads off", () => {
  it("is of a line where it is drawn, and nothing beyond its ends or in a gap", () => {
    expect([0, 0.25, 1, 1.5, 2].map((x) => read({}, x))).toEqual([0, 2.5, 10, 15, 20]);
    // A run that ended long before has no value there.
    expect([-0.05, 2.05, -5, 900].map((x) => read({}, x))).toEqual([0, 20, undefined, undefined]);
    const gap = { x: [0, 1, 2, 3], y: [0, Number.NaN, 20, 30] };
    expect([0, 0.5, 1, 1.5, 2, 2.5].map((x) => read(gap, x))).toEqual([0, undefined, undefined, undefined, 20, 25]);
    expect(read({ x: [], y: [] }, 1)).toBeUndefined();
    // What falls along the bottom is a line too; a place that is missing joins nothing.
    expect(read({ x: [2, 1, 0], y: [20, 10, 0] }, 0.5)).toBe(5);
    expect(read({ x: [Number.NaN, 1, 2], y: [5, 10, 20] }, 1.5)).toBe(15);
  });
  it("is of steps the value that holds, of points the nearest one that is pointed at", () => {
    expect([0, 0.99, 1, 1.5, 2].map((x) => read({ kind: "steps" }, x))).toEqual([0, 0, 10, 10, 20]);
    for (const kind of ["points", "bars", "errorBars"])
      expect([0.05, 0.5, 0.95].map((x) => read({ kind }, x))).toEqual([0, undefined, 10]);
    expect(read({ kind: "points", x: [0, 0.1], y: [1, 2] }, 0.06)).toBe(2);
  });
  it("is on axes in decades the value on the line that is drawn there", () => {
    const log = { x: axis({ unit: "s", scale: "log" }), y: axis({ scale: "log" }) };
    expect(read({ x: [1, 100], y: [1, 10_000] }, 10, 0, log)).toBeCloseTo(100, 9);
    expect(read({ x: [1, 100], y: [1, 3] }, 10, 0, { x: log.x })).toBeCloseTo(2, 12);
  });
  it("has the unit of the axis that the series belongs to", () => {
    const c = chart(
      [series({ name: "T" }), series({ name: "q", axis: "right" }), series({ name: "n", axis: "right", y: [1, 1, 1] })],
      { right: axis({ unit: "kW" }) },
    );
    expect(valuesAt(c, ["a", "b", "c"], new Set(), 1, 0)).toEqual([
      { name: "T", color: "a", value: 10, unit: "K" },
      { name: "q", color: "b", value: 10, unit: "kW" },
      { name: "n", color: "c", value: 1, unit: "kW" },
    ]);
  });
  it("is of what is drawn and has a name: no bands, no pale lines, nothing that is hidden", () => {
    const c = chart([
      series({ name: "a" }),
      series({ name: "pale", faint: true }),
      series({ name: "b", legend: "hidden one" }),
      series({ name: "hidden one" }),
      series({ name: "band", kind: "band" }),
      series({ name: "z" }),
    ]);
    const rows = valuesAt(c, ["1", "2", "3", "4", "5", "6"], new Set(["hidden one"]), 1, 0);
    expect(rows.map((r) => [r.name, r.color])).toEqual([
      ["a", "1"],
      ["z", "6"],
    ]);
  });
  it("property: lies between the values on both sides", () => {
    const values = fc.array(fc.double({ min: -1e6, max: 1e6, noNaN: true }), { minLength: 2, maxLength: 20 });
    fc.assert(
      fc.property(values, fc.double({ min: 0, max: 1, noNaN: true }), (y, share) => {
        const x = y.map((_, i) => i);
        const at = share * (y.length - 1);
        const [a, b] = [y[Math.floor(at)]!, y[Math.ceil(at)]!];
        const v = read({ x, y }, at, 0)!;
        const slack = 1e-9 * (Math.abs(a) + Math.abs(b));
        expect(v).toBeGreaterThanOrEqual(Math.min(a, b) - slack);
        expect(v).toBeLessThanOrEqual(Math.max(a, b) + slack);
      }),
    );
  });
});
