import type { ChartAxis, ChartDescription, Series } from "@oxtrum/core/charts";

/** A line of three points, or what is said of it. */
export const series = (o: Partial<Series> = {}): Series => ({
  name: "s",
  kind: "lines",
  x: [0, 1, 2],
  y: [0, 1, 0],
  color: { palette: 0 },
  ...o,
});
export const axis = (o: Partial<ChartAxis> = {}): ChartAxis => ({ title: "", unit: "K", scale: "linear", ...o });
/** Series over seconds, in kelvin unless said otherwise. */
export const chart = (list: Series[], more: Partial<ChartDescription> = {}): ChartDescription => ({
  x: axis({ unit: "s" }),
  y: axis(),
  series: list,
  ...more,
});
