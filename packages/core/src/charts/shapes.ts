import type { Chart, Plugin, Scale } from "chart.js";
import { cellEdges } from "./cell-edges.js";
import { seriesKind } from "./kinds/index.js";
import { fieldHex } from "./colormap.js";
import type { Mark, Series } from "./description.js";
import { seriesColor, type Drawing } from "./drawing.js";
import { drawRichText, richWidth, type TextContext, type TextFont } from "./rich-text.js";

/** Draws what is not a line, point or bar: cells, boxes, error bars, limits and regions, values at points. */
export function shapesPlugin(d: Drawing): Plugin {
  const shown = (s: Series): boolean => d.look.hidden?.has(s.legend ?? s.name) !== true;
  const scaleFor = (c: Chart, axis: "left" | "right" | undefined): Scale =>
    c.scales[axis === "right" && d.chart.right ? "right" : "y"]!;
  return {
    id: "shapes",
    beforeDatasetsDraw(c) {
      within(c, () => {
        drawCells(d, c);
        for (const m of d.chart.marks ?? []) drawRegion(d, c, m, scaleFor(c, m.axis));
      });
    },
    afterDatasetsDraw(c) {
      within(c, () => {
        d.chart.series.forEach((s) => {
          if (!shown(s)) return;
          seriesKind(s).draw?.(d, c, s, scaleFor(c, s.axis));
        });
        for (const m of d.chart.marks ?? []) drawLine(d, c, m, scaleFor(c, m.axis));
      });
      if (d.titled) drawTexts(d, c, scaleFor);
      if (nothing(d)) drawNothing(d, c);
    },
  };
}

function within(c: Chart, draw: () => void): void {
  const { left, right, top, bottom } = c.chartArea;
  c.ctx.save();
  c.ctx.beginPath();
  c.ctx.rect(left - 1, top - 1, right - left + 2, bottom - top + 2);
  c.ctx.clip();
  draw();
  c.ctx.restore();
}

function nothing(d: Drawing): boolean {
  if (d.chart.heat) return Array.from(d.chart.heat.values).every((v) => v !== v);
  return d.chart.series.every((s) => s.x.length === 0 || Array.from(s.y).every((v) => !Number.isFinite(v)));
}

function drawNothing(d: Drawing, c: Chart): void {
  const { left, right, top, bottom } = c.chartArea;
  c.ctx.fillStyle = d.theme.pencil;
  drawRichText(
    c.ctx as unknown as TextContext,
    "No values",
    (left + right) / 2,
    (top + bottom) / 2,
    { size: d.size + 1, family: d.fonts.sans, weight: 400 },
    "center",
  );
}

function drawCells(d: Drawing, c: Chart): void {
  const h = d.chart.heat;
  if (!h) return;
  const ctx = c.ctx;
  const pixels = (scale: Scale, centres: ArrayLike<number>, words: boolean): number[] => {
    const edges = words ? Array.from({ length: centres.length + 1 }, (_, i) => i - 0.5) : cellEdges(centres);
    if (!words) return edges.map((e) => scale.getPixelForValue(e));
    const at = Array.from(centres, (_, i) => scale.getPixelForValue(i));
    return cellEdges(at.length === 1 ? [at[0]!] : at).map((p, i) =>
      at.length === 1 ? (i === 0 ? c.chartArea.left : c.chartArea.right) : p,
    );
  };
  const xs = pixels(c.scales["x"]!, h.x, d.chart.x.categories !== undefined);
  const ys = pixels(c.scales["y"]!, h.y, d.chart.y.categories !== undefined);
  const span = h.max - h.min;
  for (let j = 0; j < h.y.length; j++)
    for (let i = 0; i < h.x.length; i++) {
      const v = h.values[j * h.x.length + i]!;
      if (!Number.isFinite(v)) continue;
      ctx.fillStyle = fieldHex(span > 0 ? (v - h.min) / span : 0.5);
      const [x0, x1, y0, y1] = [xs[i]!, xs[i + 1]!, ys[j]!, ys[j + 1]!];
      // A hair wider, so that no seam shows between cells.
      ctx.fillRect(Math.min(x0, x1), Math.min(y0, y1), Math.abs(x1 - x0) + 0.3, Math.abs(y1 - y0) + 0.3);
    }
}

const pair = (v: number | readonly [number, number]): v is readonly [number, number] => typeof v !== "number";

function drawRegion(d: Drawing, c: Chart, m: Mark, scale: Scale): void {
  const { left, right, top, bottom } = c.chartArea;
  c.ctx.fillStyle = d.theme.pencil + "22";
  if (m.x !== undefined && pair(m.x)) {
    const [a, b] = m.x.map((v) => c.scales["x"]!.getPixelForValue(v)) as [number, number];
    c.ctx.fillRect(Math.min(a, b), top, Math.abs(b - a), bottom - top);
  }
  if (m.y !== undefined && pair(m.y)) {
    const [a, b] = m.y.map((v) => scale.getPixelForValue(v)) as [number, number];
    c.ctx.fillRect(left, Math.min(a, b), right - left, Math.abs(b - a));
  }
}

