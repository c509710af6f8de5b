import { describe, expect, it } from "@jest/globals";
import { parseFormula } from "../../tables/formula-parser.js";
import { makeTable, numberColumn, type Table } from "../../tables/table.js";
import { fit, fitTable, type Fit, type FitRequest } from "./fit.js";
import { studentQuantile } from "./student.js";

const table = (columns: Record<string, readonly number[]>, units: Record<string, string> = {}): Table =>
  makeTable(Object.entries(columns).map(([n, v]) => numberColumn(n, units[n] ?? "1", Float64Array.from(v))));
const value = (f: Fit, name: string): number => f.terms.find((t) => t.name === name)!.value;
const error = (f: Fit, name: string): number => f.terms.find((t) => t.name === name)!.error;
/** Agreement in so many digits. */
const agrees = (have: number, want: number, digits: number): void =>
  expect(Math.abs(have / want - 1)).toBeLessThan(10 ** -digits);

describe("Student's t", () => {
  it.each([
    [0.975, 1, 12.706204736],
    [0.975, 10, 2.228138852],
    [0.95, 5, 2.015048373],
    [0.995, 30, 2.749995654],
    [0.975, 1000, 1.962339081],
    [0.025, 10, -2.228138852],
  ])("quantile %d with %d degrees of freedom", (p, n, t) => {
    agrees(studentQuantile(p, n), t, 9);
  });
});

describe("data sets with certified values (statistical reference data of a standards institute)", () => {
  it("Norris: a line", () => {
    const pairs = [
      0.1, 0.2, 338.8, 337.4, 118.1, 118.2, 888.0, 884.6, 9.2, 10.1, 228.1, 226.5, 668.5, 666.3, 998.5, 996.3, 449.1,
      448.6, 778.9, 777.0, 559.2, 558.2, 0.3, 0.4, 0.1, 0.6, 778.1, 775.5, 668.8, 666.9, 339.3, 338.0, 448.9, 447.5,
      10.8, 11.6, 557.7, 556.0, 228.3, 228.1, 998.0, 995.8, 888.8, 887.6, 119.6, 120.2, 0.3, 0.3, 0.6, 0.3, 557.6,
      556.8, 339.3, 339.1, 888.0, 887.2, 998.5, 999.0, 778.9, 779.0, 10.2, 11.1, 117.6, 118.3, 228.9, 229.2, 668.4,
      669.1, 449.2, 448.9, 0.2, 0.5,
    ];
    const certified = fit(table({ y: pairs.filter((_, i) => i % 2 === 0), x: pairs.filter((_, i) => i % 2 === 1) }), {
      kind: "linear",
      y: "y",
      x: ["x"],
    });
    agrees(value(certified, "constant"), -0.262323073774029, 11);
    agrees(value(certified, "x"), 1.00211681802045, 13);
    agrees(error(certified, "constant"), 0.232818234301152, 11);
    agrees(error(certified, "x"), 0.429796848199937e-3, 11);
    agrees(certified.residual, 0.884796396144373, 11);
    agrees(certified.rSquared, 0.999993745883712, 12);
  });

  it("Longley: six terms that nearly depend on each other", () => {
    const rows = [
      60323, 83.0, 234289, 2356, 1590, 107608, 1947, 61122, 88.5, 259426, 2325, 1456, 108632, 1948, 60171, 88.2, 258054,
      3682, 1616, 109773, 1949, 61187, 89.5, 284599, 3351, 1650, 110929, 1950, 63221, 96.2, 328975, 2099, 3099, 112075,
      1951, 63639, 98.1, 346999, 1932, 3594, 113270, 1952, 64989, 99.0, 365385, 1870, 3547, 115094, 1953, 63761, 100.0,
      363112, 3578, 3350, 116219, 1954, 66019, 101.2, 397469, 2904, 3048, 117388, 1955, 67857, 104.6, 419180, 2822,
      2857, 118734, 1956, 68169, 108.4, 442769, 2936, 2798, 120445, 1957, 66513, 110.8, 444546, 4681, 2637, 121950,
      1958, 68655, 112.6, 482704, 3813, 2552, 123366, 1959, 69564, 114.2, 502601, 3931, 2514, 125368, 1960, 69331,
      115.7, 518173, 4806, 2572, 127852, 1961, 70551, 116.9, 554894, 4007, 2827, 130081, 1962,
    ];
    const names = ["y", "a", "b", "c", "d", "e", "g"];
    const f = fit(table(Object.fromEntries(names.map((n, k) => [n, rows.filter((_, i) => i % 7 === k)]))), {
      kind: "linear",
      y: "y",
      x: names.slice(1),
    });
    const certified = [
      -3482258.63459582, 15.0618722713733, -0.035819179292591, -2.02022980381683, -1.03322686717359,
      -0.0511041056535807, 1829.15146461355,
    ];
    certified.forEach((v, k) => agrees(f.terms[k]!.value, v, 9));
    agrees(error(f, "constant"), 890420.383607373, 9);
    agrees(error(f, "g"), 455.478499142212, 9);
    agrees(f.residual, 304.854073561965, 9);
    agrees(f.rSquared, 0.995479004577296, 11);
  });

  it("Misra1a: an exponential approach, from far starting values", () => {
    const y = [10.07, 14.73, 17.94, 23.93, 29.61, 35.18, 40.02, 44.82, 50.76, 55.05, 61.01, 66.4, 75.47, 81.78];
    const x = [77.6, 114.9, 141.1, 190.8, 239.9, 289.0, 332.8, 378.4, 434.8, 477.3, 536.8, 593.1, 689.1, 760.0];
    for (const start of [
      { b1: 500, b2: 0.0001 },
      { b1: 250, b2: 0.0005 },
    ]) {
      const f = fit(table({ y, x }), {
        kind: "formula",
        y: "y",
        x: ["x"],
        formula: parseFormula("b1 * (1 - exp(-b2 * x))"),
        start,
      });
      agrees(value(f, "b1"), 2.3894212918e2, 7);
      agrees(value(f, "b2"), 5.5015643181e-4, 7);
      agrees(error(f, "b1"), 2.7070075241, 6);
      agrees(error(f, "b2"), 7.2668688436e-6, 6);
      agrees(f.residual ** 2 * f.freedom, 1.2455138894e-1, 8);
    }
  });
});

