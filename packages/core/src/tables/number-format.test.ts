import { describe, expect, it } from "@jest/globals";
import fc from "fast-check";
import { exactNumber, formatNumber, textsApart } from "./number-format.js";

/** The number that a text for people says. */
const read = (text: string): number =>
  Number(
    text
      .replace("−", "-")
      .replace(/\u202f/g, "")
      .replace("∞", "Infinity"),
  );
const size = fc.double({ min: -1e300, max: 1e300, noNaN: true });

describe("a number as people read it", () => {
  it.each([
    [999999.7, 6, "1\u202f000\u202f000"],
    [9999.6, 4, "10\u202f000"],
    [-999.7, 3, "−1\u202f000"],
    [99.96, 3, "100"],
    [9999999.7, 6, "1e7"],
    [9.9999999, 6, "10"],
    [0.00099999999, 3, "0.001"],
    [99999.4, 4, "99\u202f999"],
  ])("%p with %i digits is %s, where it is rounded up to a power of ten", (x, digits, text) =>
    expect(formatNumber(x, digits)).toBe(text),
  );
  it("property: says the number to its digits, in one of two forms", () => {
    fc.assert(
      fc.property(size, fc.integer({ min: 1, max: 12 }), (x, digits) => {
        const text = formatNumber(x, digits);
        expect(text).toMatch(/^−?(?:\d{1,3}(?:\u202f\d{3})*(?:\.\d*[1-9])?|\d(?:\.\d*[1-9])?e-?\d+)$/);
        if (x === 0) expect(text).toBe("0");
        else expect(Math.abs(read(text) / x - 1)).toBeLessThanOrEqual(0.5000001 * 10 ** (1 - digits));
        expect(formatNumber(-x, digits)).toBe(x === 0 ? "0" : x < 0 ? text.slice(1) : `−${text}`);
      }),
      { numRuns: 400 },
    );
  });
  it("property: of numbers near powers of ten as well", () => {
    fc.assert(
      fc.property(
        fc.integer({ min: -8, max: 9 }),
        fc.double({ min: -1e-3, max: 1e-3, noNaN: true }),
        fc.integer({ min: 1, max: 9 }),
        (p, off, digits) => {
          const x = 10 ** p * (1 + off);
          const text = formatNumber(x, digits);
          expect(text).not.toMatch(/e\+|\.\d*0(?:e|$)/);
          expect(Math.abs(read(text) / x - 1)).toBeLessThanOrEqual(0.5000001 * 10 ** (1 - digits));
        },
      ),
      { numRuns: 400 },
    );
  });
});

describe("a number as files have it", () => {
  it("property: reads back to the same bits", () => {
    fc.assert(
      fc.property(fc.double(), (x) => {
        const text = exactNumber(x);
        const back = text === "" ? Number.NaN : Number(text.replace("Inf", "Infinity"));
        expect(Object.is(back, x)).toBe(true);
      }),
    );
  });
});

describe("two numbers", () => {
  it("property: that differ have different texts, of no more digits than it takes", () => {
    fc.assert(
      fc.property(size, fc.integer({ min: -3, max: 3 }), (x, ulps) => {
        const y = x + ulps * Math.abs(x) * 2 ** -50;
        const [a, b] = textsApart(x, y);
        if (x === y) expect(a).toBe(b);
        else expect(a).not.toBe(b);
        if (Math.abs(x - y) > 1e-4 * Math.abs(x)) expect(a).toBe(formatNumber(x));
      }),
    );
  });
  it.each([
    [1.00000001, 1, ["1.00000001", "1"]],
    [300, 301, ["300", "301"]],
    [Number.NaN, 1, ["–", "1"]],
  ])("%p and %p", (a, b, texts) => expect(textsApart(a, b)).toEqual(texts));
});
