import { decimate, seriesKind, type ChartDescription } from "@oxtrum/core/charts";

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
      const low = decimate(s.x, s.y, most, from, to);
      const high = s.high === undefined ? undefined : decimate(s.x, s.high, most, from, to);
      if (high && high.x.length !== low.x.length) return s;
      return { ...s, x: low.x, y: low.y, ...(high && { high: high.y }) };
    }),
  };
}
