import { seriesKind } from "./kinds/index.js";
import type { Chart, Plugin } from "chart.js";
import { formatNumber } from "../tables/number-format.js";
import { displayUnit } from "../tables/units.js";
import { axisTitle, evenTicks } from "./axes.js";
import { fieldHex } from "./colormap.js";
import { seriesColor, type Drawing } from "./drawing.js";
import {
  apart,
  drawItem,
  emptyCorner,
  inColumn,
  inRows,
  legendFont,
  legendItems,
  legendPlace,
  type LegendItem,
} from "./legend.js";
import { cutText, drawRichText, richWidth, wrapText, type TextContext, type TextFont } from "./rich-text.js";

interface Padding {
  readonly top: number;
  readonly right: number;
  readonly bottom: number;
  readonly left: number;
}

/** What stands round a chart's area, and the room that it takes. */
export interface Frame {
  readonly padding: Padding;
  readonly lines: readonly { text: string; y: number; font: TextFont; soft: boolean }[];
  readonly place: string;
  readonly items: readonly LegendItem[];
  readonly more: number;
}

const STRIP = 62;

/** Measures titles and legend, and what room they leave for the axes. */
export function frameOf(d: Drawing, ctx: TextContext): Frame {
  const { chart, look, fonts, size } = d;
  if (!d.titled)
    return { padding: { top: 6, right: 8, left: 2, bottom: 2 }, lines: [], place: "none", items: [], more: 0 };
  const room = look.width - 24;
  const lines: { text: string; y: number; font: TextFont; soft: boolean }[] = [];
  let y = look.panel ? 2 : 4;
  const put = (text: string | undefined, font: TextFont, soft: boolean): void => {
    if (text === undefined || text === "") return;
    for (const line of wrapText(ctx, text, font, room, 2)) {
      y += font.size * 1.3;
      lines.push({ text: line, y, font, soft });
    }
  };
  put(chart.title, { size: look.panel ? size : size + 3, family: fonts.sans, weight: 600 }, false);
  put(chart.subtitle, { size, family: fonts.sans, weight: 400 }, true);
  y += lines.length > 0 ? 8 : 6;
  const all = legendItems(d);
  const place = legendPlace(d, all);
  let items: readonly LegendItem[] = [];
  let right = 14 + (chart.right ? size + 8 : 0) + (chart.heat ? STRIP : 0);
  let more = 0;
  if (place === "top") {
    const rows = inRows(d, ctx, all, y);
    items = rows.items;
    y += rows.height + (rows.height > 0 ? 6 : 0);
  } else if (place === "right") {
    const column = inColumn(d, ctx, all, look.width * 0.4, look.height - y - 30);
    items = column.items.map((i) => ({ ...i, x: look.width - column.width - 10, y: i.y + y + 6 }));
    right += column.width + 6;
    more = column.more;
  } else if (place === "ends") {
    const font = legendFont(d);
    items = all.map((i) => {
      const text = cutText(ctx, i.text, font, look.width * 0.35);
      return { ...i, text, width: richWidth(ctx, text, font) };
    });
    right += Math.max(0, ...items.map((i) => i.width)) + 6;
  } else if (place === "inside") {
    const column = inColumn(d, ctx, all, look.width * 0.45, look.height * 0.6);
    items = column.items;
    more = column.more;
  }
  const titles = look.panel ?? { xTitle: true, yTitle: true };
  const bottom = titles.xTitle && axisTitle(chart.x) !== "" ? size + 10 : 4;
  const left = titles.yTitle && axisTitle(chart.y) !== "" ? size + 8 : 6;
  return { padding: { top: y, left, bottom, right }, lines, place, items, more };
}

const placed = new WeakMap<Chart, readonly LegendItem[]>();

/** The legend's entry at a place of a drawn chart: what is switched on and off there. */
export function legendAt(c: Chart, x: number, y: number): string | undefined {
  return placed.get(c)?.find((i) => x >= i.x - 3 && x <= i.x + i.width + 3 && Math.abs(y - i.y) <= 10)?.key;
}

/** Draws titles, axis titles and legend. */
export function framePlugin(d: Drawing, frame: (c: Chart) => Frame): Plugin {
  const { chart, theme, fonts, size } = d;
  return {
    id: "frame",
    beforeDraw(c) {
      // Ligatures would vanish from the text of vector files.
      (c.ctx as CanvasRenderingContext2D & { fontFeatureSettings?: string }).fontFeatureSettings = '"calt" 0, "liga" 0';
    },
    afterDraw(c) {
      if (!d.titled) return;
      const f = frame(c);
      const ctx = c.ctx;
      const text = ctx as unknown as TextContext;
      const { left, right, top, bottom } = c.chartArea;
      ctx.save();
      drawTitles(d, ctx, f, d.look.panel ? left : 12);
      ctx.fillStyle = theme.ink;
      const font = { size, family: fonts.sans, weight: 400 };
      const titles = d.look.panel ?? { xTitle: true, yTitle: true };
      if (titles.xTitle)
        drawRichText(
          text,
          cutText(text, axisTitle(chart.x), font, c.width - 20),
          Math.min((left + right) / 2, c.width - richWidth(text, axisTitle(chart.x), font) / 2 - 6),
          c.height - 8,
          font,
          "center",
        );
      const upright = (title: string, x: number): void => {
        ctx.save();
        ctx.translate(x, (top + bottom) / 2);
        ctx.rotate(-Math.PI / 2);
        drawRichText(text, cutText(text, title, font, bottom - top + 20), 0, 0, font, "center");
        ctx.restore();
      };
      if (titles.yTitle) upright(axisTitle(chart.y), size + 2);
      if (chart.right && c.scales["right"]) upright(axisTitle(chart.right), c.scales["right"].right + size);
      if (chart.heat) drawStrip(d, c);
      placed.set(c, drawLegend(d, c, f));
      ctx.restore();
    },
  };
}

