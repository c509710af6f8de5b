import { describe, expect, it } from "@jest/globals";
import fc from "fast-check";
import { makeTable, numberColumn, numbers, textColumn, type Table } from "../tables/index.js";
import { across, bandStatistics } from "./across.js";

interface Run {
  /** Times in whole steps of half a second, each once, in any order. */
  readonly at: readonly number[];
  readonly y: readonly number[];
  readonly unit: "s" | "min" | "ms";
}
const perSecond = { s: 1, min: 1 / 60, ms: 1000 } as const;

const run: fc.Arbitrary<Run> = fc
  .uniqueArray(fc.integer({ min: 0, max: 40 }), { minLength: 1, maxLength: 12 })
  .chain((at) =>
    fc.record({
      at: fc.constant(at),
      y: fc.array(fc.oneof({ weight: 8, arbitrary: fc.integer({ min: -9, max: 9 }) }, fc.constant(Number.NaN)), {
        minLength: at.length,
        maxLength: at.length,
      }),
      unit: fc.constantFrom("s" as const, "min" as const, "ms" as const),
    }),
  );
const tableOf = ({ at, y, unit }: Run): Table =>
  makeTable(
    [
      numberColumn(
        "time",
        unit,
        at.map((k) => (k / 2) * perSecond[unit]),
      ),
      numberColumn("y", "K", y),
    ],
    { axis: "time" },
  );

/** A run's value at a time by definition: of its row there, else on the line between the rows beside it. */
function valueAt({ at, y }: Run, k: number): number {
  const rows = at.map((t, i) => [t, y[i]!] as const).sort((a, b) => a[0] - b[0]);
  const exact = rows.find(([t]) => t === k);
  if (exact) return exact[1];
  const after = rows.findIndex(([t]) => t > k);
  if (after <= 0) return Number.NaN;
  const [[a, v], [b, w]] = [rows[after - 1]!, rows[after]!];
  return v + ((w - v) * (k - a)) / (b - a);
}

/** Statistics of the values that are there, by their definitions. */
function statisticsOf(values: readonly number[]): Record<string, number> {
  const there = values.filter((v) => !Number.isNaN(v)).sort((a, b) => a - b);
  const n = there.length;
  const mean = there.reduce((a, b) => a + b, 0) / n;
  const at = (p: number): number => {
    const h = (n - 1) * p;
    return there[Math.floor(h)]! + (h % 1) * ((there[Math.floor(h) + 1] ?? 0) - there[Math.floor(h)]!);
  };
  return {
    n,
    mean,
    std: n > 1 ? Math.sqrt(there.reduce((a, v) => a + (v - mean) ** 2, 0) / (n - 1)) : Number.NaN,
    min: there[0] ?? Number.NaN,
    max: there[n - 1] ?? Number.NaN,
    p25: n > 0 ? at(0.25) : Number.NaN,
  };
}

