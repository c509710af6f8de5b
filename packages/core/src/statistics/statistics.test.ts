import { describe, expect, it } from "@jest/globals";
import { makeTable, numberColumn, numbers, textColumn, type Table } from "../tables/index.js";
import { across, compareTo, crossings, max, mean, min, percentile, rms, settles, std } from "./index.js";

const table = (x: ArrayLike<number>, y: ArrayLike<number>, unit = "K"): Table =>
  makeTable([numberColumn("time", "s", x), numberColumn("y", unit, y)], { axis: "time" });
const plain = (y: ArrayLike<number>): Table => makeTable([numberColumn("y", "K", y)]);

describe("within a run", () => {
  it("finds extremes and where they lie, past missing values", () => {
    const t = table([0, 1, 2, 3], [1, NaN, 5, 2]);
    expect(max(t, "y")).toMatchObject({
      method: '1 of 4 values of "y" missing',
      value: 5,
      unit: "K",
      at: { name: "time", value: 2, unit: "s" },
    });
    expect(min(t, "y").value).toBe(1);
    expect(max(table([0], [NaN]), "y").reason).toMatch(/all 1 values of "y" are missing/);
  });
  it("weighs the mean along the axis, and says so", () => {
    // 0 for 9 s, then up to 10 within 1 s: ∫ = 5 over 10 s.
    const t = table([0, 9, 10], [0, 0, 10]);
    expect(mean(t, "y")).toMatchObject({ value: 0.5, method: 'weighted along "time" (trapezoidal)' });
    expect(mean(t, "y", "none").value).toBeCloseTo(10 / 3, 14);
    expect(() => mean(table([0, 1, 0], [1, 2, 3]), "y")).toThrow(/cannot weigh a mean/);
  });
  it("rms and deviation of a sine over whole periods", () => {
    const n = 10000;
    const x = Float64Array.from({ length: n + 1 }, (_, i) => (i / n) * 2 * Math.PI);
    const t = table(
      x,
      x.map((v) => 3 + Math.sin(v)),
    );
    expect(mean(t, "y").value).toBeCloseTo(3, 12);
    expect(std(t, "y").value).toBeCloseTo(Math.SQRT1_2, 8);
    expect(rms(t, "y").value).toBeCloseTo(Math.sqrt(9.5), 8);
  });
  // NIST/ITL StRD, univariate summary statistics: certified values of NumAcc1, NumAcc2 and NumAcc3.
  it.each([
    ["NumAcc1", [10000001, 10000003, 10000002], 10000002, 1],
    ["NumAcc2", Float64Array.from({ length: 1001 }, (_, i) => (i === 0 ? 1.2 : i % 2 === 1 ? 1.1 : 1.3)), 1.2, 0.1],
    [
      "NumAcc3",
      Float64Array.from({ length: 1001 }, (_, i) => 1000000 + (i === 0 ? 0.2 : i % 2 === 1 ? 0.1 : 0.3)),
      1000000.2,
      0.1,
    ],
  ])("certified mean and deviation: %s", (_, values, m, s) => {
    expect(Math.abs(mean(plain(values), "y").value / m - 1)).toBeLessThan(1e-14);
    expect(Math.abs(std(plain(values), "y").value / s - 1)).toBeLessThan(1e-8);
  });
  it("percentiles by definition 7", () => {
    // Hyndman & Fan 1996, definition 7, on 1…4: the quartiles are 1.75, 2.5, 3.25.
    for (const [p, v] of [
      [0, 1],
      [25, 1.75],
      [50, 2.5],
      [75, 3.25],
      [100, 4],
    ] as const)
      expect(percentile(plain([4, 2, 1, 3]), "y", p).value).toBe(v);
    expect(() => percentile(plain([1]), "y", 101)).toThrow(/within 0 and 100/);
  });
  it("settling of an exponential: t = τ ln(A/band)", () => {
    const x = Float64Array.from({ length: 5001 }, (_, i) => i / 100);
    const t = table(
      x,
      x.map((v) => 20 + 8 * Math.exp(-v / 4)),
    );
    expect(settles(t, "y", { within: 0.5, to: 20 }).value).toBeCloseTo(4 * Math.log(16), 4);
    expect(settles(table([0, 1, 2], [0, 5, 10]), "y", { within: 0.5 }).reason).toMatch(/not settled before the end/);
    expect(settles(t, "y", { within: 0.5, to: 30 }).reason).toMatch(/has not settled: it ends/);
  });
  it("crossings of a sine at zero", () => {
    const x = Float64Array.from({ length: 1001 }, (_, i) => 0.5 + i / 100);
    const c = crossings(table(x, x.map(Math.sin)), "y", 0);
    expect(c.rows).toBe(3);
    [Math.PI, 2 * Math.PI, 3 * Math.PI].forEach((v, i) => expect(numbers(c, "time").values[i]).toBeCloseTo(v, 4));
    expect(crossings(table(x, x.map(Math.sin)), "y", 0, "rising").rows).toBe(1);
    // A row exactly on the level counts once.
    expect(crossings(table([0, 1, 2, 3], [-1, 0, 0, 2]), "y", 0).rows).toBe(1);
  });
});

