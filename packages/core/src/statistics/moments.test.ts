import { describe, expect, it } from "@jest/globals";
import { parseFormula } from "../tables/formula-parser.js";
import { makeTable, numberColumn, numbers, textColumn, type Table } from "../tables/table.js";
import { across } from "./across.js";
import { mean, percentile, std } from "./descriptive.js";
import { describeColumns, exceedance, histogram, kurtosis, running, skewness } from "./moments.js";
import { reduceFormula } from "./reduction-formula.js";

const signal = (i: number): number => Math.sin(0.3 * i) + 0.25 * Math.cos(2.1 * i) + 0.01 * i;
const column = (values: ArrayLike<number>, unit: string | null = "m"): Table =>
  makeTable([numberColumn("y", unit, values)]);
const wave = column(Float64Array.from({ length: 200 }, (_, i) => signal(i)));
const timed = (x: number[], y: number[], unit = "K"): Table =>
  makeTable([numberColumn("time", "s", x), numberColumn("y", unit, y)], { axis: "time" });

describe("a large offset", () => {
  // Multiples of 2⁻²⁰ beside 10⁹ are exact, so that nothing but the computing itself can lose digits.
  const small = Float64Array.from(
    { length: 501 },
    (_, i) => Math.round(2 ** 10 * (signal(i) + signal(7 * i) ** 2)) / 2 ** 20,
  );
  const far = column(small.map((v) => v + 1e9));
  const near = column(small);
  it.each([
    ["deviation", (t: Table) => std(t, "y").value],
    [
      "deviation along an axis",
      (t: Table) =>
        std(
          {
            ...t,
            columns: [
              ...t.columns,
              numberColumn(
                "time",
                "s",
                small.map((_, i) => i),
              ),
            ],
            axis: "time",
          },
          "y",
        ).value,
    ],
    ["skewness", (t: Table) => skewness(t, "y").value],
    ["kurtosis", (t: Table) => kurtosis(t, "y").value],
    ["described deviation", (t: Table) => numbers(describeColumns(t, ["y"]), "std").values[0]!],
    [
      "deviation across runs",
      (t: Table) =>
        numbers(
          across(
            [t, column(numbers(t, "y").values.slice().reverse())].map((x) => ({
              ...x,
              columns: [
                ...x.columns,
                numberColumn(
                  "time",
                  "s",
                  small.map((_, i) => i),
                ),
              ],
              axis: "time",
            })),
          ),
          "y.std",
        ).values[3]!,
    ],
  ] as const)("leaves the %s as it is", (_, f) => expect(Math.abs(f(far) / f(near) - 1)).toBeLessThan(1e-12));
});

describe("a reduction in a formula", () => {
  it("is the one of its column, the axis' own included", () => {
    const t = timed([0, 1, 2, 10], [3, 5, 4, 8]);
    for (const c of ["y", "time"]) {
      expect(reduceFormula(t, parseFormula(`mean(${c})`)).value).toBe(mean(t, c).value);
      expect(reduceFormula(t, parseFormula(`std(${c})`)).value).toBe(std(t, c).value);
    }
    expect(reduceFormula(t, parseFormula("mean(time)")).value).toBe(13 / 4);
  });
});

describe("mean and deviation", () => {
  const alternating = (first: number, a: number, b: number): number[] => [
    first,
    ...Array.from({ length: 1000 }, (_, i) => (i % 2 ? b : a)),
  ];
  // The four univariate sets of a standards institute that are made to break careless sums, with their certified
  // values.
  it.each([
    ["NumAcc1", [10000001, 10000003, 10000002], 10000002, 1, 1e-15],
    ["NumAcc2", alternating(1.2, 1.1, 1.3), 1.2, 0.1, 1e-13],
    ["NumAcc3", alternating(1000000.2, 1000000.1, 1000000.3), 1000000.2, 0.1, 1e-8],
    ["NumAcc4", alternating(10000000.2, 10000000.1, 10000000.3), 10000000.2, 0.1, 1e-7],
  ] as const)("of %s are the certified ones", (_, values, m, s, tolerance) => {
    const t = column(values);
    expect(Math.abs(mean(t, "y").value / m - 1)).toBeLessThan(1e-15);
    // The data themselves are rounded: 0.1 is what is left of 7 digits less.
    expect(Math.abs(std(t, "y").value / s - 1)).toBeLessThan(tolerance);
  });

  it("of ten million values around 1e9 do not drift: 1e-12", () => {
    const n = 1e7;
    const values = new Float64Array(n);
    for (let i = 0; i < n; i++) values[i] = 1e9 + ((i * 7919) % 1000);
    const t = column(values);
    expect(Math.abs(mean(t, "y").value / (1e9 + 499.5) - 1)).toBeLessThan(1e-15);
    const variance = ((1000 ** 2 - 1) / 12) * (n / (n - 1));
    expect(Math.abs(std(t, "y").value ** 2 / variance - 1)).toBeLessThan(1e-12);
  });
});

