import { describe, expect, it } from "@jest/globals";
import { column, makeTable, numberColumn, numbers, type Table } from "../tables/table.js";
import { across } from "./across.js";
import { against, agreementTable } from "./against.js";
import { together } from "./together.js";

const table = (x: number[], y: number[], unit: string | null = "m", axis = "s", name = "y"): Table =>
  makeTable([numberColumn("time", axis, x), numberColumn(name, unit, y)], { axis: "time" });

describe("against a reference", () => {
  const mine = table([0, 1, 2, 3, 4], [0, 2, 4, 6, 8]);
  it("takes the reference's places, straight lines between, and computes each alike", () => {
    const a = against(mine, table([0.5, 1.5, 2.5], [0, 3, 6]), { y: "y", within: { amount: 0.5 } });
    // Differences 1, 0, −1.
    expect([a.bias, a.rms, a.within, a.count]).toEqual([0, Math.sqrt(2 / 3), 1 / 3, 3]);
    expect([a.largest, a.where]).toEqual([1, 0.5]);
    expect(Array.from(numbers(a.side, "difference").values)).toEqual([1, 0, -1]);
  });
  it("aligns units of axis and column", () => {
    const a = against(mine, table([1 / 60, 2 / 60], [200, 400], "cm", "min"), { y: "y" });
    expect(a.rms).toBeCloseTo(0, 12);
    const t = against(table([0, 1], [0, 10], "degC"), table([0, 1], [273.15, 282.15], "K"), { y: "y" });
    expect(t.bias).toBeCloseTo(0.5, 12);
    expect(t.differenceUnit).toBe("ΔK");
    expect(t.side.columns.map((c) => c.name)).not.toContain("percent");
  });
  it("counts a share of the reference within a percentage, but not of °C", () => {
    const a = against(mine, table([1, 2, 3], [2.1, 4.3, 6]), { y: "y", within: { relative: 0.05 } });
    expect(a.within).toBeCloseTo(2 / 3, 12);
    expect(() =>
      against(table([0], [1], "degC"), table([0], [1], "degC"), { y: "y", within: { relative: 0.05 } }),
    ).toThrow(/says nothing/);
  });
  it("estimates the shift of a clock", () => {
    const f = (s: number): number => Math.exp(-(((s - 50) / 10) ** 2));
    const x = Array.from({ length: 120 }, (_, i) => i);
    const a = against(
      table(x, x.map(f)),
      table(
        x,
        x.map((s) => f(s + 7)),
        "m",
        "s",
        "L",
      ),
      { y: "y", reference: "L", shift: "estimate", maxLag: 20 },
    );
    expect(a.shift).toBeCloseTo(-7, 2);
    expect(a.rms).toBeLessThan(2e-3);
    expect(against(mine, mine, { y: "y", shift: 1 }).bias).toBeCloseTo(-2, 12);
  });
  it("says what does not fit: no overlap, unknown units, no rows, no tolerance", () => {
    expect(() => against(mine, table([10, 11], [1, 2]), { y: "y" })).toThrow(
      /runs from 0 to 4, the reference from 10 to 11/,
    );
    expect(() => against(mine, table([0, 1], [1, 2], null), { y: "y" })).toThrow(/unknown/);
    expect(() => against(mine, table([], []), { y: "y" })).toThrow(/no rows/);
    const rows = agreementTable(against(mine, mine, { y: "y" }));
    expect(column(rows, "measure").values).not.toContain("within");
  });
  it("counts places without a partner, and passes over gaps", () => {
    const a = against(mine, table([-1, 1, 2, 9], [0, 2, Number.NaN, 3]), { y: "y" });
    expect([a.count, a.outside]).toEqual([1, 3]);
  });
});

describe("several tables together", () => {
  const a = table([0, 1, 2], [0, 1, 2]);
  const b = table([0.5, 1.5, 2.5], [10, 20, 30]);
  it.each([
    ["union", [0, 0.5, 1, 1.5, 2, 2.5]],
    ["intersection", [0.5, 1, 1.5, 2]],
  ] as const)("stand on the %s of their places", (axis, places) => {
    const t = together({ a, b }, { axis });
    expect(Array.from(numbers(t, "time").values)).toEqual(places);
    expect(numbers(t, "b.y").values[places.indexOf(1 as never)]).toBe(15);
  });
  it("or on a step where all are, and are refused without overlap", () => {
    expect(together({ a, b }, { axis: { step: 0.5 } }).rows).toBe(4);
    expect(() => together({ a, b: table([8, 9], [1, 2]) }, { axis: "intersection" })).toThrow(/do not overlap/);
  });
});

describe("a band's intervals and governing runs", () => {
  const runs = [3.1, 2.9, 3.4, 3.0, 3.3].map((v) => table([0, 1], [v, 2 * v]));
  it("are those of Student's t, as computed independently", () => {
    const b = across(runs, { confidence: 0.95, governing: ["a", "b", "c", "d", "e"] });
    expect(numbers(b, "y.lower").values[0]).toBeCloseTo(2.882523073207092, 12);
    expect(numbers(b, "y.upper").values[0]).toBeCloseTo(3.3974769267929075, 12);
    expect(column(b, "y.maxRun").values).toEqual(["c", "c"]);
    expect(column(b, "y.minRun").values).toEqual(["b", "b"]);
  });
  it("of one run alone are blank, and that is said", () => {
    const b = across(runs.slice(0, 1), { confidence: 0.9 });
    expect(numbers(b, "y.lower").values[0]).toBeNaN();
    expect(b.notes.at(-1)).toMatch(/one run alone/);
  });
});