describe("across runs", () => {
  it("computes on a shared axis", () => {
    const b = across([table([0, 1], [1, 10]), table([0, 1], [2, 20]), table([0, 1], [3, 60])], {
      on: "time",
      percentiles: [50],
    });
    expect([...numbers(b, "y.mean").values]).toEqual([2, 30]);
    expect(numbers(b, "y.std").values[1]).toBeCloseTo(Math.sqrt(700), 12);
    expect([...numbers(b, "y.min").values, ...numbers(b, "y.max").values]).toEqual([1, 10, 3, 60]);
    expect([...numbers(b, "y.p50").values]).toEqual([2, 20]);
    expect(b.notes[0]).toMatch(/across 3 runs; all runs share the axis; deviations with n−1/);
  });
  it("takes the union of places; a run that ends early is absent behind its end", () => {
    const b = across([table([0, 2, 4], [0, 2, 4]), table([0, 1], [10, 11])], { on: "time" });
    expect([...numbers(b, "time").values]).toEqual([0, 1, 2, 4]);
    expect([...numbers(b, "y.n").values]).toEqual([2, 2, 1, 1]);
    expect([...numbers(b, "y.mean").values]).toEqual([5, 6, 2, 4]);
    expect(across([table([0, 2, 4], [0, 2, 4]), table([0, 1], [10, 11])], { axis: "intersection" }).rows).toBe(2);
    expect(() => across([table([0, 1], [0, 1]), table([2, 3], [0, 1])], { axis: "intersection" })).toThrow(
      /do not overlap/,
    );
  });
  it("converts a run in another unit, and does not depend on which run is in it", () => {
    const b = across([table([0], [273.15]), table([0], [0], "degC")], { on: "time" });
    expect(numbers(b, "y.mean").values[0]).toBeCloseTo(273.15, 12);
    expect(numbers(b, "y.std").unit).toBe("ΔK");
  });
  it("one run alone has no deviation", () => {
    expect(numbers(across([table([0], [1])]), "y.std").values[0]).toBeNaN();
  });
});

describe("against a baseline", () => {
  const t = makeTable([
    numberColumn("fan", "%", [50, 75, 50, 75]),
    numberColumn("open", "s", [40, 40, 80, 80]),
    numberColumn("peak", "degC", [6, 5, 8, 6]),
    numberColumn("back", "s", [600, 400, 900, 0]),
    textColumn("run", ["a", "b", "c", "d"]),
  ]);
  it("pairs each row with the baseline that matches", () => {
    const c = compareTo(t, { fan: 75 }, { match: ["open"] });
    expect([...numbers(c, "peak.diff").values]).toEqual([1, 0, 2, 0]);
    expect(numbers(c, "peak.diff").unit).toBe("ΔK");
    expect([...numbers(c, "back.percent").values]).toEqual([50, 0, NaN, NaN]);
    expect(c.columns.some((x) => x.name === "peak.percent")).toBe(false);
  });
  it("refuses a baseline that is not there, or not one", () => {
    expect(() => compareTo(t, { fan: 60 }, { match: ["open"] })).toThrow(/no row has fan = 60/);
    expect(() => compareTo(t, { fan: 75 })).toThrow(/2 rows have fan = 75; name what tells them apart/);
  });
});
