import { describe, expect, it } from "@jest/globals";
import { inOneUnit, lineChart, numbersOf, unitOf, valueAt, type RunAnswer, type Sampled } from "./answers";

const sampled = (...columns: Sampled["columns"]): Sampled => ({ columns, notes: [] });
const answer = (run: string, data: Sampled | undefined): RunAnswer => ({ run, data, error: undefined, busy: false });
const along = (unit: string | null, values: (number | null)[], distance: string | null = "m"): Sampled =>
  sampled(
    { name: "distance", unit: distance, values: values.map((_, i) => i) },
    { name: "T", unit, values },
    { name: "run", unit: null, values: values.map(() => "a") },
  );

describe("what several runs give at a site", () => {
  it("is brought to the units of the first run that gives something", () => {
    const [none, a, b] = inOneUnit([
      answer("none", undefined),
      answer("a", along("degC", [0, 10, null])),
      answer("b", along("K", [273.15, null, 293.15], "mm")),
    ]);
    expect(none!.data).toBeUndefined();
    expect(a!.data!.columns.map((c) => c.values)).toEqual([
      [0, 1, 2],
      [0, 10, null],
      ["a", "a", "a"],
    ]);
    expect([unitOf(b!.data, "T"), unitOf(b!.data, "distance"), unitOf(b!.data, "p")]).toEqual(["degC", "m", undefined]);
    const T = Array.from(numbersOf(b!.data, "T"));
    expect([T[0], T[1], T[2]]).toEqual([expect.closeTo(0, 9), Number.NaN, expect.closeTo(20, 9)]);
    expect(Array.from(numbersOf(b!.data, "distance"))).toEqual([0, 0.001, 0.002]);
  });
  it("is left out with the reason where it has no such unit", () => {
    const [a, b, c] = inOneUnit([
      answer("a", along("K", [1, 2])),
      answer("b", along("Pa", [1, 2])),
      answer("c", along(null, [1, 2])),
    ]);
    expect([a!.data === undefined, b!.data, c!.data]).toEqual([false, undefined, undefined]);
    expect(b!.error).toEqual({ message: 'b: "T" is in Pa, and in K in a: it is left out here' });
    expect(c!.error).toEqual({ message: 'c: "T" is without a unit, and in K in a: it is left out here' });
  });
  it("stays as it is where all have the same units, and where there is none", () => {
    const answers = [answer("a", along(null, [1])), answer("b", along(null, [2]))];
    expect(inOneUnit(answers).map((r) => r.data)).toEqual(answers.map((r) => r.data));
    expect(inOneUnit([])).toEqual([]);
    expect(numbersOf(undefined, "T")).toHaveLength(0);
  });
  it("is one chart in one unit", () => {
    const answers = inOneUnit([
      answer("none", undefined),
      answer("a", along("degC", [0, 10])),
      answer("b", along("K", [283.15, 273.15])),
    ]);
    const chart = lineChart(answers, "T")!;
    expect([chart.x.unit, chart.y.unit, chart.series.map((s) => s.name)]).toEqual(["m", "degC", ["a", "b"]]);
    expect(Array.from(chart.series[1]!.y)).toEqual([expect.closeTo(10, 9), expect.closeTo(0, 9)]);
    expect(lineChart(answers.slice(0, 1), "T")).toBeUndefined();
    expect([0.4, 0.6, 9].map((d) => valueAt(answers[1]!.data, "T", d))).toEqual([0, 10, 10]);
    expect(valueAt(undefined, "T", 0)).toBeNaN();
  });
});
