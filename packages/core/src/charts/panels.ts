import type { ChartDescription, Series } from "./description.js";
import { drawingOf, type ChartLook } from "./drawing.js";
import { extent } from "./axes.js";
import { frameOf, type Frame } from "./frame.js";
import type { TextContext } from "./rich-text.js";

/** A panel: its chart and where it is drawn. */
export interface PlacedPanel {
  readonly chart: ChartDescription;
  readonly look: ChartLook;
  readonly x: number;
  readonly y: number;
}

/** What stands over all panels, as a chart without axes, and the panels. */
export interface PanelLayout {
  readonly frame: Frame;
  readonly panels: readonly PlacedPanel[];
}

/** All series of all panels: what the common legend names. */
export const withAllSeries = (chart: ChartDescription): ChartDescription => ({
  ...chart,
  series: (chart.panels ?? []).flatMap((p): readonly Series[] => p.series),
});

/** Where the panels of a chart stand: in rows, each as wide as the others; axis titles at the outer ones only. */
export function panelLayout(chart: ChartDescription, look: ChartLook, ctx: TextContext): PanelLayout {
  const panels = chart.panels ?? [];
  // Where a panel's title says it all there is no need of a legend.
  const told =
    panels.every((p) => new Set(p.series.map((s) => s.legend ?? s.name)).size < 2) &&
    new Set(panels.flatMap((p) => p.series.map((s) => s.legend ?? s.name))).size >= panels.length;
  const d = drawingOf(withAllSeries({ ...chart, legend: chart.legend === "none" || told ? "none" : "top" }), look);
  const frame = frameOf(d, ctx);
  const columns = Math.max(1, Math.min(panels.length, chart.columns ?? Math.ceil(Math.sqrt(panels.length * 1.2))));
  const rows = Math.ceil(panels.length / columns);
  const top = look.small ? 0 : frame.padding.top;
  const extra = look.small ? 0 : d.size + 4;
  const width = (look.width - extra - 4) / columns;
  const height = (look.height - top - extra - 2) / rows;
  return {
    frame,
    panels: panels.map((p, k) => {
      const [i, j] = [k % columns, Math.floor(k / columns)];
      const first = i === 0;
      const last = k + columns >= panels.length;
      const own = { width: width + (first ? extra : 0), height: height + (last ? extra : 0) };
      return {
        chart: { ...p, ...(chart.theme && { theme: chart.theme }), ...(chart.style && { style: chart.style }) },
        look: { ...look, ...own, panel: { xTitle: last, yTitle: first } },
        x: first ? 0 : extra + i * width,
        y: top + j * height,
      };
    }),
  };
}

/** Panels with the same range on both axes, so that they can be compared by eye. */
export function withCommonAxes(panels: readonly ChartDescription[]): ChartDescription[] {
  const span = (of: (p: ChartDescription) => readonly [number, number]): readonly [number, number] => {
    const all = panels.map(of).filter(([a, b]) => a <= b);
    return [Math.min(...all.map((r) => r[0])), Math.max(...all.map((r) => r[1]))];
  };
  const alongX = (p: ChartDescription): readonly [number, number] => {
    let [low, high] = [Infinity, -Infinity];
    for (const s of p.series)
      for (let i = 0; i < s.x.length; i++) {
        if (!Number.isFinite(s.x[i]!)) continue;
        if (s.x[i]! < low) low = s.x[i]!;
        if (s.x[i]! > high) high = s.x[i]!;
      }
    return [low, high];
  };
  const fixed = (
    axis: ChartDescription["x"],
    [low, high]: readonly [number, number],
    roomy: boolean,
  ): ChartDescription["x"] => {
    if (axis.categories || !(low < high)) return axis;
    const room = roomy && axis.scale === "linear" ? 0.04 * (high - low) : 0;
    const bottom = low >= 0 && low < 0.06 * high && axis.scale === "linear" ? 0 : low - room;
    return { ...axis, min: axis.min ?? (roomy ? bottom : low), max: axis.max ?? high + room };
  };
  const x = span(alongX);
  const y = span((p) => extent(p, "left"));
  const right = span((p) => (p.right ? extent(p, "right") : [Infinity, -Infinity]));
  return panels.map((p) => ({
    ...p,
    x: fixed(p.x, x, false),
    y: fixed(p.y, y, true),
    ...(p.right && { right: fixed(p.right, right, true) }),
  }));
}
