import { describe, expect, it } from "@jest/globals";
import { cumulative, derivative, integral } from "../tables/calculus.js";
import { convertColumns } from "../tables/select.js";
import { makeTable, numberColumn, numbers, type Table } from "../tables/table.js";
import { across } from "./across.js";
import { compareTo } from "./baseline.js";
import { std } from "./descriptive.js";
import { histogram } from "./moments.js";
import { parseFormula } from "../tables/formula-parser.js";
import { reduceFormula } from "./reduction-formula.js";
import { spectrum } from "./signals/spectrum.js";

const n = 64;
const time = Float64Array.from({ length: n }, (_, i) => i * 0.5);
const kelvin = Float64Array.from(time, (t) => 300 + 7 * Math.sin(0.9 * t) + 2 * Math.cos(2.1 * t));
const base = makeTable(
  [numberColumn("time", "s", time), numberColumn("T", "K", kelvin), numberColumn("p", "Pa", time)],
  { axis: "time" },
);

/** Differences, spreads and rates of a temperature are in K whatever scale it is given in. */
describe.each(["degC", "degF"])("a temperature in %s", (unit) => {
  const given: Table = convertColumns(base, ["T"], unit);
  const same = (f: (t: Table) => ArrayLike<number>): void => {
    const [a, b] = [Array.from(f(base)), Array.from(f(given))];
    expect(b.length).toBe(a.length);
    const size = Math.max(...a.map(Math.abs).filter((x) => x === x));
    a.forEach((x, i) => (x === x ? expect(Math.abs(b[i]! - x)).toBeLessThan(1e-9 * size) : expect(b[i]).toBeNaN()));
  };
  const inKelvin = (t: Table, name: string): Float64Array => numbers(convertColumns(t, [name], "K"), name).values;
  it("deviates", () => {
    same((t) => [std(t, "T"), std(t, "T", "none")].map((q) => q.value));
    same((t) => [reduceFormula(t, parseFormula("std(T)"))].map((q) => q.value));
  });
  it("changes", () => {
    same((t) => numbers(convertColumns(derivative(t, "T"), ["T.rate"], "K/s"), "T.rate").values);
    same((t) => inKelvin(compareTo(t, { time: 0 }), "T.diff"));
  });
  it("is an axis", () => {
    const along = (t: Table): Table =>
      ({
        ...t,
        columns: t.columns.map((c) => (c.name === "T" ? { ...c, values: numbers(t, "T").values.slice().sort() } : c)),
        axis: "T",
      }) as Table;
    same((t) => [integral(along(t), "p").value]);
    same((t) => numbers(convertColumns(cumulative(along(t), "p"), ["p.integral"], "Pa·K"), "p.integral").values);
    same((t) => numbers(convertColumns(derivative(along(t), "p"), ["p.rate"], "Pa/K"), "p.rate").values);
  });
  it("has a spectrum and a density", () => {
    same((t) => numbers(convertColumns(spectrum(t, "T"), ["T.psd"], "K^2/Hz"), "T.psd").values);
    same((t) => numbers(convertColumns(histogram(t, "T", { count: 5 }), ["density"], "1/K"), "density").values);
  });
  it("spreads across runs", () => {
    same((t) =>
      inKelvin(
        across([
          t,
          {
            ...t,
            columns: [
              t.columns[0]!,
              {
                ...t.columns[1]!,
                values: numbers(t, "T").values.map((v, i) => v + (i % 3) * (unit === "degF" && t !== base ? 1.8 : 1)),
              },
            ],
            axis: "time",
          } as Table,
        ]),
        "T.std",
      ),
    );
  });
});
