import type { ChartAxis, ChartDescription, Series } from "@oxtrum/core/charts";
import { convertValues } from "@oxtrum/core/tables/units";

/** What a chart is drawn on. */
export type Axes = Pick<ChartDescription, "x" | "y" | "right">;

/** Values in the unit of another axis. @throws UnitError where they have none in it */
function brought(values: ArrayLike<number>, from: ChartAxis, to: ChartAxis): ArrayLike<number> {
  if (from.unit === to.unit) return values;
  return convertValues(Float64Array.from(values), from.unit ?? "1", to.unit ?? "1");
}

/** An axis with the words of another one as well. @throws Error where only one of them has words */
export function withWords(axis: ChartAxis, other: ChartAxis): ChartAxis {
  if (!axis.categories && !other.categories) return axis;
  if (!axis.categories || !other.categories) throw new Error("words on one of two axes");
  const { categories } = axis;
  return { ...axis, categories: [...categories, ...other.categories.filter((w) => !categories.includes(w))] };
}

/** Places along an axis as another one has them: by its words, or in its unit. @throws Error */
const placed = (values: ArrayLike<number>, from: ChartAxis, to: ChartAxis): ArrayLike<number> =>
  from.categories && to.categories
    ? Float64Array.from(values, (v) => {
        // Between two words lie bars that stand side by side.
        const k = Math.round(v);
        const at = to.categories!.indexOf(from.categories![k] ?? "");
        return at < 0 ? v : at + (v - k);
      })
    : brought(values, from, to);

/** The series of a chart on other axes: in their units, at their words. @throws Error where they have no place there */
export function seriesOnAxes(chart: ChartDescription, to: Axes): Series[] {
  return chart.series.map((s): Series => {
    const [from, own] = s.axis === "right" ? [chart.right ?? chart.y, to.right ?? to.y] : [chart.y, to.y];
    const up = (v: ArrayLike<number>): ArrayLike<number> => placed(v, from, own);
    return {
      ...s,
      x: placed(s.x, chart.x, to.x),
      y: up(s.y),
      ...(s.high && { high: up(s.high) }),
      ...(s.low && { low: up(s.low) }),
    };
  });
}
