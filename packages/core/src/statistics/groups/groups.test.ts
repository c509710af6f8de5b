import { describe, expect, it } from "@jest/globals";
import { column, makeTable, numberColumn, numbers, textColumn, type Table } from "../../tables/table.js";
import { balance } from "./balance.js";
import { correlate, correlations } from "./correlation.js";
import { effects, sensitivities } from "./effects.js";
import { bins, groupBy, pivot } from "./group.js";
import { pairs } from "./pairs.js";
import { outliers, rank } from "./rank.js";

const fan = [50, 50, 50, 75, 75, 75, 100, 100, 100];
const open = [40, 80, 160, 40, 80, 160, 40, 80, 160];
const peak = [5.1, 6.2, 8.9, 4.0, 4.9, 7.1, 3.2, 4.1, 5.8];
const study = makeTable([
  textColumn(
    "run",
    fan.map((f, i) => `${f}_${open[i]!}`),
  ),
  numberColumn("fan", "%", fan),
  numberColumn("open", "s", open),
  numberColumn("peak", "degC", peak),
]);
const values = (t: Table, name: string): number[] => Array.from(numbers(t, name).values);
const words = (t: Table, name: string): string[] => column(t, name).values as string[];

describe("groups", () => {
  it("have statistics of their rows", () => {
    const g = groupBy(study, ["fan"], { columns: ["peak"] });
    expect(values(g, "fan")).toEqual([50, 75, 100]);
    expect(values(g, "n")).toEqual([3, 3, 3]);
    expect(values(g, "peak.mean")[0]).toBeCloseTo(20.2 / 3, 14);
    expect(values(g, "peak.std")[2]).toBeCloseTo(
      Math.sqrt(((3.2 - 13.1 / 3) ** 2 + (4.1 - 13.1 / 3) ** 2 + (5.8 - 13.1 / 3) ** 2) / 2),
      14,
    );
    expect(numbers(g, "peak.std").unit).toBe("ΔK");
    expect(g.axis).toBe("fan");
  });
  it("pass over missing values but count their rows", () => {
    const t = makeTable([textColumn("k", ["a", "a", "b"]), numberColumn("y", "m", [1, Number.NaN, Number.NaN])]);
    const g = groupBy(t, ["k"], { show: ["count", "mean", "median", "sum"] });
    expect(values(g, "n")).toEqual([2, 1]);
    expect(values(g, "y.count")).toEqual([1, 0]);
    expect(values(g, "y.median")).toEqual([1, Number.NaN]);
    expect(values(g, "y.sum")).toEqual([1, Number.NaN]);
  });
  it("turn about to one column a level; an empty place is blank, a double one averaged and said", () => {
    const p = pivot(study, { rows: ["open"], columns: "fan", values: "peak" });
    expect(p.columns.map((c) => c.name)).toEqual(["open", "fan 50", "fan 75", "fan 100"]);
    expect(values(p, "fan 75")).toEqual([4, 4.9, 7.1]);
    const t = makeTable([
      textColumn("a", ["x", "x", "y"]),
      textColumn("b", ["p", "p", "q"]),
      numberColumn("v", "1", [1, 3, 5]),
    ]);
    const d = pivot(t, { rows: ["a"], columns: "b", values: "v" });
    expect(values(d, "b p")).toEqual([2, Number.NaN]);
    expect(d.notes.join()).toMatch(/1 places hold several rows/);
  });
  it("fall into bins, the empty ones blank", () => {
    const b = bins(study, "open", { edges: [0, 60, 70, 200], columns: ["peak"], show: ["max"] });
    expect(values(b, "n")).toEqual([3, 0, 6]);
    expect(values(b, "peak.max")).toEqual([5.1, Number.NaN, 8.9]);
  });
});

