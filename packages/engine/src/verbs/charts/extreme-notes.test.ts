import { describe, expect, it } from "@jest/globals";
import type { Series } from "@oxtrum/core/charts";
import { makeTable, numberColumn } from "@oxtrum/core/tables";
import { execute } from "../../scheduler/evaluate.js";
import type { Outcome } from "../values.js";
import { extremeNotes } from "./extreme-notes.js";

const series = (y: number[], axis?: "right"): Series => ({
  kind: "lines",
  name: "a",
  x: y.map((_, i) => 10 * i),
  y,
  color: { palette: 0 },
  ...(axis && { axis }),
});
const units = { x: "s", left: "degC", right: "1" };

describe("values at the ends of curves", () => {
  it("stand at the highest and lowest point, in the unit of their axis", () => {
    const [a, b] = [series([1, 5, Number.NaN, -2.34567, 5]), series([3, 3, 2], "right")];
    const notes = extremeNotes(
      [a, b],
      new Map([
        [a, "both"],
        [b, "max"],
      ]),
      units,
      false,
    );
    expect(notes).toEqual([
      { series: 0, x: 10, y: 5, text: "5 °C at 10 s" },
      { series: 0, x: 30, y: -2.34567, text: "−2.346 °C at 30 s" },
      { series: 1, x: 0, y: 3, text: "3 at 0 s" },
    ]);
    const words = extremeNotes([series([1]), b], new Map([[b, "min"]]), units, true);
    expect(words).toEqual([{ series: 1, x: 20, y: 2, text: "2" }]);
  });
  it("are none of a curve without a finite value", () => {
    const gone = series([Number.NaN, Infinity, -Infinity]);
    expect(extremeNotes([gone], new Map([[gone, "both"]]), units, false)).toEqual([]);
  });
});

describe("a chart of which more values are to be written than it has room for", () => {
  /** A chart of so many curves, each of a column, or each in a panel of its own. */
  const drawn = (curves: number, options: object = {}): Outcome => {
    const names = Array.from({ length: curves }, (_, k) => `T${k}`);
    const table = makeTable(
      [numberColumn("time", "s", [0, 1, 2]), ...names.map((name, k) => numberColumn(name, "K", [k, 2 * k + 1, 0]))],
      { axis: "time" },
    );
    const asked = { x: "time", y: names, extremes: "max" };
    const layers = [{ kind: "lines", count: 1, source: { from: "table" }, options: asked }];
    return execute("chart", { layers, options }, [{ kind: "table", table }]);
  };
  const said = (o: Outcome): (readonly [number, readonly string[]])[] => {
    if (o.kind !== "chart") throw new Error(o.kind);
    const texts = (o.conditions ?? []).map((c) => `${c.kind}: ${c.text}`);
    return (o.chart.panels ?? [o.chart]).map((c) => [(c.notes ?? []).length, texts]);
  };
  it("has them up to twelve; beyond, none, and says so", () => {
    expect(said(drawn(12))).toEqual([[12, []]]);
    const text = "not drawn: the 13 lowest or highest values are not written: more than 12 would hide the curves";
    expect(said(drawn(13))).toEqual([[0, [text]]]);
    const [[, [named] = []] = []] = said(drawn(13, { title: "Hall air" }));
    expect(named).toContain('values of "Hall air" are not written');
  });
  it("counts them panel by panel", () => {
    expect(said(drawn(13, { panels: "quantities" }))).toEqual(Array(13).fill([1, []]));
  });
});
