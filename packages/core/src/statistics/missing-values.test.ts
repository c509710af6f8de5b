import { describe, expect, it } from "@jest/globals";
import { cumulative, integral } from "../tables/calculus.js";
import { parseFormula } from "../tables/formula-parser.js";
import { windowRows } from "../tables/order.js";
import { makeTable, numberColumn, numbers, type Table } from "../tables/table.js";
import { max, mean, min, percentile, rms, std } from "./descriptive.js";
import { crossings, settles } from "./events.js";
import { exceedance } from "./moments.js";
import { reduceFormula } from "./reduction-formula.js";

const table = (x: number[], y: number[]): Table =>
  makeTable([numberColumn("time", "s", x), numberColumn("T", "K", y)], { axis: "time" });
const gap = table([0, 1, 2, 3, 4, 10], [1, 3, NaN, 3, 1, 1]);
const whole = table([0, 1, 2, 3, 4, 10], [1, 3, 3, 3, 1, 1]);
const kinds = (v: { conditions?: readonly { kind: string }[] }): string[] => (v.conditions ?? []).map((c) => c.kind);

describe("missing values: one rule", () => {
  it("reductions over rows use what is there and say how many are missing", () => {
    for (const f of [max, min]) expect(f(gap, "T").method).toBe('1 of 6 values of "T" missing');
    for (const q of [
      max(gap, "T"),
      min(gap, "T"),
      mean(gap, "T", "none"),
      std(gap, "T", "none"),
      percentile(gap, "T", 50),
    ]) {
      expect(q.method).toContain('1 of 6 values of "T" missing');
      expect(kinds(q)).toEqual(["missing values"]);
    }
    for (const q of [max(whole, "T"), mean(whole, "T", "none"), percentile(whole, "T", 50)])
      expect(kinds(q)).toEqual([]);
  });
  it("along the axis a gap is not bridged, and its share of the axis is a condition", () => {
    // Of 10 s the two steps from 1 to 3 s are missing: 20 %.
    const along = [
      integral(gap, "T"),
      mean(gap, "T"),
      rms(gap, "T"),
      std(gap, "T"),
      exceedance(gap, "T", 2, "above"),
      settles(gap, "T", { within: 0.1 }),
      reduceFormula(gap, parseFormula("integral(T) / 10 s")),
    ];
    for (const q of along) {
      expect(kinds(q)).toEqual(["gap"]);
      expect(q.conditions![0]!.text).toMatch(/^20 % of "time" has no value of .* \(2 steps\) and contributes nothing/);
    }
    expect(integral(gap, "T").value).toBe(2 + 2 + 6);
    expect(mean(gap, "T").value).toBe(10 / 8);
    expect(exceedance(gap, "T", 2, "above").value).toBe(1);
    const running = cumulative(gap, "T");
    expect([...numbers(running, "T.integral").values]).toEqual([0, 2, NaN, 2, 4, 10]);
    expect(kinds(running)).toEqual(["gap"]);
    expect([integral(whole, "T"), mean(whole, "T"), cumulative(whole, "T")].map(kinds)).toEqual([[], [], []]);
  });
  it("a passage inside a gap is not placed", () => {
    const t = table([0, 1, 2, 3], [0, NaN, 2, 0]);
    expect([...numbers(crossings(t, "T", 1), "time").values]).toEqual([2.5]);
    expect(kinds(crossings(t, "T", 1))).toEqual(["gap"]);
  });
  it("a window beyond the data is a condition", () => {
    expect(kinds(windowRows(whole, "time", [2, 20]))).toEqual(["coverage"]);
    expect(kinds(windowRows(whole, "time", [0, 10]))).toEqual([]);
  });
});

it("an integral runs along the rising axis, whichever way the rows are listed", () => {
  const falling = table([10, 4, 3, 2, 1, 0], [1, 1, 3, 3, 3, 1]);
  expect(integral(falling, "T").value).toBe(integral(whole, "T").value);
  const [down, up] = [falling, whole].map((t) => [...numbers(cumulative(t, "T"), "T.integral").values]);
  expect(down!.reverse()).toEqual(up);
});
