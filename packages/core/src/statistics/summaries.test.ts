import { describe, expect, it } from "@jest/globals";
import { makeTable, numberColumn, numbers, type Table } from "../tables/table.js";
import { rowValue } from "../tables/resample.js";
import { mean, std } from "./descriptive.js";
import { meshConvergence } from "./mesh-convergence.js";
import { amplitudes } from "./signals/amplitudes.js";
import { movingAverage } from "./signals/moving-average.js";
import { covariance, meanInterval, numbered, percentiles, sum } from "./summaries.js";

const table = (columns: Record<string, number[]>, axis?: string, units: Record<string, string> = {}): Table =>
  makeTable(
    Object.entries(columns).map(([n, v]) => numberColumn(n, units[n] ?? "1", v)),
    { axis },
  );
const values = (t: Table, n: string): number[] => [...numbers(t, n).values];

describe("summaries of a column", () => {
  const t = table({ a: [1, 2, 3, 4], b: [2, 4, 7, 8], gap: [1, NaN, 3, 4], w: [0, 1, 1, 2] });
  it("sum, covariance, population std, percentiles, row numbers", () => {
    expect(sum(t, "a").value).toBe(10);
    expect(sum(t, "gap")).toMatchObject({ value: 8, method: 'of 3 values, 1 of 4 values of "gap" missing' });
    // Σ(a−2.5)(b−5.25)/3 = 10.5/3
    expect(covariance(t, "a", "b").value).toBeCloseTo(3.5, 14);
    expect(covariance(t, "a", "gap")).toMatchObject({
      method: "unweighted over 3 rows, n−1, 1 of 4 rows lack a value",
    });
    expect(std(t, "a", "none", true).value).toBeCloseTo(Math.sqrt(1.25), 14);
    expect(std(t, "a", "none").value).toBeCloseTo(Math.sqrt(5 / 3), 14);
    expect(values(percentiles(t, "a", [0, 50, 90]), "a")).toEqual([1, 2.5, expect.closeTo(3.7, 12)]);
    expect(values(numbered(t, "row"), "row")).toEqual([1, 2, 3, 4]);
  });
  it("the interval of a mean: Student's t, of a published quantile", () => {
    // t(0.975, 3) = 3.182446305; s/√n = √(5/3)/2.
    const half = (3.182446305 * Math.sqrt(5 / 3)) / 2;
    expect(meanInterval(t, "a", 0.95, "upper").value).toBeCloseTo(2.5 + half, 8);
    expect(meanInterval(t, "a", 0.95, "lower").value).toBeCloseTo(2.5 - half, 8);
    expect(meanInterval(table({ a: [1] }), "a", 0.95, "lower").reason).toMatch(/needs two values/);
    expect(() => meanInterval(t, "a", 95, "lower")).toThrow(/between 0 and 1/);
  });
  it("weights by a column; negative ones are refused", () => {
    expect(mean(t, "a", { by: "w" })).toMatchObject({
      value: (2 + 3 + 8) / 4,
      method: 'weighted by "w" over 4 values',
    });
    expect(mean(t, "gap", { by: "w" }).value).toBe((3 + 8) / 3);
    expect(() => mean(table({ a: [1, 2], w: [1, -1] }), "a", { by: "w" })).toThrow(/"w" is -1 in row 2/);
  });
  it("temperatures: sums are refused, covariances count in K", () => {
    const d = table({ T: [10, 20, 30], q: [1, 2, 3] }, undefined, { T: "degC" });
    expect(() => sum(d, "T")).toThrow(/convert to K first/);
    expect(covariance(d, "T", "q")).toMatchObject({ value: 10, unit: "ΔK" });
  });
});

describe("rows and axes", () => {
  it("first and last go by rows, as they are listed", () => {
    const t = table({ time: [3, 2, 1], T: [30, 20, NaN] }, "time");
    expect(rowValue(t, "T", "first")).toMatchObject({ value: 30, at: { value: 3 } });
    expect(rowValue(t, "T", "last").reason).toMatch(/"T" is missing in the last row/);
  });
  it("only what is an axis weighs means: by name, as a time, or rising all the way, which is said", () => {
    const method = (name: string, x: number[], unit = "1"): string =>
      mean(table({ [name]: x, y: [1, 2, 3] }, name, { [name]: unit }), "y").method!;
    expect(method("time", [0, 1, 3])).toBe('weighted along "time" (trapezoidal)');
    expect(method("clock", [0, 1, 3], "s")).toBe('weighted along "clock" (trapezoidal)');
    expect(method("load", [0, 1, 3])).toBe('weighted along "load", which rises or falls all the way (trapezoidal)');
    expect(method("load", [0, 3, 1])).toMatch(/^unweighted over 3 values, not weighted along "load"/);
    expect(method("load", [0, 1, 1])).toMatch(/^unweighted/);
  });
});

describe("amplitudes", () => {
  it.each([64, 60, 7 * 13])("of %i rows are those of the sines in them", (n) => {
    const time = Array.from({ length: n }, (_, i) => i / n);
    const x = time.map((t) => 5 + 3 * Math.cos(2 * Math.PI * 4 * t - 1) + 0.5 * Math.sin(2 * Math.PI * 11 * t));
    const s = amplitudes(table({ time, x }, "time", { time: "s", x: "m" }), "x");
    const at = (f: number, c: string): number =>
      values(s, c)[values(s, "frequency").findIndex((v) => Math.abs(v - f) < 1e-9)]!;
    expect(at(4, "x.amplitude")).toBeCloseTo(3, 12);
    expect(at(4, "x.phase")).toBeCloseTo((-180 / Math.PI) * 1, 10);
    expect(at(11, "x.amplitude")).toBeCloseTo(0.5, 12);
    expect(at(5, "x.amplitude")).toBeLessThan(1e-12);
    expect(values(s, "frequency")).toHaveLength(n >> 1);
  });
});

describe("a moving average over rows", () => {
  const t = table({ time: [0, 1, 2, 10, 11], x: [1, 2, 6, NaN, 3] }, "time");
  it("about the row, trailing, cut off at the ends, past missing values", () => {
    expect(values(movingAverage(t, "x", { rows: 3 }), "x.smooth")).toEqual([1.5, 3, 4, 4.5, 3]);
    expect(values(movingAverage(t, "x", { rows: 2, trailing: true }), "x.smooth")).toEqual([1, 1.5, 4, 6, 3]);
    expect(() => movingAverage(t, "x", { rows: 4 })).toThrow(/no middle row/);
  });
});

describe("mesh convergence judged for uneven refinement", () => {
  /** Values of f + c·hᵖ. */
  const of = (p: number, sizes: number[]): number[] => sizes.map((h) => 10 + 2 * h ** p);
  it.each([
    [1, [1, 2, 2.2]],
    [2, [1, 1.1, 3]],
    [0.7, [1, 3, 3.5]],
  ])("order %d is found on sizes %j", (p, sizes) => {
    const c = meshConvergence(sizes, of(p, sizes));
    expect([c.kind, c.order, c.extrapolated]).toEqual(["monotonic", expect.closeTo(p, 9), expect.closeTo(10, 9)]);
  });
  it("values that move apart are diverging, whatever the ratios", () => {
    expect(meshConvergence([1, 1.1, 3], [1, 2, 2.5]).kind).toBe("diverging");
  });
  it("equal values have no index", () => {
    const c = meshConvergence([1, 2, 4], [5, 5, 6]);
    expect([c.kind, c.index, c.order]).toEqual(["level", NaN, NaN]);
  });
});
