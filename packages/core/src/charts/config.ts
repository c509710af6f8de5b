import type { Chart, ChartConfiguration } from "chart.js";
import { scaleOf } from "./axes.js";
import { datasetsOf, heatDatasets } from "./datasets.js";
import type { ChartDescription } from "./description.js";
import { drawingOf, type ChartLook } from "./drawing.js";
import { frameOf, framePlugin, type Frame } from "./frame.js";
import type { TextContext } from "./rich-text.js";
import { shapesPlugin } from "./shapes.js";

/**
 * The one drawing config of a chart, for the screen and for files alike. Pure: it depends on its arguments only. Charts
 * with panels are drawn panel by panel, see {@link panelLayout}.
 *
 * Long lines are thinned to what `width` columns can show.
 */
export function chartConfig(chart: ChartDescription, look: ChartLook): ChartConfiguration {
  const d = drawingOf(chart, look);
  const datasets = [...chart.series.flatMap((s, i) => datasetsOf(d, s, i)), ...heatDatasets(chart)];
  const frames = new WeakMap<Chart, { frame: Frame; width: number; height: number }>();
  const frame = (c: Chart): Frame => {
    const have = frames.get(c);
    if (have && have.width === c.width && have.height === c.height) return have.frame;
    const made = frameOf(d, c.ctx as unknown as TextContext);
    frames.set(c, { frame: made, width: c.width, height: c.height });
    return made;
  };
  const rightAxis =
    chart.right && chart.series.some((s) => s.axis === "right") ? { right: scaleOf(d, chart.right, "right") } : {};
  return {
    type: "line",
    data: { datasets: datasets as never },
    options: {
      animation: false,
      responsive: false,
      devicePixelRatio: 1,
      parsing: false,
      normalized: true,
      // What stands round the axes has to be measured first.
      layout: { padding: (({ chart: c }: { chart: Chart }) => frame(c).padding) as never },
      interaction: { mode: "nearest", axis: "x", intersect: false },
      scales: { x: scaleOf(d, chart.x, "bottom"), y: scaleOf(d, chart.y, "left"), ...rightAxis } as never,
      plugins: { tooltip: { enabled: false }, legend: { display: false } },
    },
    plugins: [shapesPlugin(d), framePlugin(d, frame)],
  };
}
