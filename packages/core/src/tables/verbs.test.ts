import { describe, expect, it } from "@jest/globals";
import fc from "fast-check";
import {
  column,
  concat,
  convertColumns,
  cumulative,
  derivative,
  derive,
  filterRows,
  formatNumber,
  exactNumber,
  integral,
  join,
  makeTable,
  nearestNames,
  numberColumn,
  numbers,
  pairwiseSum,
  parseFormula,
  evaluateFormula,
  resample,
  rename,
  sortBy,
  textColumn,
  valueAt,
  windowRows,
  type Table,
} from "./index.js";

const range = (n: number, f: (i: number) => number): Float64Array => Float64Array.from({ length: n }, (_, i) => f(i));
const history = (n = 101): Table => {
  const t = range(n, (i) => i / 10);
  return makeTable(
    [
      numberColumn("time", "s", t),
      numberColumn(
        "T",
        "K",
        t.map((x) => 300 + x * x),
      ),
      textColumn(
        "phase",
        Array.from(t, (x) => (x < 5 ? "a" : "b")),
      ),
    ],
    { axis: "time" },
  );
};

describe("table verbs", () => {
  it("refuses a wrong name with the nearest right ones", () => {
    expect(() => column(history(), "tmie")).toThrow(
      /no column "tmie"; there are "time", "T", "phase". Did you mean "time"\?/,
    );
    expect(nearestNames("q", ["T", "p", "Q"])).toEqual(["Q"]);
    expect(nearestNames("T_maen", ["T_max", "T_mean", "time"])[0]).toBe("T_mean");
  });
  it("refuses columns of unequal length and repeated names", () => {
    expect(() => makeTable([numberColumn("a", null, [1]), numberColumn("b", null, [1, 2])])).toThrow(
      /column "b" has 2 rows/,
    );
    expect(() => makeTable([numberColumn("a", null, [1]), numberColumn("a", null, [2])])).toThrow(
      /two columns are called "a"/,
    );
  });
  it("keeps the axis through a new name", () => {
    expect(rename(history(), { time: "t" }).axis).toBe("t");
  });
  it("cuts a window, and says when the table comes short", () => {
    const w = windowRows(history(), "time", [2, 3]);
    expect(w.rows).toBe(11);
    expect(windowRows(history(), "time", [2, 30]).notes[0]).toMatch(/stops at 10 s, the script needs 2 s to 30 s/);
    expect(() => windowRows(history(), "time", [2, 30], { cover: "need" })).toThrow(/stops at 10 s/);
    expect(() => windowRows(history(), "time", [20, 30])).toThrow(/holds no row/);
  });
  it("converts units and refuses where they are unknown", () => {
    expect(numbers(convertColumns(history(), ["T"], "degC"), "T").values[0]).toBeCloseTo(26.85, 12);
    expect(() => convertColumns(makeTable([numberColumn("x", null, [1])]), ["x"], "m")).toThrow(
      /unit of "x" is unknown/,
    );
  });
  it("sorts with missing values last and equal ones in order", () => {
    const t = makeTable([numberColumn("x", null, [2, NaN, 1, 2]), numberColumn("i", null, [0, 1, 2, 3])]);
    expect([...numbers(sortBy(t, "x"), "i").values]).toEqual([2, 0, 3, 1]);
    expect([...numbers(sortBy(t, "x", "falling"), "i").values]).toEqual([0, 3, 2, 1]);
  });
  it("notes rows that a condition cannot decide", () => {
    const t = makeTable([numberColumn("x", "K", [1, NaN, 3])]);
    const keep = evaluateFormula(parseFormula("x > 2 K"), t).values;
    const kept = filterRows(t, keep, "x > 2 K");
    expect(kept.rows).toBe(1);
    expect(kept.notes[0]).toMatch(/1 rows left out because a value is missing/);
  });
  it("puts tables together by name and converts", () => {
    const a = makeTable([numberColumn("T", "K", [300])]);
    const b = makeTable([numberColumn("T", "degC", [0]), numberColumn("p", "Pa", [5])]);
    const c = concat([a, b]);
    expect([...numbers(c, "T").values]).toEqual([300, 273.15]);
    expect(numbers(c, "p").values[0]).toBeNaN();
  });
});

