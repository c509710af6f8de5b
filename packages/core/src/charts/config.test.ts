import { describe, expect, it } from "@jest/globals";
import { evenTicks } from "./axes.js";
import { chartConfig } from "./config.js";

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
  it("draws a closed band as one filled shape", () => {
    const series = [
      { kind: "band" as const, name: "a", x: [1, 2, 3, 2], y: [0, 1, 1, 0], closed: true, color: { palette: 0 } },
    ];
    const { data } = chartConfig({ x: axis, y: axis, series }, { width: 400, height: 300 });
    expect(data.datasets.map((d) => (d as { fill?: unknown }).fill)).toEqual(["shape"]);
  });
});