function drawTitles(d: Drawing, ctx: CanvasRenderingContext2D, f: Frame, left: number): void {
  for (const l of f.lines) {
    ctx.fillStyle = l.soft ? d.theme.pencil : d.theme.ink;
    drawRichText(ctx as unknown as TextContext, l.text, left, l.y, l.font, "left");
  }
}

/** Draws what stands over all panels of a chart: titles and legend. */
export function drawHeader(d: Drawing, ctx: CanvasRenderingContext2D, f: Frame): void {
  drawTitles(d, ctx, f, 12);
  for (const i of f.items) drawItem(d, ctx, i);
}

function drawLegend(d: Drawing, c: Chart, f: Frame): readonly LegendItem[] {
  const ctx = c.ctx;
  if (f.place === "ends") return drawEnds(d, c, f.items);
  let items = f.items;
  if (f.place === "inside" && items.length > 0) {
    const width = Math.max(...items.map((i) => i.width)) + 14;
    const height = (items.length + (f.more > 0 ? 1 : 0)) * (d.size + 7) + 8;
    const corner = emptyCorner(c, width, height);
    ctx.fillStyle = d.theme.sheet + "E0";
    ctx.fillRect(corner.x, corner.y, width, height);
    ctx.strokeStyle = d.theme.rule;
    ctx.lineWidth = 1;
    ctx.strokeRect(corner.x, corner.y, width, height);
    items = items.map((i) => ({ ...i, x: corner.x + 7, y: corner.y + 4 + i.y }));
  }
  for (const i of items) drawItem(d, ctx, i);
  if (f.more > 0 && items.length > 0) {
    ctx.fillStyle = d.theme.pencil;
    drawRichText(
      ctx as unknown as TextContext,
      `and ${f.more} more`,
      items[0]!.x + 32,
      items[items.length - 1]!.y + d.size * 1.35 + 6,
      legendFont(d),
      "left",
    );
  }
  return items;
}

/** Names beside the last point of their lines, with a thin leader where they had to move. */
function drawEnds(d: Drawing, c: Chart, items: readonly LegendItem[]): readonly LegendItem[] {
  const ctx = c.ctx;
  const { right, top, bottom } = c.chartArea;
  const from = Math.max(right, c.scales["right"]?.right ?? 0) + (d.chart.right ? d.size + 6 : 0);
  const found = items.flatMap((item) => {
    const s = [...d.chart.series].reverse().find((o) => (o.legend ?? o.name) === item.key && o.faint !== true)!;
    const scale = c.scales[s.axis === "right" && d.chart.right ? "right" : "y"]!;
    for (let i = s.x.length - 1; i >= 0; i--) {
      const x = c.scales["x"]!.getPixelForValue(s.x[i]!);
      const last = seriesKind(s).hasEdges && s.high ? (s.y[i]! + s.high[i]!) / 2 : s.y[i]!;
      if (x <= right + 0.5 && Number.isFinite(last)) {
        const y = Math.min(bottom, Math.max(top, scale.getPixelForValue(last)));
        return [{ item, x, y }];
      }
    }
    return [];
  });
  const ys = apart(
    found.map((o) => o.y),
    d.size + 3,
    top + 4,
    bottom - 4,
  );
  return found.map(({ item, x, y }, k) => {
    const at = ys[k]!;
    ctx.save();
    if (item.hidden) ctx.globalAlpha = 0.35;
    const color = seriesColor(d.theme, item.series);
    ctx.strokeStyle = color;
    ctx.lineWidth = 0.7;
    ctx.beginPath();
    ctx.moveTo(Math.min(x + 2, right), y);
    ctx.lineTo(from + 4, at);
    ctx.stroke();
    ctx.fillStyle = d.theme.ink;
    drawRichText(ctx as unknown as TextContext, item.text, from + 8, at + d.size * 0.35, legendFont(d), "left");
    ctx.restore();
    return { ...item, x: from + 8, y: at };
  });
}

/** The colours of a heat map with their values. */
function drawStrip(d: Drawing, c: Chart): void {
  const h = d.chart.heat!;
  const ctx = c.ctx;
  const { right, top, bottom } = c.chartArea;
  const tall = Math.min(220, bottom - top);
  const [x, from] = [right + 12, (top + bottom) / 2 - tall / 2];
  for (let k = 0; k < tall; k++) {
    ctx.fillStyle = fieldHex(1 - (k + 0.5) / tall);
    ctx.fillRect(x, from + k, 10, Math.min(1.5, tall - k));
  }
  ctx.fillStyle = d.theme.pencil;
  const font = { size: d.size - 1, family: d.fonts.mono, weight: 400 };
  const ticks = h.max > h.min ? evenTicks(h.min, h.max, Math.max(2, Math.floor(tall / 30))) : [h.min];
  for (const v of ticks) {
    const y = h.max > h.min ? from + tall * (1 - (v - h.min) / (h.max - h.min)) : from + tall / 2;
    drawRichText(ctx as unknown as TextContext, formatNumber(v, 5), x + 14, y + d.size * 0.33, font, "left");
  }
  const unit = displayUnit(h.unit);
  ctx.save();
  ctx.fillStyle = d.theme.ink;
  ctx.translate(d.look.width - 6, (top + bottom) / 2);
  ctx.rotate(-Math.PI / 2);
  const title = unit === "" ? h.title : `${h.title} (${unit})`;
  drawRichText(
    ctx as unknown as TextContext,
    cutText(ctx as unknown as TextContext, title, legendFont(d), bottom - top + 20),
    0,
    0,
    legendFont(d),
    "center",
  );
  ctx.restore();
}
