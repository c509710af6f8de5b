import type { Chart, Scale } from "chart.js";
import type { Series } from "../description.js";
import { seriesColor, type Drawing } from "../drawing.js";
import { unseen, type SeriesKind } from "./series-kind.js";

function drawBoxes(d: Drawing, c: Chart, s: Series, scale: Scale): void {
  const ctx = c.ctx;
  const xs = c.scales["x"]!;
  const pixels = Array.from(s.x, (x) => xs.getPixelForValue(x));
  const gaps = pixels
    .slice(1)
    .map((p, i) => Math.abs(p - pixels[i]!))
    .filter((g) => g > 0);
  const half = Math.max(4, Math.min(24, 0.32 * (gaps.length > 0 ? Math.min(...gaps) : 80)));
  const color = seriesColor(d.theme, s);
  ctx.strokeStyle = color;
  s.boxes!.forEach((b, i) => {
    if (!Number.isFinite(b.median)) return;
    const x = pixels[i]!;
    const y = (v: number): number => scale.getPixelForValue(v);
    ctx.lineWidth = 1.2;
    ctx.beginPath();
    ctx.moveTo(x, y(b.low));
    ctx.lineTo(x, y(b.q1));
    ctx.moveTo(x, y(b.q3));
    ctx.lineTo(x, y(b.high));
    for (const end of [b.low, b.high]) {
      ctx.moveTo(x - half / 2, y(end));
      ctx.lineTo(x + half / 2, y(end));
    }
    ctx.stroke();
    ctx.fillStyle = color + "40";
    ctx.fillRect(x - half, y(b.q3), 2 * half, y(b.q1) - y(b.q3));
    ctx.strokeRect(x - half, y(b.q3), 2 * half, y(b.q1) - y(b.q3));
    ctx.lineWidth = 2;
    ctx.beginPath();
    ctx.moveTo(x - half, y(b.median));
    ctx.lineTo(x + half, y(b.median));
    ctx.stroke();
    ctx.lineWidth = 1.2;
    // Very many of them would make a bar.
    ctx.globalAlpha = b.beyond.length > 60 ? 0.2 : 1;
    let last = Number.NaN;
    for (const v of [...b.beyond].sort((p, q) => p - q)) {
      // Rings on rings say no more than one.
      if (Math.abs(y(v) - last) < (b.beyond.length > 60 ? 2.5 : 0.8)) continue;
      last = y(v);
      ctx.beginPath();
      ctx.arc(x, y(v), 2.5, 0, 2 * Math.PI);
      ctx.stroke();
    }
    ctx.globalAlpha = 1;
  });
}

/** Boxes with whiskers: quartiles, the outermost values near them, the rest as rings. */
export const box: SeriesKind = {
  kind: "box",
  datasets: ({ series: s, base }) => [
    unseen(
      base,
      Array.from(s.x).flatMap((x, i) =>
        [s.boxes![i]!.low, s.boxes![i]!.high, ...s.boxes![i]!.beyond].map((y) => ({ x, y })),
      ),
    ),
  ],
  draw: drawBoxes,
  legend: { area: "40" },
  keepsAllPoints: true,
  isBroad: true,
};
