import { seriesKind, type ChartAxis, type ChartDescription, type Series } from "@oxtrum/core/charts";
import { displayUnit, formatNumber, type Condition } from "@oxtrum/core/tables";

/** How many bars of a series stand at each place, in the order of the series; a missing value has none. */
function barsAt(s: Series): Map<number, number> {
  const count = new Map<number, number>();
  for (let i = 0; i < s.x.length; i++)
    if (Number.isFinite(s.x[i]) && Number.isFinite(s.y[i])) count.set(s.x[i]!, (count.get(s.x[i]!) ?? 0) + 1);
  return count;
}

const placeIn = (axis: ChartAxis, x: number): string =>
  axis.categories?.[x] ?? `${formatNumber(x)} ${displayUnit(axis.unit)}`.trim();

/**
 * Bars of one series at one place: only the longest is seen, as if it were the one value there. Other kinds of series
 * show each of their points.
 */
export function overdrawn(chart: ChartDescription): Condition[] {
  if (chart.panels) return chart.panels.flatMap(overdrawn);
  return chart.series.flatMap((s): Condition[] => {
    if (!seriesKind(s).isBars) return [];
    const several = [...barsAt(s)].filter(([, n]) => n > 1);
    const [first] = several;
    if (!first) return [];
    const more = several.length === 1 ? "" : ` and ${several.length - 1} more place${several.length === 2 ? "" : "s"}`;
    const text =
      `${first[1]} bars of "${s.quantity ?? s.name}" at ${placeIn(chart.x, first[0])}${more} lie on each other: ` +
      "the longest hides the rest; tell them apart by a color, or take one value for each place";
    return [{ kind: "not drawn", file: "", text, ...(s.run !== undefined && { run: s.run }) }];
  });
}