describe("balance of like columns", () => {
  const t = makeTable(
    [
      numberColumn("time", "s", [0, 1]),
      numberColumn("a", "kg", [2, 1]),
      numberColumn("b", "g", [1000, 1000]),
      numberColumn("c", "kg", [0, Number.NaN]),
    ],
    { axis: "time" },
  );
  it("converts units, names who governs, and gives most over mean", () => {
    const b = balance(t, ["a", "b", "c"]);
    expect(values(b, "mean")).toEqual([1, 1]);
    expect(values(b, "imbalance")).toEqual([1, 0]);
    expect(values(b, "spread")).toEqual([2, 0]);
    expect(words(b, "maxColumn")).toEqual(["a", "a"]);
    expect(words(b, "minColumn")).toEqual(["c", "a"]);
  });
  it("needs two columns of one kind", () => {
    expect(() => balance(t, ["a"])).toThrow(/at least two/);
    expect(() => balance(t, ["a", "time"])).toThrow(/kg|s/);
  });
});

describe("order", () => {
  it("ranks with shared places, missing last", () => {
    const r = rank(makeTable([numberColumn("y", "1", [3, 5, 5, Number.NaN, 1])]), "y");
    expect(values(r, "y")).toEqual([5, 5, 3, 1, Number.NaN]);
    expect(values(r, "y.rank")).toEqual([1, 1, 3, 4, Number.NaN]);
  });
  it.each([
    ["quartiles", ["", "", "", "", "", "high"]],
    ["median", ["", "", "", "", "", "high"]],
    ["deviation", ["", "", "", "", "", ""]],
  ] as const)("finds outliers by %s", (rule, wanted) => {
    const t = makeTable([numberColumn("y", "m", [10, 11, 12, 11.5, 10.5, 40])]);
    const o = outliers(t, "y", { rule });
    expect(words(o, "y.outlier")).toEqual(wanted);
    expect(o.notes.join()).toMatch(/outlier/);
  });
  it("computes the modified z-score as its authors do", () => {
    // Median 11.25, MAD 0.75: 40 lies at 0.6745 · 28.75 / 0.75 = 25.86.
    const t = makeTable([numberColumn("y", "m", [10, 11, 12, 11.5, 10.5, 40])]);
    expect(words(outliers(t, "y", { rule: "median", limit: 25.8 }), "y.outlier")[5]).toBe("high");
    expect(words(outliers(t, "y", { rule: "median", limit: 25.9 }), "y.outlier")[5]).toBe("");
  });
  it("needs enough values", () => {
    expect(() => outliers(makeTable([numberColumn("y", "m", [1, 2])]), "y")).toThrow(/needs 4 values/);
  });
});

describe("correlation", () => {
  const index = Array.from({ length: 40 }, (_, i) => i);
  const a = index.map((i) => Math.exp(Math.sin(0.7 * i)));
  const b = index.map((i) => a[i]! ** 2 + 0.3 * Math.cos(1.3 * i));
  it("agrees with independent values: r, its p-value, ρ, ρ with ties", () => {
    const c = correlate(Float64Array.from(a), Float64Array.from(b));
    expect(c.pearson).toBeCloseTo(0.9762994286902974, 13);
    expect(c.pValue / 7.255978562048582e-27).toBeCloseTo(1, 8);
    expect(c.spearman).toBeCloseTo(0.9590994371482177, 13);
    expect(
      correlate(Float64Array.of(1, 2, 2, 3, 4, 4, 4, 5), Float64Array.of(2, 1, 3, 3, 5, 4, 6, 6)).spearman,
    ).toBeCloseTo(0.9007775105401477, 13);
  });
  it("is a row a pair, and blank with its reason where there is none", () => {
    const t = makeTable([
      numberColumn("a", "m", [1, 2, 3]),
      numberColumn("b", "m", [2, 4, 6]),
      numberColumn("c", "m", [1, 1, 1]),
    ]);
    const c = correlations(t, []);
    expect(words(c, "first").map((f, i) => f + words(c, "second")[i]!)).toEqual(["ab", "ac", "bc"]);
    expect(values(c, "pearson")).toEqual([1, Number.NaN, Number.NaN]);
    expect(c.notes.join()).toMatch(/"a" and "c": one of the two does not change/);
  });
});

