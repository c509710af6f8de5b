import { describe, expect, it } from "@jest/globals";
import { viewPart } from "@oxtrum/core/sampling";
import { makeTable, numberColumn } from "@oxtrum/core/tables";
import { pictureOperation } from "./picture.js";
import type { Outcome } from "./values.js";

/** One triangle with its values, as a view has it. */
function view(values: readonly number[], unit: string | null = "K", length: string | null = "m"): Outcome {
  const corner = (x: readonly number[]): ReturnType<typeof numberColumn>["values"] => Float64Array.from(x);
  const table = makeTable([
    numberColumn("part", "1", [viewPart.triangle, viewPart.triangle, viewPart.triangle]),
    numberColumn("x", length, corner([0, 1, 0])),
    numberColumn("y", length, corner([0, 0, 1])),
    numberColumn("z", length, corner([0, 0, 0])),
    { ...numberColumn("value", unit, values), label: "T" },
  ]);
  return { kind: "table", table };
}
type Made = Extract<Outcome, { kind: "picture" }>;
const made = (inputs: readonly Outcome[], runs: readonly (string | null)[] = inputs.map((_, k) => `r${k}`)): Made =>
  pictureOperation.run({ runs, missing: [], options: {} }, inputs) as Made;

describe("panels of a picture", () => {
  it("have the units of the first: values, and lengths too", () => {
    const { picture, left } = made([view([0, 10, 20], "degC"), view([273.15, 283.15, 293.15], "K", "mm")]);
    expect(left).toEqual([]);
    expect(picture.color).toMatchObject({ unit: "degC", min: 0 });
    expect(picture.color!.max).toBeCloseTo(20, 9);
    const [a, b] = picture.panels.map((p) => p.scene);
    Array.from(b!.values).forEach((v, k) => expect(v).toBeCloseTo(a!.values[k]!, 9));
    expect(Array.from(b!.triangles, (v) => Math.round(1e6 * v))).toEqual(Array.from(a!.triangles, (v) => 1e3 * v));
  });
  it.each([
    ["another kind of unit", view([1, 2, 3], "Pa"), /Pa.*K|K.*Pa/],
    ["no unit", view([1, 2, 3], null), /^its values have no unit, and the unit K in the first panel$/],
    ["no unit of length", view([1, 2, 3], "K", null), /^its lengths have no unit, and the unit m in the first panel$/],
  ])("leave a run out that has %s, and say so", (_, odd, reason) => {
    const { picture, left, runs } = made([view([1, 2, 3]), odd, view([4, 5, 6])]);
    expect([picture.panels.map((p) => p.title), runs]).toEqual([
      ["r0", "r2"],
      ["r0", "r2"],
    ]);
    expect(left!.map((l) => l.run)).toEqual(["r1"]);
    expect(left![0]!.reason).toMatch(reason);
    // Of one run there is nothing else to show.
    expect(() => made([view([1, 2, 3]), odd], [null, null])).toThrow(reason);
  });
  it("have the range of what is finite; what is infinite is told", () => {
    const { picture, conditions } = made([view([1, Infinity, 3]), view([-Infinity, Number.NaN, 7]), view([2, 2, 2])]);
    expect(picture.color).toMatchObject({ min: 1, max: 7 });
    expect(conditions!.map((c) => [c.run, c.text])).toEqual([
      ["r0", '1 of 3 corners of "T" is not drawn: infinite'],
      ["r1", '1 of 3 corners of "T" is not drawn: infinite'],
    ]);
    expect(made([view([1, Number.NaN, 3])]).conditions).toBeUndefined();
  });
});
