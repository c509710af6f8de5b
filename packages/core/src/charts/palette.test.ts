import { describe, expect, it } from "@jest/globals";
import { fieldColor } from "./colormap.js";
import { darkTheme, dashes, lightTheme, markers, printTheme, rampColor } from "./palette.js";

/** Relative luminance of a colour (WCAG 2.2). */
function luminance(hex: string): number {
  const [r, g, b] = [1, 3, 5]
    .map((k) => parseInt(hex.slice(k, k + 2), 16) / 255)
    .map((c) => (c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4)) as [number, number, number];
  return 0.2126 * r + 0.7152 * g + 0.0722 * b;
}
const contrast = (a: string, b: string): number => {
  const [x, y] = [luminance(a), luminance(b)].sort((p, q) => q - p) as [number, number];
  return (x + 0.05) / (y + 0.05);
};

describe("colours", () => {
  it("tell series apart without colour: each has a dash and a marker of its own", () => {
    expect(new Set(dashes.map((d) => d.join())).size).toBe(8);
    expect(new Set(markers).size).toBe(8);
    for (const t of [lightTheme, darkTheme, printTheme]) expect(new Set(t.series).size).toBe(8);
  });
  it("stand out from the sheet: words 4.5 to 1, lines 2.8 to 1, on paper 3.5 to 1", () => {
    for (const t of [lightTheme, darkTheme, printTheme])
      for (const ink of [t.ink, t.pencil]) expect(contrast(ink, t.sheet)).toBeGreaterThanOrEqual(4.5);
    for (const t of [lightTheme, darkTheme])
      for (const c of t.series) expect(contrast(c, t.sheet)).toBeGreaterThanOrEqual(2.8);
    for (const c of printTheme.series) expect(contrast(c, printTheme.sheet)).toBeGreaterThanOrEqual(3.5);
  });
  it("of the ramp and of fields grow evenly lighter or darker, so that they read in grey", () => {
    for (const t of [lightTheme, darkTheme, printTheme]) {
      const l = Array.from({ length: 21 }, (_, k) => luminance(rampColor(t, k / 20)));
      const rising = l[20]! > l[0]!;
      for (let k = 1; k < l.length; k++) expect(l[k]! > l[k - 1]!).toBe(rising);
    }
    const field = Array.from({ length: 41 }, (_, k) => fieldColor(k / 40)).map(
      ([r, g, b]) => 0.2126 * r + 0.7152 * g + 0.0722 * b,
    );
    for (let k = 1; k < field.length; k++) expect(field[k]!).toBeGreaterThan(field[k - 1]!);
  });
});
