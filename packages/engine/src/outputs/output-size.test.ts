import { describe, expect, it } from "@jest/globals";
import { dotted, drawnSize } from "./output-size.js";

const usual = { width: 800, height: 450, scale: 2 };

describe("the size of a drawing", () => {
  it.each([
    [{}, usual],
    [{ size: [640, 480] }, { width: 640, height: 480, scale: 2 }],
    [
      { size: ["254 mm", "12.7 cm"], resolution: 300 },
      { width: 960, height: 480, scale: 3.125 },
    ],
    [{ size: ["2in", "96px"] }, { width: 192, height: 96, scale: 2 }],
    [
      {
        size: [
          { value: 0.0254, unit: "m" },
          { value: 100, unit: null },
        ],
      },
      { width: 96, height: 100, scale: 2 },
    ],
    [{ resolution: 24 }, { width: 800, height: 450, scale: 0.25 }],
  ])("%j", (options, size) => {
    const drawn = drawnSize(options, usual);
    expect(drawn.width).toBeCloseTo(size.width, 9);
    expect(drawn.height).toBeCloseTo(size.height, 9);
    expect(drawn.scale).toBe(size.scale);
  });
  it.each([
    [{ size: [49, 100] }, "size 49 × 100 pixels: each has to lie within 50 and 8000"],
    [{ size: [100, 8001] }, "each has to lie within 50 and 8000"],
    [{ size: [100, Number.NaN] }, "each has to lie within 50 and 8000"],
    [{ size: ["-5 cm", 100] }, 'size in "-5 cm"'],
    [{ size: ["5 ft", 100] }, 'size in "ft": use numbers for pixels, or mm, cm, in'],
    [{ size: ["wide", 100] }, 'size in "wide"'],
    [{ size: [100] }, "size: give width and height"],
    [{ size: "10 cm" }, "size: give width and height"],
    [{ resolution: 23 }, "resolution 23 dots an inch: from 24 on"],
    [{ resolution: Number.NaN }, "resolution NaN dots an inch: from 24 on"],
  ])("%j is refused", (options, message) => {
    expect(() => drawnSize(options, usual)).toThrow(message);
  });
  it("of what is made of dots has an end", () => {
    expect(dotted({ width: 8000, height: 8000, scale: 1 })).toEqual({ width: 8000, height: 8000, scale: 1 });
    expect(() => dotted({ width: 8000, height: 8000, scale: 1.01 })).toThrow(
      "8080 × 8080 dots are more than 64 million",
    );
  });
});