describe("statistics across runs", () => {
  it("property: are those of the runs' values at each place, whatever the order and unit of their rows", () => {
    fc.assert(
      fc.property(fc.array(run, { minLength: 1, maxLength: 5 }), fc.boolean(), (runs, isUnion) => {
        const low = Math.max(...runs.map((r) => Math.min(...r.at)));
        const high = Math.min(...runs.map((r) => Math.max(...r.at)));
        fc.pre(isUnion || low <= high);
        const places = [...new Set(runs.flatMap((r) => r.at))]
          .filter((k) => isUnion || (k >= low && k <= high))
          .sort((a, b) => a - b);
        const band = across(runs.map(tableOf), { axis: isUnion ? "union" : "intersection", percentiles: [25] });
        const { unit, values } = numbers(band, "time");
        expect(unit).toBe(runs[0]!.unit);
        expect(values).toHaveLength(places.length);
        const scale = perSecond[runs[0]!.unit];
        for (const [i, k] of places.entries()) {
          expect(values[i]! / scale).toBeCloseTo(k / 2, 9);
          const wanted = statisticsOf(runs.map((r) => valueAt(r, k)));
          for (const [name, v] of Object.entries(wanted)) {
            const found = numbers(band, `y.${name}`).values[i]!;
            if (Number.isNaN(v)) expect([k, name, found]).toEqual([k, name, Number.NaN]);
            else expect(Math.abs(found - v)).toBeLessThan(1e-9);
          }
        }
      }),
      { numRuns: 150 },
    );
  });
  it("by a step have places from where all runs have begun to where the first one ends", () => {
    const runs = [
      { at: [0, 8], y: [0, 8], unit: "s" as const },
      { at: [2, 7], y: [12, 17], unit: "ms" as const },
    ];
    const band = across(runs.map(tableOf), { axis: { step: 1 } });
    expect(Array.from(numbers(band, "time").values)).toEqual([1, 2, 3]);
    expect(Array.from(numbers(band, "y.mean").values)).toEqual([7, 9, 11]);
    expect(band.notes.join()).toContain("a step of 1 where all runs are, linear between rows");
  });
  it("have at places of fewer runs a note that says so, and of one run no deviation", () => {
    const runs = [
      { at: [0, 4], y: [1, 1], unit: "s" as const },
      { at: [0, 2], y: [3, 3], unit: "s" as const },
    ];
    const band = across(runs.map(tableOf), { confidence: 0.9 });
    expect(band.notes.join()).toContain('"y": fewer than 2 runs at 1 of 3 places, 1 at least');
    for (const name of ["std", "lower", "upper"]) expect(numbers(band, `y.${name}`).values[2]).toBeNaN();
    expect(across(runs.slice(0, 1).map(tableOf)).notes.join()).toContain("one run alone");
  });
  it("are of the columns that all runs have as numbers, without words and passes", () => {
    const more = (name: string, ...columns: Parameters<typeof makeTable>[0][number][]): Table =>
      makeTable(
        [numberColumn("time", "s", [0]), numberColumn("T", "K", [1]), numberColumn("pass", "1", [1]), ...columns],
        {
          axis: "time",
          notes: [name],
        },
      );
    const band = across([
      more("a", textColumn("word", ["x"]), numberColumn("p", "Pa", [1])),
      more("b", textColumn("word", ["y"]), textColumn("p", ["?"])),
    ]);
    expect(band.columns.map((c) => c.name)).toEqual(["time", ...bandStatistics.map((s) => `T.${s}`)]);
  });
  it("say which run governs: the first of equal ones, and none where no run has a value", () => {
    const of = (...y: number[]): Table =>
      makeTable([numberColumn("time", "s", [0, 1, 2]), numberColumn("y", "K", y)], { axis: "time" });
    const band = across([of(1, 5, Number.NaN), of(3, 5, Number.NaN), of(2, 4, Number.NaN)], {
      governing: ["a", "b", "c"],
    });
    const words = (name: string): unknown => band.columns.find((c) => c.name === name)!.values;
    expect([words("y.maxRun"), words("y.minRun")]).toEqual([
      ["b", "a", ""],
      ["a", "c", ""],
    ]);
    expect(Array.from(numbers(band, "y.n").values)).toEqual([3, 3, 0]);
  });
  it("of runs that do not agree are refused", () => {
    const of = (time: string | null, unit: string | null): Table =>
      makeTable([numberColumn("time", time, [0, 1]), numberColumn("y", unit, [1, 2])], { axis: "time" });
    expect(() => across([])).toThrow(/at least one run/);
    expect(() => across([of("s", "K"), of(null, "K")])).toThrow(/the unit of "time" is known in some runs only/);
    expect(() => across([of("s", "K"), of("s", null)])).toThrow(/the unit of "y" is known in some runs only/);
    expect(() => across([of("s", "K"), of("m", "K")])).toThrow(/m.*s|s.*m/);
    expect(() => across([of("s", "K"), of("s", "Pa")])).toThrow(/K|Pa/);
    expect(() => across([of("s", "K")], { columns: ["T"] })).toThrow(/"T"/);
    const empty = makeTable([numberColumn("time", "s", []), numberColumn("y", "K", [])], { axis: "time" });
    expect(across([empty, empty]).rows).toBe(0);
    expect(() => across([empty, empty], { axis: { step: 1 } })).toThrow(/no run has a row/);
  });
});