describe("laws", () => {
  const xs = [1, 2, 4, 7, 11, 20, 35];
  it("a power law of two variables gives back its constants, with units and what was done", () => {
    const t = table({ Nu: xs.map((re, k) => 0.023 * re ** 0.8 * (k + 1) ** 0.4), Re: xs, Pr: xs.map((_, k) => k + 1) });
    const f = fit(t, { kind: "power", y: "Nu", x: ["Re", "Pr"] });
    expect(f.terms.map((q) => [q.name, Number(q.value.toFixed(10)), q.unit])).toEqual([
      ["C", 0.023, "1"],
      ["Re", 0.8, "1"],
      ["Pr", 0.4, "1"],
    ]);
    expect(f.notes).toContain("fitted to logarithms");
    expect(f.at([100, 3]).value).toBeCloseTo(0.023 * 100 ** 0.8 * 3 ** 0.4, 10);
  });
  it("exponentials and polynomials, with the units of their constants", () => {
    const e = fit(table({ y: xs.map((x) => 5 * Math.exp(-0.2 * x)), x: xs }, { y: "K", x: "s" }), {
      kind: "exponential",
      y: "y",
      x: ["x"],
    });
    expect(e.terms.map((q) => [q.name, Number(q.value.toFixed(10)), q.unit])).toEqual([
      ["A", 5, "K"],
      ["k", -0.2, "1/s"],
    ]);
    const p = fit(table({ y: xs.map((x) => 3 - 2 * x + 0.5 * x * x), x: xs }, { y: "m", x: "s" }), {
      kind: "polynomial",
      y: "y",
      x: ["x"],
      degree: 2,
    });
    expect(p.terms.map((q) => Number(q.value.toFixed(9)))).toEqual([3, -2, 0.5]);
    expect(p.terms[2]!.unit).toBe("m/s^2");
  });
  it("the interval and the band of a line: the closed forms", () => {
    const x = [1, 2, 3, 4, 5];
    const y = [2.1, 3.9, 6.2, 7.8, 10.1];
    const f = fit(table({ x, y }), { kind: "linear", y: "y", x: ["x"] });
    const slope = x.reduce((s, v, i) => s + (v - 3) * y[i]!, 0) / 10;
    const s = Math.sqrt(x.reduce((q, v, i) => q + (y[i]! - (6.02 + slope * (v - 3))) ** 2, 0) / 3);
    const t = studentQuantile(0.975, 3);
    expect(value(f, "x")).toBeCloseTo(slope, 13);
    expect(f.terms[1]!.upper).toBeCloseTo(slope + (t * s) / Math.sqrt(10), 12);
    const at = f.at([6]);
    expect(at.upper - at.value).toBeCloseTo(t * s * Math.sqrt(1 + 1 / 5 + 9 / 10), 12);
  });
  it("weights: a point counted twice is as two points", () => {
    const one = fit(table({ x: [1, 2, 3, 4], y: [1, 3, 2, 5], w: [1, 1, 2, 1] }), {
      kind: "linear",
      y: "y",
      x: ["x"],
      weights: "w",
    });
    const two = fit(table({ x: [1, 2, 3, 3, 4], y: [1, 3, 2, 2, 5] }), { kind: "linear", y: "y", x: ["x"] });
    expect(value(one, "x")).toBeCloseTo(value(two, "x"), 13);
  });
  it("bounds hold a constant", () => {
    const t = table({ x: xs, y: xs.map((x) => 2 * x ** 1.5) });
    const f = fit(t, {
      kind: "formula",
      y: "y",
      x: ["x"],
      formula: parseFormula("C * x^n"),
      start: { C: 1, n: 1 },
      bounds: { n: { upper: 1.2 } },
    });
    expect(value(f, "n")).toBeCloseTo(1.2, 12);
  });
});

