import { describe, expect, it } from "@jest/globals";
import fc from "fast-check";
import { logTicks } from "./axes.js";
import { apart } from "./legend.js";
import { cutText, wrapText } from "./rich-text.js";
import { simplified } from "./simplify.js";
import { withCommonAxes } from "./panels.js";

/** Ten pixels a letter, whatever the font. */
const measure = { font: "", measureText: (t: string) => ({ width: 10 * [...t].length }) };
const font = { size: 12, family: "x", weight: 400 };

describe("names at the ends of lines", () => {
  it("stay where they want to be while they have room", () =>
    expect(apart([100, 20, 60], 14, 0, 200)).toEqual([100, 20, 60]));
  it("never touch, keep their order and stay inside where there is room for all", () => {
    fc.assert(
      fc.property(fc.array(fc.double({ min: 0, max: 400, noNaN: true }), { minLength: 1, maxLength: 20 }), (wanted) => {
        const got = apart(wanted, 14, 0, 400);
        const order = wanted.map((y, i) => ({ y, at: got[i]! })).sort((a, b) => a.y - b.y || a.at - b.at);
        for (let k = 1; k < order.length; k++)
          expect(order[k]!.at - order[k - 1]!.at).toBeGreaterThanOrEqual(14 - 1e-6);
        expect(Math.min(...got)).toBeGreaterThanOrEqual(-1e-6);
        expect(Math.max(...got)).toBeLessThanOrEqual(400 + 1e-6);
      }),
      { seed: 7, numRuns: 200 },
    );
  });
});

describe("words", () => {
  it("are cut in the middle and never wider than their room", () => {
    expect(cutText(measure, "abcdefghij", font, 60)).toBe("abc…ij");
    expect(cutText(measure, "abc", font, 60)).toBe("abc");
    expect(cutText(measure, "abc", font, 5)).toBe("…");
  });
  it("are broken at blanks into so many lines, the rest cut", () => {
    expect(wrapText(measure, "one two three four", font, 80, 3)).toEqual(["one two", "three", "four"]);
    expect(wrapText(measure, "one two three four", font, 80, 2)).toEqual(["one two", "thre…our"]);
    expect(wrapText(measure, "  ", font, 80, 2)).toEqual([]);
  });
});

describe("ticks of a logarithmic axis", () => {
  it.each([
    [1, 1000, 9, [1, 2, 5, 10, 20, 50, 100, 200, 500, 1000]],
    [1e-6, 1, 9, [1e-6, 1e-5, 1e-4, 1e-3, 1e-2, 0.1, 1]],
    [2, 7, 9, [2, 3, 4, 5, 6, 7]],
    [3, 3.4, 5, [3, 3.1, 3.2, 3.3, 3.4]],
    [1e-300, 1e300, 5, [1e-300, 1e-179, 1e-58, 1e63, 1e184]],
  ])("from %d to %d, %d at most", (min, max, most, wanted) => {
    expect(logTicks(min, max, most)).toEqual(wanted);
  });
  it("are none where there is no positive range", () => {
    expect(logTicks(0, 10, 5)).toEqual([]);
    expect(logTicks(5, 5, 5)).toEqual([5]);
  });
});

describe("leaving out points", () => {
  const far = (xs: ArrayLike<number>, ys: ArrayLike<number>, keep: number[]): number => {
    let most = 0;
    for (let s = 0; s + 1 < keep.length; s++)
      for (let i = keep[s]!; i <= keep[s + 1]!; i++) {
        const [a, b] = [keep[s]!, keep[s + 1]!];
        const t = (xs[i]! - xs[a]!) / (xs[b]! - xs[a]! || 1);
        most = Math.max(most, Math.abs(ys[i]! - (ys[a]! + t * (ys[b]! - ys[a]!))));
      }
    return most;
  };
  it("changes a line by no more than the tolerance, and keeps peaks, ends and gaps", () => {
    const n = 4000;
    const xs = Float64Array.from({ length: n }, (_, i) => i / 5);
    const ys = xs.map((v, i) => 100 * Math.sin(v / 90) + (i === 1234 ? 30 : 0));
    const keep = simplified(xs, ys, 0.1);
    expect(keep.length).toBeLessThan(150);
    expect(keep).toEqual(expect.arrayContaining([0, 1233, 1234, 1235, n - 1]));
    expect(far(xs, ys, keep)).toBeLessThan(0.16);
    ys[2000] = Number.NaN;
    expect(simplified(xs, ys, 0.1)).toEqual(expect.arrayContaining([1999, 2000, 2001]));
  });
  it("keeps the turns of a line that goes back on itself", () => {
    expect(simplified([0, 10, 0, 5], [0, 0, 0, 0], 0.1)).toEqual([0, 1, 2, 3]);
  });
});

describe("panels", () => {
  it("have common ranges; an axis that begins near zero begins at zero", () => {
    const axis = { title: "", unit: null, scale: "linear" as const };
    const panel = (y: number[]): Parameters<typeof withCommonAxes>[0][number] => ({
      x: axis,
      y: axis,
      series: [{ kind: "lines", name: "a", x: [0, 1, 5], y, color: { palette: 0 } }],
    });
    const [a, b] = withCommonAxes([panel([0.1, 2, 3]), panel([1, 20, 3])]);
    expect([a!.x.min, a!.x.max, a!.y.min]).toEqual([0, 5, 0]);
    expect(a!.y).toEqual(b!.y);
    expect(a!.y.max).toBeCloseTo(20 + 0.04 * 19.9, 10);
  });
});