function drawLine(d: Drawing, c: Chart, m: Mark, scale: Scale): void {
  const { left, right, top, bottom } = c.chartArea;
  const ctx = c.ctx;
  ctx.strokeStyle = d.theme.ink;
  ctx.lineWidth = 1;
  ctx.setLineDash([5, 3]);
  ctx.beginPath();
  if (typeof m.x === "number") {
    const x = c.scales["x"]!.getPixelForValue(m.x);
    ctx.moveTo(x, top);
    ctx.lineTo(x, bottom);
  }
  if (typeof m.y === "number") {
    const y = scale.getPixelForValue(m.y);
    ctx.moveTo(left, y);
    ctx.lineTo(right, y);
  }
  ctx.stroke();
  ctx.setLineDash([]);
}

interface Rect {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

type ScaleFor = (c: Chart, axis: "left" | "right" | undefined) => Scale;
/** Writes a text at the first of some places that is free, and at the first one when none is. */
type Put = (text: string, choices: readonly (readonly [number, number])[], color: string) => void;

/** Writes texts, none over another and all within the axes. */
function textWriter(d: Drawing, c: Chart, font: TextFont): Put {
  const ctx = c.ctx as unknown as TextContext;
  const { left, right, top, bottom } = c.chartArea;
  const taken: Rect[] = [];
  return (text, choices, color) => {
    const [width, height] = [richWidth(ctx, text, font), font.size + 3];
    const rects = choices.map(([x, y]): Rect => ({
      x: Math.min(Math.max(x, left + 3), right - width - 3),
      y: Math.min(Math.max(y, top + 2), bottom - height - 2),
      width,
      height,
    }));
    const free = rects.find((r) =>
      taken.every((t) => r.x + r.width < t.x || t.x + t.width < r.x || r.y + r.height < t.y || t.y + t.height < r.y),
    );
    const r = free ?? rects[0]!;
    taken.push(r);
    c.ctx.fillStyle = d.theme.sheet + "CC";
    c.ctx.fillRect(r.x - 2, r.y, r.width + 4, r.height);
    c.ctx.fillStyle = color;
    drawRichText(ctx, text, r.x, r.y + font.size, font, "left");
  };
}

/** Words of marks and values at points, none over another and all within the axes. */
function drawTexts(d: Drawing, c: Chart, scaleFor: ScaleFor): void {
  const font: TextFont = { size: d.size - 1, family: d.fonts.sans, weight: 400 };
  const put = textWriter(d, c, font);
  c.ctx.save();
  drawMarkTexts(d, c, scaleFor, font, put);
  drawNotes(d, c, scaleFor, font, put);
  c.ctx.restore();
}

function drawMarkTexts(d: Drawing, c: Chart, scaleFor: ScaleFor, font: TextFont, put: Put): void {
  const { left, right, top, bottom } = c.chartArea;
  for (const m of d.chart.marks ?? []) {
    if (m.text === undefined) continue;
    const width = richWidth(c.ctx as unknown as TextContext, m.text, font);
    if (m.y !== undefined) {
      const y = scaleFor(c, m.axis).getPixelForValue(pair(m.y) ? Math.max(...m.y) : m.y);
      if (y < top - 1 || y > bottom + 1) continue;
      const inside = pair(m.y) ? y + 2 : y - font.size - 5;
      put(
        m.text,
        [
          [right - width - 6, inside],
          [left + 6, inside],
          [right - width - 6, y + 3],
        ],
        d.theme.pencil,
      );
    } else if (m.x !== undefined) {
      const x = c.scales["x"]!.getPixelForValue(pair(m.x) ? Math.min(...m.x) : m.x);
      if (x < left - 1 || x > right + 1) continue;
      put(
        m.text,
        [0, 1, 2, 3].map((k) => [x + 5, top + 3 + k * (font.size + 5)] as const),
        d.theme.pencil,
      );
    }
  }
}

function drawNotes(d: Drawing, c: Chart, scaleFor: ScaleFor, font: TextFont, put: Put): void {
  const { left, right, top, bottom } = c.chartArea;
  for (const n of d.chart.notes ?? []) {
    const s = d.chart.series[n.series];
    if (!s || d.look.hidden?.has(s.legend ?? s.name) === true) continue;
    const [x, y] = [c.scales["x"]!.getPixelForValue(n.x), scaleFor(c, s.axis).getPixelForValue(n.y)];
    if (x < left - 1 || x > right + 1 || y < top - 1 || y > bottom + 1) continue;
    const color = seriesColor(d.theme, s);
    c.ctx.strokeStyle = color;
    c.ctx.lineWidth = 1.4;
    c.ctx.beginPath();
    c.ctx.arc(x, y, 4, 0, 2 * Math.PI);
    c.ctx.stroke();
    const width = richWidth(c.ctx as unknown as TextContext, n.text, font);
    const high = font.size + 10;
    put(
      n.text,
      [
        [x - width / 2, y - high],
        [x - width / 2, y + 8],
        [x + 8, y - high / 2],
        [x - width - 8, y - high / 2],
        [x - width / 2, y - 2 * high],
        [x - width / 2, y + high + 6],
      ],
      color,
    );
  }
}
