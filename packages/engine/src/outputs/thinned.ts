import { keptPoints, seriesKind, type ChartDescription } from "@oxtrum/core/charts";

const MOST_POINTS = 2000;

/** A chart with no more points than a screen shows, within a range of x if one is given. */
export function thinned(chart: ChartDescription, from?: number, to?: number, most = MOST_POINTS): ChartDescription {
  return {
    ...chart,
    ...(chart.panels && {
      panels: chart.panels.map((p) => thinned(p, from, to, Math.ceil(most / chart.panels!.length))),
    }),
    series: chart.series.map((s) => {
      if (seriesKind(s).keepsAllPoints) return s;
      // Both edges of a band keep the same places.
      const edges = s.high === undefined ? [s.y] : [s.y, s.high];
      const keep = keptPoints(s.x, edges, most, from, to);
      const of = (values: ArrayLike<number>): Float64Array => Float64Array.from(keep, (k) => values[k]!);
      return { ...s, x: of(s.x), y: of(s.y), ...(s.high && { high: of(s.high) }) };
    }),
  };
}
