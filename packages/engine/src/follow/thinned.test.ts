import { describe, expect, it } from "@jest/globals";
import fc from "fast-check";
import { thinnedOn, type ThinnedSoFar } from "./thinned.js";

const curve = (n: number, f = (i: number): number => Math.sin(i / 9)): { x: Float64Array; y: Float64Array } => ({
  x: Float64Array.from({ length: n }, (_, i) => i),
  y: Float64Array.from({ length: n }, (_, i) => f(i)),
});
const ends = (t: ThinnedSoFar): number[] => [t.x[0]!, t.y[0]!, t.x.at(-1)!, t.y.at(-1)!];

describe("a curve that grows", () => {
  it("keeps its extremes, its last row and its order, however it grew", () => {
    fc.assert(
      fc.property(
        fc.array(fc.integer({ min: 0, max: 60 }), { maxLength: 40 }),
        fc.integer({ min: 0, max: 9 }),
        (steps, seed) => {
          const all = curve(3000, (i) => Math.sin(i / 9 + seed) * (i % 97));
          let rows = 300;
          let t = thinnedOn(all.x.subarray(0, rows), all.y.subarray(0, rows), 100, undefined);
          for (const s of steps) {
            rows = Math.min(3000, rows + s);
            const [x, y] = [all.x.subarray(0, rows), all.y.subarray(0, rows)];
            t = thinnedOn(x, y, 100, t);
            expect(ends(t)).toEqual([x[0], y[0], x[rows - 1], y[rows - 1]]);
            expect([Math.min(...t.y), Math.max(...t.y)]).toEqual([Math.min(...y), Math.max(...y)]);
            expect([...t.x]).toEqual([...t.x].sort((a, b) => a - b));
            expect(new Set(t.x).size).toBe(t.x.length);
            // No more than what is asked for, and the twentieth that came since.
            expect(t.x.length).toBeLessThanOrEqual(100 + 25 + Math.ceil(rows / 20));
          }
        },
      ),
      { numRuns: 60 },
    );
  });

  it("is thinned anew where what it had was written again, cut, or steps back", () => {
    const { x, y } = curve(1000);
    const first = thinnedOn(x.subarray(0, 900), y.subarray(0, 900), 80, undefined);
    // Also where its last row is what it was: a run that was started again and came to the same end.
    for (const row of [0, 450, 899]) {
      const other = y.slice();
      other[row] = 7;
      const again = thinnedOn(x.subarray(0, 910), other.subarray(0, 910), 80, first);
      expect(again).toEqual(thinnedOn(x.subarray(0, 910), other.subarray(0, 910), 80, undefined));
      expect(Math.max(...again.y)).toBe(7);
    }
    const [goesOn, anew] = [first, undefined].map((b) => thinnedOn(x.subarray(0, 910), y.subarray(0, 910), 80, b));
    expect([goesOn!.whole, anew!.whole]).toEqual([900, 910]);
    expect(thinnedOn(x.subarray(0, 500), y.subarray(0, 500), 80, first).whole).toBe(500);
    const back = x.slice();
    back[950] = 3;
    expect(thinnedOn(back, y, 80, first).x).toHaveLength(1000);
  });

  it("takes the last row of a log anew, which may change where it is", () => {
    const { x, y } = curve(1000);
    const first = thinnedOn(x.subarray(0, 900), y.subarray(0, 900), 80, undefined);
    const on = thinnedOn(x.subarray(0, 901), y.subarray(0, 901), 80, first);
    expect(on.whole).toBe(900);
    y[900] = 7;
    const again = thinnedOn(x.subarray(0, 902), y.subarray(0, 902), 80, on);
    expect([again.whole, Math.max(...again.y)]).toEqual([902, 7]);
  });

  it("is known again in other memory", () => {
    const { x, y } = curve(1000);
    const first = thinnedOn(x.subarray(0, 900), y.subarray(0, 900), 80, undefined);
    expect(thinnedOn(x.slice(0, 910), y.slice(0, 910), 80, first).whole).toBe(900);
  });

  it("has no rows, one row, and rows without a value", () => {
    const none = new Float64Array(0);
    const empty = thinnedOn(none, none, 80, undefined);
    expect(empty.x).toHaveLength(0);
    const one = thinnedOn(Float64Array.of(1), Float64Array.of(NaN), 80, empty);
    expect([[...one.x], [...one.y]]).toEqual([[1], [NaN]]);
    expect([...thinnedOn(Float64Array.of(1, 2), Float64Array.of(NaN, 5), 80, one).y]).toEqual([NaN, 5]);
  });
});