describe("the shape of a distribution", () => {
  it("agrees with independent values to 1e-12", () => {
    expect(skewness(wave, "y").value).toBeCloseTo(0.049437059479965864, 12);
    expect(kurtosis(wave, "y").value).toBeCloseTo(-0.6921793421048368, 12);
    expect(std(wave, "y").value).toBeCloseTo(0.9288539719901, 12);
    [5, 50, 95].forEach((p, k) =>
      expect(percentile(wave, "y", p).value).toBeCloseTo(
        [-0.5087718384162795, 0.9880840320038173, 2.601243602198945][k]!,
        12,
      ),
    );
  });
  it("is blank, with the reason, for too few or like values", () => {
    expect(skewness(column([1, 2]), "y").reason).toMatch(/three values/);
    expect(kurtosis(column([1, 2, 3]), "y").reason).toMatch(/four values/);
    expect(skewness(column([2, 2, 2, 2]), "y").reason).toMatch(/alike/);
  });
  it("is told column by column", () => {
    const d = describeColumns(
      makeTable([textColumn("run", ["a", "b", "c", "d"]), numberColumn("T", "degF", [32, 50, 68, Number.NaN])]),
      [],
    );
    expect(d.rows).toBe(1);
    expect(numbers(d, "count").values[0]).toBe(3);
    // 18 °F of deviation are 10 K.
    expect(numbers(d, "std").values[0]).toBeCloseTo(10, 12);
    expect(numbers(d, "p50").values[0]).toBe(50);
  });
});

describe("histogram", () => {
  it("counts as an independent one does", () => {
    expect(Array.from(numbers(histogram(wave, "y", { count: 7 }), "count").values)).toEqual([
      12, 27, 39, 47, 37, 26, 12,
    ]);
    expect(histogram(wave, "y").rows).toBe(9);
  });
  it("has a density that integrates to one, in one over the unit", () => {
    const h = histogram(wave, "y", { width: 0.5 });
    const d = numbers(h, "density");
    expect(d.unit).toBe("1/m");
    expect(d.values.reduce((s, v) => s + 0.5 * v, 0)).toBeCloseTo(1, 12);
    expect(numbers(h, "from").values[0]! / 0.5).toBeCloseTo(Math.round(numbers(h, "from").values[0]! / 0.5), 12);
  });
  it("takes edges, counts what is outside, holds one like value, and refuses falling edges", () => {
    const h = histogram(column([0, 1, 1, 2, 3, Number.NaN]), "y", { edges: [0, 1, 2] });
    expect(Array.from(numbers(h, "count").values)).toEqual([1, 3]);
    expect(h.notes.join()).toMatch(/1 lie outside; 1 are missing/);
    expect(histogram(column([4, 4]), "y").rows).toBe(1);
    expect(() => histogram(wave, "y", { edges: [1, 0] })).toThrow(/rise/);
    expect(() => histogram(wave, "y", { width: 1e-9 })).toThrow(/too many/);
  });
});

describe("time above a level", () => {
  const triangle = timed([0, 1, 2, 3], [0, 2, 0, 2]);
  it("counts the passages exactly", () => {
    expect(exceedance(triangle, "y", 1, "above").value).toBeCloseTo(1.5, 14);
    expect(exceedance(triangle, "y", 0.5, "below").value).toBeCloseTo(0.75, 14);
  });
  it("is whole on a level that is never left, and nothing on one never reached", () => {
    expect(exceedance(triangle, "y", -1, "above").value).toBe(3);
    expect(exceedance(triangle, "y", 5, "above").value).toBe(0);
  });
  it("says which steps had no value", () => {
    expect(exceedance(timed([0, 1, 2], [1, Number.NaN, 1]), "y", 0, "above").reason).toMatch(/no step/);
    expect(exceedance(timed([0, 1, 2, 3], [1, 1, Number.NaN, 1]), "y", 0, "above").method).toMatch(/2 of 3 steps/);
  });
});

it("the largest so far passes over gaps", () => {
  expect(
    Array.from(numbers(running(timed([0, 1, 2, 3], [1, 3, Number.NaN, 2]), "y", "max"), "y.running").values),
  ).toEqual([1, 3, 3, 3]);
});

describe("a number by a formula", () => {
  const t = timed([0, 10, 20], [273.15, 283.15, 278.15]);
  const value = (text: string, table = t): ReturnType<typeof reduceFormula> =>
    reduceFormula(table, parseFormula(text), { limit: { value: 5, unit: "degC" } });
  it("takes whole columns and formulas of them", () => {
    expect(value("range(y)")).toEqual({ value: 10, unit: "ΔK" });
    expect(value("last(y) - limit").value).toBeCloseTo(0, 12);
    expect(value("mean(y)").value).toBeCloseTo(279.4, 10);
    expect(value("max(2 * time) / count(y)").value).toBeCloseTo(40 / 3, 12);
    expect(value("integral(time)").value).toBeCloseTo(200, 12);
  });
  it("says what a bare column would need, and what units do not agree", () => {
    expect(() => value("y / 2")).toThrow(/last\(y\)/);
    expect(() => value("max(y) - max(time)")).toThrow(/K.*s/);
  });
  it("is missing when a part is", () => {
    expect(value("last(y)", timed([0], [Number.NaN])).reason).toMatch(/"y" is missing in the last row/);
  });
});