describe("what cannot be fitted says why", () => {
  const wrong =
    (t: Table, r: Partial<FitRequest>): (() => Fit) =>
    () =>
      fit(t, { kind: "linear", y: "y", x: ["x"], ...r });
  it("too few points, constant x, dependent terms, logarithms of what is not above zero", () => {
    expect(wrong(table({ x: [1, 2], y: [1, 2] }), {})).toThrow(/2 constants needs more than 2 points; there are 2/);
    expect(wrong(table({ x: [3, 3, 3], y: [1, 2, 4] }), {})).toThrow(/"x" is the same at all 3 points/);
    expect(wrong(table({ x: [1, 2, 3, 4], z: [2, 4, 6, 8], y: [1, 2, 4, 3] }), { x: ["x", "z"] })).toThrow(
      /depend on each other/,
    );
    const f = fit(table({ x: [1, 2, 3, -4, 5], y: [1, Number.NaN, 9, 16, 25] }), { kind: "power", y: "y", x: ["x"] });
    expect(f.notes.slice(0, 2)).toEqual([
      "1 of 5 rows with a missing value are left out",
      "1 of 5 rows are not above zero, have no logarithm, and are left out",
    ]);
    expect(
      wrong(table({ x: [1, 2, 3], y: [1, 2, 3] }), {
        kind: "formula",
        formula: parseFormula("a * x + b"),
        start: { a: 1 },
      }),
    ).toThrow(/"b" in the formula/);
  });
});

it("of a y that does not change has no R², and says so", () => {
  const t = makeTable([
    numberColumn("x", "s", [40, 80, 120, 160]),
    numberColumn("y", "K", [275.225, 275.225, 275.225, 275.225]),
  ]);
  const f = fit(t, { kind: "linear", y: "y", x: ["x"] });
  expect(f.rSquared).toBeNaN();
  expect(fitTable(f, 0.95, { kind: "linear", y: "y", x: ["x"] }).notes.join()).toMatch(/no R², as y does not change/);
});