describe("calculus", () => {
  it("integrates and differentiates a parabola", () => {
    const t = history(1001);
    // ∫ 300 + x² dx over 0..100 = 30000 + 1e6/3; the trapezoidal error is h²/12·(b−a)·f'' = 0.01/12·100·2.
    expect(integral(t, "T").value).toBeCloseTo(30000 + 1e6 / 3 + (0.01 / 12) * 100 * 2, 6);
    expect(integral(t, "T").unit).toBe("K s");
    const d = numbers(derivative(t, "T"), "T.rate");
    expect(d.unit).toBe("K/s");
    // Second order formulas are exact for a parabola, also at both ends.
    for (const i of [0, 1, 500, 1000]) expect(d.values[i]).toBeCloseTo(2 * (i / 10), 8);
    expect(numbers(cumulative(t, "T"), "T.integral").values[1000]).toBeCloseTo(integral(t, "T").value, 6);
  });
  it("handles uneven steps", () => {
    const x = Float64Array.of(0, 0.1, 0.5, 0.6, 2);
    const t = makeTable(
      [
        numberColumn("x", "m", x),
        numberColumn(
          "y",
          "1",
          x.map((v) => 3 * v * v - v),
        ),
      ],
      { axis: "x" },
    );
    const d = numbers(derivative(t, "y"), "y.rate").values;
    x.forEach((v, i) => expect(d[i]).toBeCloseTo(6 * v - 1, 10));
  });
  it("refuses an axis that runs back and forth", () => {
    const t = makeTable([numberColumn("x", "s", [0, 1, 0.5]), numberColumn("y", "K", [1, 1, 1])], { axis: "x" });
    expect(() => integral(t, "y")).toThrow(/runs back and forth/);
  });
  it("adds 10⁷ numbers around 10⁹ without drift", () => {
    const n = 1e7;
    expect(pairwiseSum((i) => 1e9 + (i % 2 === 0 ? 0.25 : -0.25), n) / n).toBe(1e9);
  });
});

describe("look-up and common axes", () => {
  it("reads a value at a place", () => {
    expect(valueAt(history(), "T", 5.05).value).toBeCloseTo((325 + 300 + 5.1 ** 2) / 2, 12);
    expect(valueAt(history(), "T", 5, "exact").value).toBe(325);
    expect(valueAt(history(), "T", 5.04, "nearest").value).toBe(325);
    expect(valueAt(history(), "T", 5.04, "exact").reason).toMatch(/no row at time = 5.04 s; the nearest is 5 s/);
    expect(valueAt(history(), "T", 11).reason).toMatch(/outside the table, which runs from 0 s to 10 s/);
    expect(valueAt(history(), "T", "last").value).toBe(400);
  });
  it("reads the same where x runs from far to near", () => {
    const x = range(11, (i) => 10 - i);
    const t = makeTable(
      [
        numberColumn("x", "m", x),
        numberColumn(
          "y",
          "K",
          x.map((v) => 2 * v),
        ),
      ],
      { axis: "x" },
    );
    expect(valueAt(t, "y", 3.5).value).toBe(7);
    expect([...numbers(resample(t, { step: 5 }), "y").values]).toEqual([0, 10, 20]);
  });
  it("joins on the first table's axis, units converted", () => {
    const b = makeTable([numberColumn("time", "min", [0, 1]), numberColumn("q", "W", [0, 60])], { axis: "time" });
    const j = join(history(), b);
    expect(numbers(j, "q").values[50]).toBeCloseTo(5, 12);
  });
  it("property: resampling on the table's own places changes nothing", () => {
    fc.assert(
      fc.property(fc.array(fc.double({ noNaN: true, min: -1e6, max: 1e6 }), { minLength: 2, maxLength: 40 }), (y) => {
        const x = range(y.length, (i) => i * 1.5);
        const t = makeTable([numberColumn("x", "s", x), numberColumn("y", "K", y)], { axis: "x" });
        expect([...numbers(resample(t, { at: [...x] }), "y").values]).toEqual(y);
      }),
    );
  });
});

