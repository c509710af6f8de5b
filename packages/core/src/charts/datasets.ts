import type { ChartDescription, Series } from "./description.js";
import { cellEdges } from "./cell-edges.js";
import { seriesColor, type Drawing } from "./drawing.js";
import { seriesKind } from "./kinds/index.js";
import { unseen, type Dataset } from "./kinds/series-kind.js";
import { dashes, markers } from "./palette.js";
import { pointsOf } from "./series-points.js";

export type { Dataset } from "./kinds/series-kind.js";

/** Drawn first lies below: bands under pale lines, these under all others, however many there are. */
const BELOW = 100_000;
const BELOW_ALL = 200_000;

/** Pale lines get paler the more there are, so that what is drawn over them is seen. */
function paleness(chart: ChartDescription): string {
  const many = chart.series.reduce((n, s) => n + (s.faint === true ? 1 : 0), 0);
  const alpha = Math.round(0x55 * Math.min(1, 30 / Math.max(1, many)));
  return Math.max(0x0a, alpha).toString(16).padStart(2, "0");
}

export const dashOf = (s: Series): readonly number[] => dashes[(s.dash ?? 0) % dashes.length]!;
export const markerOf = (s: Series): (typeof markers)[number] => markers[(s.marker ?? s.dash ?? 0) % markers.length]!;

/** The datasets of a series in the drawing config. */
export function datasetsOf(d: Drawing, s: Series, index: number): Dataset[] {
  const { chart, theme, look } = d;
  const kind = seriesKind(s);
  const color = seriesColor(theme, s);
  const pale = s.faint === true;
  const legend = s.legend ?? s.name;
  const base = {
    label: pale ? "" : legend,
    hidden: look.hidden?.has(legend) === true,
    borderColor: pale ? color + paleness(chart) : color,
    backgroundColor: color,
    yAxisID: s.axis === "right" && chart.right ? "right" : "y",
    order: kind.isBackground ? BELOW_ALL + index : pale || kind.isBars ? BELOW + index : index,
  };
  const weight = chart.style?.lineWidth ?? 1.6;
  const radius = chart.style?.markerSize ?? 3.5;
  const marked = {
    pointStyle: markerOf(s),
    pointRadius: radius,
    pointBorderWidth: 1.4,
    pointBackgroundColor: color + "40",
    clip: 6,
  };
  const at = (y: ArrayLike<number>): { x: number; y: number }[] => pointsOf(d, s, y, kind.thinning ?? "none");
  // `_decimated`: Chart.js then draws every point; its short cut for dense lines leaves steps in files.
  const line = {
    ...base,
    type: "line" as const,
    borderWidth: pale ? weight / 2 : weight,
    borderDash: [...dashOf(s)],
    _decimated: true,
    pointRadius: 0,
    pointHitRadius: 8,
    spanGaps: false,
    tension: 0,
  };
  return kind.datasets({ drawing: d, series: s, color, base, line, marked, at });
}

/** Corners of a heat map, so that its scales end where its cells do. */
export function heatDatasets(chart: ChartDescription): Dataset[] {
  const h = chart.heat;
  if (!h) return [];
  const [x, y] = [cellEdges(h.x), cellEdges(h.y)];
  const corners = [0, 1].map((k) => ({
    x: chart.x.categories ? k * (h.x.length - 1) : x[k * (x.length - 1)]!,
    y: chart.y.categories ? k * (h.y.length - 1) : y[k * (y.length - 1)]!,
  }));
  return [unseen({ label: "", yAxisID: "y" }, corners)];
}
