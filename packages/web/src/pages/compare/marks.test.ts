import { describe, expect, it } from "@jest/globals";
import fc from "fast-check";
import type { ChartDescription, Series } from "@oxtrum/core/charts";
import type { TableValue } from "@oxtrum/contract";
import { pointsInBox, runsInBox, withMarkedPoints, withMarks, wordsOf } from "./marks";

const series = (o: Partial<Series>): Series =>
  ({ name: o.run ?? "s", kind: "lines", x: [0, 1, 2], y: [0, 1, 0], color: { palette: 0 }, ...o }) as Series;
const chart = (...list: Series[]): ChartDescription => ({ x: {}, y: {}, series: list }) as unknown as ChartDescription;

describe("marked runs", () => {
  it("are drawn last, the others pale; what belongs to no run stays as it is", () => {
    const c = chart(series({ run: "a" }), series({ run: "b" }), series({ name: "mean", run: undefined }));
    const marked = withMarks(c, new Set(["a"]));
    expect(marked.series.map((s) => [s.run ?? s.name, s.faint === true])).toEqual([
      ["b", true],
      ["a", false],
      ["mean", false],
    ]);
    expect(withMarks(c, new Set())).toBe(c);
    // What is written at a curve stays with it.
    const noted = { ...c, notes: [0, 1, 2].map((k) => ({ series: k, x: 0, y: 0, text: String(k) })) };
    const { series: list, notes } = withMarks(noted, new Set(["a"]));
    expect(notes!.map((n) => [n.text, list[n.series]!.name])).toEqual([
      ["0", "a"],
      ["1", "b"],
      ["2", "mean"],
    ]);
  });

  it("are points of their own among the results of all", () => {
    const c = chart(series({ kind: "points", x: [1, 2, 3], y: [4, 5, 6] }), series({ name: "fit" }));
    const marked = withMarkedPoints(c, ["a", "b", "c"], new Set(["b"]));
    expect(marked.series.map((s) => [s.name, Array.from(s.x), Array.from(s.y)])).toEqual([
      ["fit", [0, 1, 2], [0, 1, 0]],
      ["s", [1, 3], [4, 6]],
      ["marked", [2], [5]],
    ]);
    expect(withMarkedPoints(chart(series({})), ["a"], new Set(["a"])).series).toHaveLength(1);
  });

  it("are those whose curves pass through the box, also between two points", () => {
    const c = chart(series({ run: "peak" }), series({ run: "flat", y: [0, 0, 0] }), series({ run: "x", kind: "band" }));
    expect(runsInBox(c, { x: [0.9, 1.1], y: [0.5, 2] })).toEqual(["peak"]);
    // Both curves cross it without a point inside.
    expect(runsInBox(c, { x: [0.4, 0.6], y: [-1, 0.7] })).toEqual(["peak", "flat"]);
    expect(runsInBox(c, { x: [3, 4], y: [-9, 9] })).toEqual([]);
    // A curve that goes straight up crosses it too.
    const upright = chart(
      series({ run: "up", x: [1, 1], y: [-5, 5] }),
      series({ run: "below", x: [1, 1], y: [-5, -4] }),
    );
    expect(runsInBox(upright, { x: [0.5, 1.5], y: [-1, 1] })).toEqual(["up"]);
    expect(runsInBox(upright, { x: [1.5, 2], y: [-1, 1] })).toEqual([]);
    // Points have nothing between them.
    expect(runsInBox(chart(series({ run: "dots", kind: "points" })), { x: [0.4, 0.6], y: [-1, 2] })).toEqual([]);
  });

  it("are all in a box around everything, and none where values are missing", () => {
    const values = fc.array(fc.double({ noNaN: true, min: -1e6, max: 1e6 }), { minLength: 1, maxLength: 8 });
    fc.assert(
      fc.property(values, (y) => {
        const box = { x: [-1, y.length] as const, y: [-1e7, 1e7] as const };
        const x = y.map((_, k) => k);
        expect(runsInBox(chart(series({ run: "a", x, y })), box)).toEqual(["a"]);
        expect(runsInBox(chart(series({ run: "a", x, y: y.map(() => Number.NaN) })), box)).toEqual([]);
      }),
    );
  });

  it("are those whose points lie in the box", () => {
    const c = chart(series({ kind: "points", x: [1, 2, Number.NaN], y: [1, 5, 1] }));
    expect(pointsInBox(c, ["a", "b", "c"], { x: [0, 3], y: [0, 2] })).toEqual(["a"]);
    expect(pointsInBox(chart(series({})), ["a"], { x: [0, 3], y: [0, 2] })).toEqual([]);
  });

  it("come from a table's words, with nothing for what is missing", () => {
    const t = { columns: [{ name: "run", values: ["a", null, 3] }] } as unknown as TableValue;
    expect([wordsOf(t, "run"), wordsOf(t, "other"), wordsOf(undefined, "run")]).toEqual([["a", "", "3"], [], []]);
  });
});