describe("effects of parameters", () => {
  it("and their shares agree with an independent analysis of variance", () => {
    const e = effects(study, "peak", ["fan", "open"]);
    expect(values(e, "etaSquared")[0]).toBeCloseTo(0.3437331415213095, 12);
    expect(values(e, "etaSquared")[3]).toBeCloseTo(0.639363423844632, 12);
    expect(
      values(e, "effect")
        .slice(0, 3)
        .reduce((s, v) => s + v, 0),
    ).toBeCloseTo(0, 12);
    expect(numbers(e, "effect").unit).toBe("ΔK");
    expect(e.notes[0]).toMatch(/all combinations equally often/);
  });
  it("are said to be mixed when combinations are missing", () => {
    const part = makeTable(
      study.columns.map((c) =>
        c.kind === "text" ? textColumn(c.name, c.values.slice(0, 8)) : { ...c, values: c.values.slice(0, 8) },
      ),
    );
    expect(effects(part, "peak", ["fan", "open"]).notes[0]).toMatch(/may hold something of another/);
  });
  it("standardised agree with an independent regression: coefficients, intervals, R²", () => {
    const s = sensitivities(study, "peak", ["fan", "open"]);
    expect(words(s, "parameter")).toEqual(["open", "fan"]);
    expect(values(s, "sensitivity")[0]).toBeCloseTo(0.7992164194981016, 12);
    expect(values(s, "sensitivity")[1]).toBeCloseTo(-0.5830389046392733, 12);
    expect(values(s, "upper")[0]! - values(s, "sensitivity")[0]!).toBeCloseTo(0.1458557559423078, 11);
    expect(s.notes[0]).toMatch(/R² 0\.9787/);
  });
  it("take two words as 0 and 1, and refuse three, or a parameter that stands still", () => {
    const t = makeTable([
      numberColumn("y", "1", [1, 2, 3, 4.5]),
      textColumn("k", ["a", "b", "a", "b"]),
      textColumn("w", ["a", "b", "c", "a"]),
      numberColumn("c", "1", [1, 1, 1, 1]),
    ]);
    expect(sensitivities(t, "y", ["k"]).notes[1]).toBe('"k": a = 0, b = 1');
    expect(() => sensitivities(t, "y", ["w"])).toThrow(/3 words/);
    expect(() => sensitivities(t, "y", ["c"])).toThrow(/same value in all 4 rows/);
  });
});

describe("pairs that differ in one parameter", () => {
  it("find their partners and say how many have none", () => {
    const p = pairs(study, { fan: 75, open: 80 });
    expect(p.rows).toBe(12);
    const k = words(p, "run").indexOf("50_160");
    expect([words(p, "parameter")[k], words(p, "from")[k], words(p, "to")[k], words(p, "baseline")[k]]).toEqual([
      "fan",
      "75",
      "50",
      "75_160",
    ]);
    expect(values(p, "peak.diff")[k]).toBeCloseTo(1.8, 12);
    expect(numbers(p, "peak.diff").unit).toBe("ΔK");
    const few = makeTable(
      study.columns.map((c) =>
        c.kind === "text" ? textColumn(c.name, c.values.slice(0, 4)) : { ...c, values: c.values.slice(0, 4) },
      ),
    );
    expect(pairs(few, { fan: 50, open: 40 }).notes.at(-1)).not.toMatch(/without a partner/);
    expect(pairs(few, { fan: 75, open: 40 }).notes.at(-1)).toMatch(/without a partner/);
  });
  it("are refused when there are none", () => {
    expect(() => pairs(study, { fan: 60 })).toThrow(/no two rows/);
  });
});
