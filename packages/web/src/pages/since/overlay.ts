import type { ChartAxis, ChartDescription, Series } from "@oxtrum/core/charts";
import { displayUnit } from "@oxtrum/core/tables/units";
import { seriesOnAxes, withWords, type Axes } from "../../parts/chart/on-axes";

/** Greys for what was, whatever its colour is now. */
const THEN = { palette: 7 } as const;

/** Whether two numbers are drawn at one place: a conversion moves the last digit. */
const samePlace = (a: number, b: number): boolean =>
  Object.is(a, b) || (Number.isFinite(a - b) && Math.abs(a - b) <= 1e-12 * Math.max(Math.abs(a), Math.abs(b)));

const sameNumbers = (a: ArrayLike<number> | undefined, b: ArrayLike<number> | undefined): boolean =>
  a === undefined || b === undefined
    ? a === b
    : a.length === b.length && Array.from(a).every((v, i) => samePlace(v, b[i]!));

const sameSeries = (a: Series, b: Series): boolean =>
  a.name === b.name &&
  a.kind === b.kind &&
  (a.axis ?? "left") === (b.axis ?? "left") &&
  (["x", "y", "high", "low"] as const).every((k) => sameNumbers(a[k], b[k])) &&
  JSON.stringify(a.boxes) === JSON.stringify(b.boxes);

/** An axis without a fixed range that would cut off what lies outside of it. */
function holding(axis: ChartAxis, values: readonly ArrayLike<number>[]): ChartAxis {
  const { min, max, ...free } = axis;
  const isOut = (v: number): boolean => v < (min ?? -Infinity) || v > (max ?? Infinity);
  return values.some((list) => Array.from(list).some(isOut)) ? free : axis;
}

/** Two states of a chart on the same axes; without the one of then where it has no place on them, with the reason. */
export interface Overlaid {
  readonly chart: ChartDescription;
  readonly apart?: string;
}

/**
 * Two states of a chart on the same axes: the series of now in their colours over those of then in grey and dashed, in
 * the units of now; series that did not move are drawn once.
 */
export function overlaid(then: ChartDescription, now: ChartDescription): Overlaid {
  if (then.panels && now.panels) {
    const panels = now.panels.map((p, k): Overlaid => {
      const before = then.panels!.find((q) => q.title === p.title) ?? then.panels![k];
      return before ? overlaid(before, p) : { chart: p };
    });
    const apart = panels.find((p) => p.apart !== undefined)?.apart;
    return { chart: { ...now, panels: panels.map((p) => p.chart) }, ...(apart !== undefined && { apart }) };
  }
  if (then.heat || now.heat)
    return { chart: now, apart: "Maps of colour cannot lie over each other: only now is drawn." };
  let axes: Axes;
  let earlier: Series[];
  try {
    axes = {
      x: withWords(now.x, then.x),
      y: withWords(now.y, then.y),
      ...(now.right && { right: then.right ? withWords(now.right, then.right) : now.right }),
    };
    earlier = seriesOnAxes(then, axes);
  } catch {
    const units = (c: ChartDescription): string =>
      [c.x, c.y, c.right]
        .flatMap((a) => (a ? [a.categories ? "words" : displayUnit(a.unit) || "plain numbers"] : []))
        .join(", ");
    return { chart: now, apart: `Then the axes had ${units(then)}, now they have ${units(now)}: only now is drawn.` };
  }
  const before = earlier
    .filter((s) => !now.series.some((n) => sameSeries(n, s)))
    .map((s): Series => ({ ...s, name: `${s.name}, then`, legend: "then", color: THEN, dash: 2 }));
  const edges = (side: "left" | "right"): ArrayLike<number>[] =>
    before.filter((s) => (s.axis ?? "left") === side).flatMap((s) => [s.y, s.high ?? [], s.low ?? []]);
  const { notes: _, right: _r, ...rest } = now;
  return {
    chart: {
      ...rest,
      x: holding(
        axes.x,
        before.map((s) => s.x),
      ),
      y: holding(axes.y, edges("left")),
      ...(axes.right && { right: holding(axes.right, edges("right")) }),
      series: [...now.series, ...before],
    },
  };
}
