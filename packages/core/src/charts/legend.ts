import type { Chart } from "chart.js";
import { drawPoint } from "chart.js/helpers";
import type { LegendPlace, Series } from "./description.js";
import { dashOf, markerOf } from "./datasets.js";
import { seriesKind } from "./kinds/index.js";
import { seriesColor, type Drawing } from "./drawing.js";
import { cutText, drawRichText, richWidth, type TextContext, type TextFont } from "./rich-text.js";
import { shortNames } from "./short-names.js";

/** An entry of a legend, and where it stands once that is known. */
export interface LegendItem {
  /** What the series are known by; the same for those that share the entry. */
  readonly key: string;
  readonly text: string;
  readonly series: Series;
  readonly hidden: boolean;
  readonly x: number;
  readonly y: number;
  readonly width: number;
}

const SAMPLE = 26;
const GAP = 6;

export const legendFont = (d: Drawing): TextFont => ({ size: d.size, family: d.fonts.sans, weight: 400 });

/** The entries of a chart in the order of its series, one a text, with what all names have in common left out. */
export function legendItems(d: Drawing): LegendItem[] {
  const first = new Map<string, Series>();
  for (const s of d.chart.series) {
    const text = s.legend ?? s.name;
    if (s.faint !== true && text !== "" && !first.has(text)) first.set(text, s);
  }
  const keys = [...first.keys()];
  // Along a ramp in its order, whatever order the runs come in.
  const ramp = (key: string): number | undefined => {
    const { color } = first.get(key)!;
    return "ramp" in color ? color.ramp : undefined;
  };
  if (keys.every((k) => ramp(k) !== undefined))
    keys.sort((a, b) => ramp(a)! - ramp(b)! || (first.get(a)!.dash ?? 0) - (first.get(b)!.dash ?? 0));
  const short = keys.some((k) => k.length > 24) ? shortNames(keys) : new Map<string, string>();
  return keys.map((key) => ({
    key,
    text: short.get(key) ?? key,
    series: first.get(key)!,
    hidden: d.look.hidden?.has(key) === true,
    x: 0,
    y: 0,
    width: 0,
  }));
}

/** Where the legend goes: as asked for, and nowhere when one entry says no more than the titles. */
export function legendPlace(d: Drawing, items: readonly LegendItem[]): LegendPlace {
  if (!d.titled || d.look.panel) return "none";
  if (d.chart.legend !== undefined) return d.chart.legend;
  return items.length < 2 ? "none" : "top";
}

/** Entries in rows from the left; no more rows than a third of the picture. */
export function inRows(
  d: Drawing,
  ctx: TextContext,
  items: readonly LegendItem[],
  top: number,
): { items: LegendItem[]; height: number } {
  const font = legendFont(d);
  const right = d.look.width - 10;
  let [x, y] = [12, top];
  const rowHeight = d.size + 7;
  const placed: LegendItem[] = [];
  for (const item of items) {
    const text = cutText(ctx, item.text, font, right - 12 - SAMPLE - GAP);
    const width = SAMPLE + GAP + richWidth(ctx, text, font);
    if (x > 12 && x + width > right) [x, y] = [12, y + rowHeight];
    placed.push({ ...item, text, x, y: y + rowHeight / 2, width });
    x += width + 16;
  }
  const height = y + rowHeight - top;
  return height > d.look.height / 3 ? { items: [], height: 0 } : { items: placed, height };
}

/** Entries below each other, each at most `room` wide; what does not fit is counted. */
export function inColumn(
  d: Drawing,
  ctx: TextContext,
  items: readonly LegendItem[],
  room: number,
  tall: number,
): { items: LegendItem[]; width: number; more: number } {
  const font = legendFont(d);
  const rowHeight = d.size + 7;
  const fits = Math.max(1, Math.floor(tall / rowHeight));
  const shown = items.length <= fits ? items : items.slice(0, fits - 1);
  const placed = shown.map((item, k) => {
    const text = cutText(ctx, item.text, font, room - SAMPLE - GAP);
    return { ...item, text, x: 0, y: (k + 0.5) * rowHeight, width: SAMPLE + GAP + richWidth(ctx, text, font) };
  });
  return { items: placed, width: Math.max(0, ...placed.map((i) => i.width)), more: items.length - shown.length };
}

