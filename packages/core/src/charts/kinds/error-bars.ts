import type { Chart, Scale } from "chart.js";
import type { Series } from "../description.js";
import { seriesColor, type Drawing } from "../drawing.js";
import { asDataset, unseen, type SeriesKind } from "./series-kind.js";

function drawErrors(d: Drawing, c: Chart, s: Series, scale: Scale): void {
  const ctx = c.ctx;
  ctx.strokeStyle = seriesColor(d.theme, s);
  ctx.lineWidth = 1.2;
  for (let i = 0; i < s.x.length; i++) {
    const [low, high] = [s.low?.[i] ?? Number.NaN, s.high?.[i] ?? Number.NaN];
    if (!Number.isFinite(low) || !Number.isFinite(high)) continue;
    const x = c.scales["x"]!.getPixelForValue(s.x[i]!);
    const [a, b] = [scale.getPixelForValue(low), scale.getPixelForValue(high)];
    ctx.beginPath();
    ctx.moveTo(x, a);
    ctx.lineTo(x, b);
    for (const y of [a, b]) {
      ctx.moveTo(x - 4, y);
      ctx.lineTo(x + 4, y);
    }
    ctx.stroke();
  }
}

/** Points with bars to both sides. */
export const errors: SeriesKind = {
  kind: "errorBars",
  datasets: ({ series: s, base, marked, at }) => [
    asDataset({ ...base, ...marked, type: "scatter", data: at(s.y), showLine: false }),
    unseen(base, [...at(s.low ?? s.y), ...at(s.high ?? s.y)]),
  ],
  draw: drawErrors,
  legend: { marker: true },
  keepsAllPoints: true,
  hasMarkers: true,
};
