import { describe, expect, it } from "@jest/globals";
import fc from "fast-check";
import { countPresent, distanceOf, pairwiseSum, RunningSum, sumDistances, sumSteps, type Distances } from "./sums.js";

const value = fc.oneof(
  { weight: 12, arbitrary: fc.double({ min: -1e9, max: 1e9, noNaN: true }) },
  { weight: 1, arbitrary: fc.constantFrom(Number.NaN, Infinity, -Infinity, -0) },
);
// More than the blocks that are added on their own.
const values = fc.array(value, { minLength: 1, maxLength: 700, size: "max" }).map((list) => Float64Array.from(list));
const from: fc.Arbitrary<Distances> = fc.record({
  base: fc.double({ min: -1e9, max: 1e9, noNaN: true }),
  off: fc.double({ min: -10, max: 10, noNaN: true }),
  squared: fc.boolean(),
});

describe("sums of distances and of steps", () => {
  it("property: are to the bit what adding their terms one by one gives", () => {
    fc.assert(
      fc.property(values, from, (v, d) => {
        const term = (i: number): number => (v[i]! === v[i]! ? distanceOf(v[i]!, d) : 0);
        expect(sumDistances(v, d)).toBe(pairwiseSum(term, v.length));
        expect(countPresent(v)).toBe(v.filter((y) => y === y).length);
      }),
      { numRuns: 300 },
    );
  });
  it("property: of steps as well, where a step without a value at an end counts as nothing", () => {
    fc.assert(
      fc.property(values, values, from, (v, x, d) => {
        const n = Math.min(v.length, x.length) - 1;
        const twice = (i: number): number => distanceOf(v[i]!, d) + distanceOf(v[i + 1]!, d);
        const area = (i: number): number => (x[i + 1]! - x[i]!) * 0.5 * twice(i);
        const length = (i: number): number => (Number.isNaN(twice(i)) ? 0 : x[i + 1]! - x[i]!);
        expect(sumSteps(v, d, x, "areas", n)).toBe(pairwiseSum((i) => area(i) || 0, n));
        expect(sumSteps(v, d, x, "lengths", n)).toBe(pairwiseSum(length, n));
      }),
      { numRuns: 300 },
    );
  });
  it("keep digits that a large base would cost", () => {
    const v = Float64Array.from({ length: 1000 }, (_, i) => 1e9 + (i % 10) / 1024);
    const base = v[0]!;
    expect(sumDistances(v, { base, off: 0, squared: false })).toBe(4500 / 1024);
    expect(sumDistances(v, { base, off: 4.5 / 1024, squared: true })).toBe((1000 * 8.25) / 1024 ** 2);
  });
  it("of a running sum keep what rounding drops", () => {
    const s = new RunningSum();
    for (const x of [1, 1e100, 1, -1e100]) s.add(x);
    expect(s.value).toBe(2);
  });
});