describe("formulas", () => {
  const t = makeTable([
    numberColumn("Fx", "N", [3, 30]),
    numberColumn("Fy", "kN", [0.004, 0.04]),
    numberColumn("T", "degC", [20, 21]),
    numberColumn("T2", "K", [293.15, 300]),
    numberColumn("u", null, [1, 2]),
    numberColumn("a b", "m", [1, 2]),
  ]);
  const value = (f: string): { values: number[]; unit: string | null } => {
    const r = evaluateFormula(parseFormula(f), t);
    return { values: [...r.values], unit: r.unit };
  };
  it.each([
    ["sqrt(Fx^2 + (Fy)^2)", "N", 5],
    ["Fx + Fy", "N", 7],
    ["-Fx^2", "N^2", -9],
    ["2^3^2", "1", 512],
    ["T - 19 degC", "ΔK", 1],
    ["T + 5 K", "degC", 25],
    ["T2 - T2", "ΔK", 0],
    ["T2 - T", "ΔK", 0],
    ["T2 - 5 K", "K", 288.15],
    ["T2 + (T2 - T)", "K", 293.15],
    ["(T2 - T) + T2", "K", 293.15],
    ["T2 - (T2 - T)", "K", 293.15],
    ["T - (T2 - T)", "degC", 20],
    ["(T2 - T) + 5 K", "K", 5],
    ["(T2 - T) - (T2 - T)", "ΔK", 0],
    ["(T2 - T) / T2", "1", 0],
    ["2 * (T2 - T)", "ΔK", 0],
    ['col("a b") / 2', "m", 0.5],
    ["Fx > 2 N ? 1 : 0", "1", 1],
    ["max(Fx, Fy)", "N", 4],
    ["sin(pi / 2)", "1", 1],
    ["Fx / Fx", "1", 1],
    ["Fy / Fx", "1", 4 / 3],
    ["Fx / T2 * T2", "N", 3],
  ])("%s", (formula, unit, expected) => {
    const r = value(formula);
    expect(r.unit).toBe(unit);
    expect(r.values[0]).toBeCloseTo(expected, 10);
  });
  it.each([
    ["Fx + T2", /"\+" joins Fx \(N\) with T2 \(K\)/],
    ["Fx + u", /Fx \(N\) with u \(unknown unit\): say the unit/],
    ["T + T", /cannot be added/],
    ["T * 2", /°C in a product/],
    ["T - T2", /a temperature or a difference/],
    ["exp(Fx)", /takes a dimensionless value/],
    ["nope(1)", /no function "nope"/],
    ["Fx +", /formula "Fx \+"/],
    ["a = 1", /no place in a formula; compare/],
    ['constructor("x")', /no function "constructor"/],
    ["Fx[1]", /no place in a formula|names stand/],
  ])("%s is refused", (formula, message) => {
    expect(() => value(formula)).toThrow(message);
  });
  it("gives a column in the unit asked for", () => {
    const d = derive(t, "R", parseFormula("sqrt(Fx^2 + Fy^2)"), { unit: "kN" });
    expect(numbers(d, "R").values[1]).toBeCloseTo(0.05, 12);
    expect(() => derive(t, "r", parseFormula("u * 2"), { unit: "m" })).toThrow(/unit of this formula is unknown/);
  });
});

describe("numbers as text", () => {
  it.each([
    [0.1 + 0.2, "0.3"],
    [1801, "1\u202f801"],
    [-0.5, "−0.5"],
    [NaN, "–"],
    [1e-9, "1e-9"],
    [123456789, "1.23457e8"],
    [0, "0"],
    [Infinity, "∞"],
  ])("%p reads %s", (x, text) => expect(formatNumber(x)).toBe(text));
  it("property: numbers in files read back to the same bits", () => {
    fc.assert(
      fc.property(fc.double({ noNaN: true, noDefaultInfinity: true }), (x) =>
        expect(Object.is(Number(exactNumber(x)), x)).toBe(true),
      ),
    );
  });
});