/** Draws an entry: a piece of the series as it is drawn, and its words. */
export function drawItem(d: Drawing, ctx: CanvasRenderingContext2D, item: LegendItem): void {
  const { series: s } = item;
  const color = seriesColor(d.theme, s);
  const weight = d.chart.style?.lineWidth ?? 1.6;
  ctx.save();
  if (item.hidden) ctx.globalAlpha = 0.35;
  ctx.strokeStyle = color;
  ctx.lineWidth = weight;
  const { area, line, marker } = seriesKind(s).legend;
  if (area !== undefined) {
    ctx.fillStyle = color + area;
    ctx.fillRect(item.x + 6, item.y - 5, SAMPLE - 12, 10);
    ctx.lineWidth = 1;
    ctx.strokeRect(item.x + 6, item.y - 5, SAMPLE - 12, 10);
  }
  if (line) {
    ctx.setLineDash([...dashOf(s)]);
    ctx.beginPath();
    ctx.moveTo(item.x, item.y);
    ctx.lineTo(item.x + SAMPLE, item.y);
    ctx.stroke();
    ctx.setLineDash([]);
  }
  if (marker) {
    ctx.fillStyle = color + "40";
    ctx.lineWidth = 1.4;
    drawPoint(
      ctx,
      { pointStyle: markerOf(s), rotation: 0, radius: d.chart.style?.markerSize ?? 3.5, borderWidth: 1.4 } as never,
      item.x + SAMPLE / 2,
      item.y,
    );
  }
  ctx.fillStyle = d.theme.ink;
  drawRichText(
    ctx as unknown as TextContext,
    item.text,
    item.x + SAMPLE + GAP,
    item.y + d.size * 0.35,
    legendFont(d),
    "left",
  );
  ctx.restore();
}

/** The corner of a chart's area in which a box of that size lies over the fewest points. */
export function emptyCorner(c: Chart, width: number, height: number): { x: number; y: number } {
  const { left, right, top, bottom } = c.chartArea;
  const corners = [
    [right - width - 8, top + 6],
    [left + 8, top + 6],
    [right - width - 8, bottom - height - 6],
    [left + 8, bottom - height - 6],
  ] as const;
  const covered = corners.map(([x, y]) => {
    let n = 0;
    for (let i = 0; i < c.data.datasets.length; i++)
      if (c.isDatasetVisible(i))
        for (const p of c.getDatasetMeta(i).data)
          if (p.x >= x - 4 && p.x <= x + width + 4 && p.y >= y - 4 && p.y <= y + height + 4) n++;
    return n;
  });
  const best = covered.indexOf(Math.min(...covered));
  return { x: corners[best]![0], y: corners[best]![1] };
}

/**
 * Names at the ends of lines: each as near to its line as it can be without touching another one.
 *
 * @returns the base lines, in the order of the wanted ones
 */
export function apart(wanted: readonly number[], height: number, top: number, bottom: number): number[] {
  const order = wanted.map((y, i) => ({ y, i })).sort((a, b) => a.y - b.y || a.i - b.i);
  // Blocks of touching names are moved together to the mean of what they want.
  const blocks: { members: { y: number; i: number }[]; at: number }[] = [];
  const half = (n: number): number => ((n - 1) * height) / 2;
  const place = (members: { y: number; i: number }[]): number => {
    const mean = members.reduce((s, m) => s + m.y, 0) / members.length;
    const room = half(members.length);
    return Math.min(Math.max(mean, top + room), Math.max(top + room, bottom - room));
  };
  for (const o of order) {
    let block = { members: [o], at: place([o]) };
    for (;;) {
      const before = blocks[blocks.length - 1];
      if (!before || before.at + half(before.members.length) + height <= block.at - half(block.members.length) + 1e-9)
        break;
      blocks.pop();
      const members = [...before.members, ...block.members];
      block = { members, at: place(members) };
    }
    blocks.push(block);
  }
  const out = new Array<number>(wanted.length);
  for (const b of blocks) b.members.forEach((m, k) => (out[m.i] = b.at - half(b.members.length) + k * height));
  return out;
}
