import { describe, expect, it } from "@jest/globals";
import fc from "fast-check";
import type { ChartDescription, Series } from "@oxtrum/core/charts";
import { thinned } from "./thinned.js";

const chartOf = (...series: Series[]): ChartDescription => ({
  x: { title: "time", unit: "s", scale: "linear" },
  y: { title: "T", unit: "K", scale: "linear" },
  series,
});
const line = (y: ArrayLike<number>, more: Partial<Series> = {}): Series => ({
  kind: "lines",
  name: "a",
  x: Float64Array.from(y, (_, i) => i),
  y,
  color: { palette: 0 },
  ...more,
});

describe("a chart for a screen", () => {
  it("property: has points of the curve and no others, with its lowest and highest, in their order", () => {
    const values = fc.array(
      fc.oneof({ weight: 9, arbitrary: fc.double({ min: -5, max: 5, noNaN: true }) }, fc.constant(NaN)),
      {
        minLength: 1,
        maxLength: 300,
      },
    );
    fc.assert(
      fc.property(values, values, fc.integer({ min: 1, max: 20 }), (low, more, most) => {
        const y = Float64Array.from(low);
        const high = Float64Array.from(low, (v, i) => v + Math.abs(more[i % more.length]!));
        const [t] = thinned(chartOf(line(y, { kind: "band", high })), undefined, undefined, most).series;
        const places = Array.from(t!.x);
        expect(places).toEqual([...new Set(places)].sort((a, b) => a - b));
        // Both edges belong to the places that are kept.
        expect(Array.from(t!.y)).toEqual(places.map((x) => y[x]!));
        expect(Array.from(t!.high!)).toEqual(places.map((x) => high[x]!));
        for (const [all, kept] of [
          [y, t!.y],
          [high, t!.high!],
        ] as const) {
          const span = (v: ArrayLike<number>): number[] => {
            const seen = Array.from(v).filter((n) => !Number.isNaN(n));
            return [Math.min(...seen), Math.max(...seen)];
          };
          expect(span(kept)).toEqual(span(all));
        }
        expect(places.length).toBeLessThanOrEqual(Math.max(4, 8) * most);
      }),
      { numRuns: 60 },
    );
  });
  it("thins a band of many points, whatever its edges do", () => {
    const y = Float64Array.from({ length: 100_000 }, (_, i) => Math.sin(i / 9) + Math.sin(i * i));
    const high = y.map((v, i) => v + 1 + Math.cos(i * i * i));
    const [t] = thinned(chartOf(line(y, { kind: "band", high }))).series;
    expect(t!.x.length).toBeLessThan(16_001);
    expect([t!.y.length, t!.high!.length]).toEqual([t!.x.length, t!.x.length]);
  });
  it("has within a range its points, and the next one to both sides", () => {
    const y = Float64Array.from({ length: 1000 }, (_, i) => i % 7);
    const [t] = thinned(chartOf(line(y)), 99.5, 109.5, 2000).series;
    expect(Array.from(t!.x)).toEqual([99, 100, 101, 102, 103, 104, 105, 106, 107, 108, 109, 110]);
    expect(Array.from(t!.y)).toEqual(Array.from(t!.x, (x) => x % 7));
    expect(Array.from(thinned(chartOf(line(y)), 2000, 3000).series[0]!.x)).toEqual([999]);
  });
  it("keeps every bar, box and point with error bars, and what does not rise along x", () => {
    const y = Float64Array.from({ length: 300 }, (_, i) => i % 5);
    for (const kind of ["bars", "errorBars", "steps"])
      expect(thinned(chartOf(line(y, { kind })), undefined, undefined, 3).series[0]!.x).toHaveLength(300);
    const loop = line(y, { x: y.map((_, i) => Math.cos(i / 20)) });
    expect(thinned(chartOf(loop), undefined, undefined, 3).series[0]!.x).toHaveLength(300);
  });
  it("shares its points among panels", () => {
    const y = Float64Array.from({ length: 4000 }, (_, i) => Math.sin(i));
    const panels = Array.from({ length: 4 }, () => chartOf(line(y)));
    const t = thinned({ ...chartOf(), panels }, undefined, undefined, 100);
    for (const p of t.panels!) expect(p.series[0]!.x.length).toBeLessThanOrEqual(4 * 25);
  });
});
