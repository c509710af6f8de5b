import { evenTicks, type ChartAxis, type ChartDescription } from "@oxtrum/core/charts";
import { seriesOnAxes } from "../../parts/chart/on-axes";

/** A range that begins and ends on a tick. */
function roundRange([low, high]: readonly [number, number]): [number, number] {
  const ticks = evenTicks(low, high, 6);
  const step = ticks.length > 1 ? ticks[1]! - ticks[0]! : 0;
  return step > 0 ? [Math.floor(low / step + 1e-9) * step, Math.ceil(high / step - 1e-9) * step] : [low, high];
}

/** A chart in the units of another one; undefined where it has no place on its axes. */
function inUnitsOf(first: ChartDescription, chart: ChartDescription): ChartDescription | undefined {
  const same = (a: ChartAxis | undefined, b: ChartAxis | undefined): boolean => a?.unit === b?.unit;
  if (same(chart.x, first.x) && same(chart.y, first.y) && same(chart.right, first.right)) return chart;
  const of = (own: ChartAxis, to: ChartAxis): ChartAxis => ({ ...own, unit: to.unit });
  const right = chart.right && first.right ? of(chart.right, first.right) : chart.right;
  const axes = { x: of(chart.x, first.x), y: of(chart.y, first.y), ...(right && { right }) };
  try {
    return { ...chart, ...axes, series: seriesOnAxes(chart, axes) };
  } catch {
    return undefined;
  }
}

/** Charts side by side: each as it is, and with the same range and units as the others. */
export interface Shared {
  /** With ranges of its own. */
  readonly whole: ChartDescription;
  readonly chart: ChartDescription;
}

/**
 * Charts that can be compared at sight: in the units of the first, from the least to the largest of all values. One
 * that has no such unit keeps its own axes.
 */
export function onSharedAxes(charts: readonly ChartDescription[]): Shared[] {
  const brought = charts.map((c) => inUnitsOf(charts[0]!, c));
  const ends = (side: "x" | "y"): [number, number] => {
    let [low, high] = [Infinity, -Infinity];
    for (const c of brought)
      for (const s of c?.series ?? []) {
        if (side === "y" && s.axis === "right" && c!.right) continue;
        for (const list of side === "x" ? [s.x] : [s.y, s.high ?? [], s.low ?? []])
          for (const v of Array.from(list)) if (Number.isFinite(v)) [low, high] = [Math.min(low, v), Math.max(high, v)];
      }
    return [low, high];
  };
  const [x, y] = [ends("x"), ends("y")];
  const range = (axis: ChartAxis, [min, max]: readonly [number, number]): ChartAxis =>
    min < max ? { ...axis, min, max } : axis;
  return charts.map((c, k): Shared => {
    const b = brought[k];
    return b ? { whole: b, chart: { ...b, x: range(b.x, x), y: range(b.y, roundRange(y)) } } : { whole: c, chart: c };
  });
}
