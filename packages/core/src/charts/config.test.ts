import { describe, expect, it } from "@jest/globals";
import { evenTicks } from "./axes.js";
import { chartConfig } from "./config.js";
import type { Series } from "./description.js";

describe("ticks", () => {
  it("are even values within the range, few enough, without rounding's tails", () => {
    expect(evenTicks(0, 1800, 9)).toEqual([0, 500, 1000, 1500]);
    expect(evenTicks(1.9263, 2.2726, 5)).toEqual([2, 2.1, 2.2]);
    expect(evenTicks(-0.3, 0.3, 9)).toEqual([-0.3, -0.2, -0.1, 0, 0.1, 0.2, 0.3]);
    expect(evenTicks(5, 5, 9)).toEqual([5]);
    expect(evenTicks(1e-300, 9e-300, 5).every((t) => t >= 1e-300 && t <= 9e-300)).toBe(true);
  });
});

describe("the drawing config", () => {
  const axis = { title: "", unit: "m", scale: "linear" as const };
  it("begins at zero where values come near it and never go below", () => {
    const y = (values: number[]): { min?: number } =>
      (
        chartConfig(
          { x: axis, y: axis, series: [{ kind: "lines", name: "a", x: [0, 1], y: values, color: { palette: 0 } }] },
          { width: 400, height: 300 },
        ).options!.scales as unknown as { y: { min?: number } }
      ).y;
    expect(y([0, 5]).min).toBe(0);
    expect(y([4, 5]).min).toBeUndefined();
    expect(y([-1, 5]).min).toBeUndefined();
  });
  describe("gives bars and boxes over numbers room for half of their width", () => {
    const one = { low: 1, q1: 2, median: 3, q3: 4, high: 5, beyond: [] };
    const broad = (kind: "bars" | "box", x: number[]): Series => ({
      kind,
      name: kind,
      x,
      y: x.map(() => 3),
      color: { palette: 0 },
      ...(kind === "box" && { boxes: x.map(() => one) }),
    });
    const ends = (series: Series[], more: object = {}): [number?, number?] => {
      const { options } = chartConfig({ x: { ...axis, ...more }, y: axis, series }, { width: 400, height: 300 });
      const { min, max } = (options!.scales as unknown as { x: { min?: number; max?: number } }).x;
      return [min, max];
    };
    it.each(["bars", "box"] as const)("%s", (kind) => {
      expect(ends([broad(kind, [50, 75, 100])])).toEqual([37.5, 112.5]);
      expect(ends([broad(kind, [10, 12, 20])])).toEqual([9, 21]);
      expect(ends([broad(kind, [4])])).toEqual([2, 6]);
      expect(ends([broad(kind, [0])])).toEqual([-0.5, 0.5]);
      expect(ends([broad(kind, [Number.NaN, 1, 2, Infinity])])).toEqual([0.5, 2.5]);
      expect(ends([broad(kind, [])])).toEqual([undefined, undefined]);
    });
    it("and leaves to other series, and to a given range, what is theirs", () => {
      const line: Series = { kind: "lines", name: "a", x: [0, 200], y: [1, 2], color: { palette: 1 } };
      expect(ends([broad("bars", [50, 75, 100]), line])).toEqual([0, 200]);
      expect(ends([broad("box", [50, 75, 100]), line], { min: 40 })).toEqual([40, 200]);
      expect(ends([line])).toEqual([undefined, undefined]);
    });
    it("as a factor on an axis in decades", () => {
      const [min, max] = ends([broad("box", [1, 10, 100])], { scale: "log" });
      expect([min! * Math.sqrt(10), max! / Math.sqrt(10)]).toEqual([expect.closeTo(1, 12), expect.closeTo(100, 10)]);
      expect(ends([broad("bars", [-1, 0])], { scale: "log" })).toEqual([undefined, undefined]);
    });
  });
  it("draws bands below bars, and bars below lines and points, whatever their order", () => {
    const kinds = ["bars", "lines", "band", "points", "bars"] as const;
    const series = kinds.map((kind, k): Series => {
      const values = [1, 2];
      return {
        kind,
        name: `${k}`,
        x: values,
        y: values,
        color: { palette: k },
        ...(kind === "band" && { high: values }),
      };
    });
    const { data } = chartConfig({ x: axis, y: axis, series }, { width: 400, height: 300 });
    // What has the larger number is drawn first.
    const order = (name: string): number =>
      Math.min(...data.datasets.filter((d) => d.label === name).map((d) => (d as { order?: number }).order!));
    const [first, line, band, points, last] = kinds.map((_, k) => order(`${k}`)) as [
      number,
      number,
      number,
      number,
      number,
    ];
    expect(band).toBeGreaterThan(Math.max(first, last));
    expect(Math.min(first, last)).toBeGreaterThan(Math.max(line, points));
    expect(last).toBeGreaterThan(first);
  });
  it("draws a closed band as one filled shape", () => {
    const series = [
      { kind: "band" as const, name: "a", x: [1, 2, 3, 2], y: [0, 1, 1, 0], closed: true, color: { palette: 0 } },
    ];
    const { data } = chartConfig({ x: axis, y: axis, series }, { width: 400, height: 300 });
    expect(data.datasets.map((d) => (d as { fill?: unknown }).fill)).toEqual(["shape"]);
  });
});
