import { describe, expect, it } from "@jest/globals";
import type { Series } from "@oxtrum/core/charts";
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
  it("are none of a curve without a finite value, and none at all where they would hide what they are about", () => {
    const gone = series([Number.NaN, Infinity, -Infinity]);
    expect(extremeNotes([gone], new Map([[gone, "both"]]), units, false)).toEqual([]);
    const many = Array.from({ length: 13 }, (_, k) => series([k, 2 * k]));
    const wants = new Map(many.map((s) => [s, "max" as const]));
    expect(extremeNotes(many.slice(1), wants, units, false)).toHaveLength(12);
    expect(extremeNotes(many, wants, units, false)).toEqual([]);
  });
});
