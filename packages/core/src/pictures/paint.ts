import { evenTicks } from "../charts/axes.js";
import { fieldHex } from "../charts/colormap.js";
import { lightTheme as theme } from "../charts/palette.js";
import { cutText, drawRichText, richWidth, wrapText, type TextContext, type TextFont } from "../charts/rich-text.js";
import { formatNumber } from "../tables/number-format.js";
import { displayUnit } from "../tables/units.js";
import { contourPieces, joined } from "./contours.js";
import type { PictureDescription, PicturePanel, Scene } from "./description.js";
import { projectionFor, type Projection } from "./project.js";
import { colorTable, Raster, type ColorTable } from "./raster.js";
import { inGrid, placeOn, streamlines } from "./streamlines.js";

export interface PictureSurface {
  readonly ctx: CanvasRenderingContext2D;
  readonly width: number;
  readonly height: number;
  /** Dots per pixel of 1/96 inch. */
  readonly scale: number;
  readonly fonts: { readonly sans: string; readonly mono: string };
  /** Pixels as something that the context can draw. */
  image(pixels: Uint8ClampedArray, width: number, height: number): CanvasImageSource;
}

interface Area {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

/** Dots per pixel of 1/96 inch below which edges are smoothed by drawing twice as fine. */
const FINE = 1.9;
const INK: readonly [number, number, number] = [31, 38, 41];

/** Draws a picture: its panels, or one frame of a sequence. The same picture gives the same pixels. */
export function paintPicture(s: PictureSurface, p: PictureDescription, frame?: number): void {
  const { ctx } = s;
  const text = ctx as unknown as TextContext;
  const plain: TextFont = { size: 12, family: s.fonts.sans, weight: 400 };
  ctx.save();
  ctx.setTransform(s.scale, 0, 0, s.scale, 0, 0);
  ctx.fillStyle = theme.sheet;
  ctx.fillRect(0, 0, s.width, s.height);
  const shown = frame === undefined ? p.panels : [p.panels[frame]!];
  const top = paintHead(s, p, plain);
  const strip = p.color ? 56 : 10;
  const titled = shown.some((o) => o.title !== undefined);
  const columns = Math.max(
    1,
    Math.min(
      shown.length,
      p.columns ?? bestColumns(p, shown.length, s.width - 16, s.height - top - strip, titled ? 28 : 12),
    ),
  );
  const rows = Math.max(1, Math.ceil(shown.length / columns));
  const cell = { width: (s.width - 16) / columns, height: (s.height - top - strip) / rows };
  shown.forEach((panel, k) => {
    const [x, y] = [8 + (k % columns) * cell.width, top + Math.floor(k / columns) * cell.height];
    if (titled) {
      ctx.fillStyle = theme.ink;
      drawRichText(
        text,
        cutText(text, panel.title ?? "", { ...plain, weight: 600 }, cell.width - 8),
        x + 4,
        y + 13,
        { ...plain, weight: 600 },
        "left",
      );
    }
    const area = {
      x: x + 6,
      y: y + (titled ? 20 : 4),
      width: cell.width - 12,
      height: cell.height - (titled ? 28 : 12),
    };
    paintPanel(s, p, panel, area, plain);
  });
  if (shown.every((o) => o.scene.triangles.length === 0 && o.scene.rim.length === 0)) {
    ctx.fillStyle = theme.pencil;
    drawRichText(text, "Nothing is cut here", s.width / 2, s.height / 2, plain, "center");
  }
  if (p.color) paintStrip(s, p, shown, { x: 12, y: s.height - strip, width: s.width - 24, height: strip }, plain);
  ctx.restore();
}

/** Writes title and subtitle. @returns where the panels begin */
function paintHead(s: PictureSurface, p: PictureDescription, plain: TextFont): number {
  const text = s.ctx as unknown as TextContext;
  const bold: TextFont = { size: 15, family: s.fonts.sans, weight: 600 };
  let top = 6;
  for (const [words, font] of [
    [p.title, bold],
    [p.subtitle, plain],
  ] as const) {
    if (words === undefined || words === "") continue;
    for (const line of wrapText(text, words, font, s.width - 24, 2)) {
      top += font.size * 1.3;
      s.ctx.fillStyle = font === bold ? theme.ink : theme.pencil;
      drawRichText(text, line, 12, top, font, "left");
    }
  }
  return top + 8;
}

/** In how many columns the panels come out largest. */
function bestColumns(p: PictureDescription, count: number, width: number, height: number, margin: number): number {
  let [best, most] = [1, 0];
  for (let columns = 1; columns <= count; columns++) {
    const { scale } = projectionFor(p, {
      x: 0,
      y: 0,
      width: Math.max(1, width / columns - 12),
      height: Math.max(1, height / Math.ceil(count / columns) - margin),
    });
    if (scale > most * (1 + 1e-9)) [best, most] = [columns, scale];
  }
  return best;
}

function paintPanel(s: PictureSurface, p: PictureDescription, panel: PicturePanel, area: Area, font: TextFont): void {
  if (area.width < 8 || area.height < 8) return;
  const { scene } = panel;
  const density = s.scale < FINE ? 2 * s.scale : s.scale;
  const [w, h] = [Math.max(1, Math.round(area.width * density)), Math.max(1, Math.round(area.height * density))];
  const raster = new Raster(w, h);
  const fine = projectionFor(p, { x: 6, y: 6, width: w - 12, height: h - 12 });
  const flat = scene.edges.length === 0;
  const range = p.color && (p.ownRange ? rangeOf(scene) : [p.color.min, p.color.max]);
  const colors: ColorTable = range
    ? colorTable(range[0]!, range[1]!, p.color?.steps)
    : colorTable(Number.NaN, Number.NaN, undefined);
  raster.fill(scene, fine, colors, !flat);
  if (p.mesh) raster.lines(edgesOfTriangles(scene), fine, INK, 1, 0);
  raster.lines(scene.rim, fine, INK, 1.2 * density, 0);
  raster.lines(scene.edges, fine, [95, 107, 109], 0.7 * density, 0.35);
  if (!flat) for (const level of p.contours) raster.lines(contourPieces(scene, level), fine, INK, 0.8 * density, 0);
  const { ctx } = s;
  ctx.drawImage(s.image(raster.pixels, w, h), area.x, area.y, area.width, area.height);
  const inset = 6 / density;
  const to = projectionFor(p, {
    x: area.x + inset,
    y: area.y + inset,
    width: area.width - 2 * inset,
    height: area.height - 2 * inset,
  });
  ctx.save();
  ctx.beginPath();
  ctx.rect(area.x - 2, area.y - 2, area.width + 4, area.height + 4);
  ctx.clip();
  if (flat) paintContours(s, p, scene, to, font);
  if (scene.grid && p.streamlines) paintStreamlines(s, scene, to);
  if (scene.grid && p.arrows) paintArrows(s, p, scene, to);
  paintSites(s, p, to, font);
  ctx.restore();
  paintDirections(s, to, area, p, font);
}

function rangeOf(scene: Scene): readonly [number, number] {
  let [low, high] = [Infinity, -Infinity];
  for (const v of scene.values) {
    if (!Number.isFinite(v)) continue;
    if (v < low) low = v;
    if (v > high) high = v;
  }
  return low <= high ? [low, high] : [0, 1];
}

function edgesOfTriangles({ triangles: t }: Scene): Float64Array {
  const out = new Float64Array(2 * t.length);
  for (let k = 0; k < t.length / 9; k++)
    for (let e = 0; e < 3; e++)
      for (let d = 0; d < 3; d++) {
        out[18 * k + 6 * e + d] = t[9 * k + 3 * e + d]!;
        out[18 * k + 6 * e + 3 + d] = t[9 * k + 3 * ((e + 1) % 3) + d]!;
      }
  return out;
}

/** Lines of equal value with a label on the longest of each level. */
function paintContours(s: PictureSurface, p: PictureDescription, scene: Scene, to: Projection, font: TextFont): void {
  const { ctx } = s;
  const text = ctx as unknown as TextContext;
  const small = { ...font, size: 10, family: s.fonts.mono };
  const taken: Area[] = [];
  for (const level of p.contours) {
    const lines = joined(contourPieces(scene, level), 0.02 / to.scale || 1e-9);
    ctx.strokeStyle = theme.ink;
    ctx.lineWidth = 0.8;
    for (const line of lines) {
      ctx.beginPath();
      for (let k = 0; k < line.length; k += 3) {
        const [x, y] = to.to(line[k]!, line[k + 1]!, line[k + 2]!);
        k === 0 ? ctx.moveTo(x, y) : ctx.lineTo(x, y);
      }
      ctx.stroke();
    }
    const label = formatNumber(level, 4);
    const width = richWidth(text, label, small);
    for (const line of lines.slice(0, 2)) {
      const ends = [0, line.length - 3].map((k) => to.to(line[k]!, line[k + 1]!, line[k + 2]!));
      if (
        line.length < 3 * 6 ||
        (Math.hypot(ends[1]![0] - ends[0]![0], ends[1]![1] - ends[0]![1]) < 1.5 * width && line.length < 3 * 60)
      )
        break;
      for (const share of [0.5, 0.3, 0.7]) {
        const k = 3 * Math.floor((line.length / 3) * share);
        const [x, y] = to.to(line[k]!, line[k + 1]!, line[k + 2]!);
        const box = { x: x - width / 2 - 2, y: y - 6, width: width + 4, height: 12 };
        if (
          taken.some(
            (t) =>
              t.x < box.x + box.width && box.x < t.x + t.width && t.y < box.y + box.height && box.y < t.y + t.height,
          )
        )
          continue;
        taken.push(box);
        ctx.fillStyle = "#FFFFFFD8";
        ctx.fillRect(box.x, box.y, box.width, box.height);
        ctx.fillStyle = theme.ink;
        drawRichText(text, label, x - width / 2, y + 3.5, small, "left");
        break;
      }
    }
  }
}

function head(ctx: CanvasRenderingContext2D, x: number, y: number, angle: number, size: number): void {
  ctx.beginPath();
  ctx.moveTo(x, y);
  ctx.lineTo(x - size * Math.cos(angle - 0.45), y - size * Math.sin(angle - 0.45));
  ctx.lineTo(x - size * Math.cos(angle + 0.45), y - size * Math.sin(angle + 0.45));
  ctx.closePath();
  ctx.fill();
}

function paintStreamlines(s: PictureSurface, scene: Scene, to: Projection): void {
  const g = scene.grid!;
  const { ctx } = s;
  const pixelsPerStep = gridPixels(scene, to);
  ctx.strokeStyle = "#1F2629CC";
  ctx.fillStyle = "#1F2629CC";
  ctx.lineWidth = 0.9;
  for (const line of streamlines(g, Math.max(1.5, 15 / pixelsPerStep))) {
    const points = Array.from({ length: line.length / 2 }, (_, k) =>
      to.to(...placeOn(g, line[2 * k]!, line[2 * k + 1]!)),
    );
    ctx.beginPath();
    points.forEach(([x, y], k) => (k === 0 ? ctx.moveTo(x, y) : ctx.lineTo(x, y)));
    ctx.stroke();
    const k = Math.floor(points.length / 2);
    if (k < 1) continue;
    const [a, b] = [points[k - 1]!, points[k]!];
    head(ctx, b[0], b[1], Math.atan2(b[1] - a[1], b[0] - a[0]), 5);
  }
}

function gridPixels(scene: Scene, to: Projection): number {
  const g = scene.grid!;
  const [a, b] = [to.to(...placeOn(g, 0, 0)), to.to(...placeOn(g, g.nx - 1, 0))];
  return Math.hypot(b[0] - a[0], b[1] - a[1]) / (g.nx - 1) || 1;
}

/** Arrows on an even grid; the longest of all panels reaches to the next one. */
function paintArrows(s: PictureSurface, p: PictureDescription, scene: Scene, to: Projection): void {
  const g = scene.grid!;
  const { ctx } = s;
  const every = Math.max(1, Math.round(22 / gridPixels(scene, to)));
  const gap = every * gridPixels(scene, to);
  let most = 0;
  for (const o of p.panels) if (o.scene.grid) for (const v of inGrid(o.scene.grid).size) if (v > most) most = v;
  if (!(most > 0)) return;
  ctx.strokeStyle = theme.ink;
  ctx.fillStyle = theme.ink;
  ctx.lineWidth = 1;
  const { right, up } = to.basis;
  for (let j = Math.floor(every / 2); j < g.ny; j += every)
    for (let i = Math.floor(every / 2); i < g.nx; i += every) {
      const k = j * g.nx + i;
      const v = [0, 1, 2].map((d) => g.vectors[3 * k + d]!) as [number, number, number];
      const [a, b] = [right, up].map((w) => v[0] * w[0] + v[1] * w[1] + v[2] * w[2]) as [number, number];
      const length = (Math.hypot(a, b) / most) * gap * 1.3;
      if (!(length > 0.8)) continue;
      const angle = Math.atan2(-b, a);
      const [x, y] = to.to(g.places[3 * k]!, g.places[3 * k + 1]!, g.places[3 * k + 2]!);
      const [ex, ey] = [x + length * Math.cos(angle), y + length * Math.sin(angle)];
      ctx.beginPath();
      ctx.moveTo(x, y);
      ctx.lineTo(ex, ey);
      ctx.stroke();
      head(ctx, ex, ey, angle, Math.min(5, 2 + length * 0.3));
    }
}

const SITE = "#2C7A70";

function paintSites(s: PictureSurface, p: PictureDescription, to: Projection, font: TextFont): void {
  const { ctx } = s;
  const text = ctx as unknown as TextContext;
  for (const site of p.sites) {
    const points = Array.from({ length: site.places.length / 3 }, (_, k) =>
      to.to(site.places[3 * k]!, site.places[3 * k + 1]!, site.places[3 * k + 2]!),
    );
    ctx.strokeStyle = SITE;
    ctx.lineWidth = 2;
    if (site.joined) {
      ctx.beginPath();
      points.forEach(([x, y], k) => (k === 0 ? ctx.moveTo(x, y) : ctx.lineTo(x, y)));
      // White on both sides keeps it apart from any colour.
      ctx.strokeStyle = "#FFFFFFD0";
      ctx.lineWidth = 5;
      ctx.stroke();
      ctx.strokeStyle = SITE;
      ctx.lineWidth = 2;
      ctx.stroke();
    } else
      for (const [x, y] of points) {
        ctx.beginPath();
        ctx.arc(x, y, 4, 0, 2 * Math.PI);
        ctx.fillStyle = "#FFFFFFE0";
        ctx.fill();
        ctx.stroke();
      }
    const last = points[points.length - 1];
    if (!last) continue;
    const width = richWidth(text, site.name, font);
    ctx.fillStyle = "#FFFFFFD0";
    ctx.fillRect(last[0] + 7, last[1] - 8, width + 4, 15);
    ctx.fillStyle = SITE;
    drawRichText(text, site.name, last[0] + 9, last[1] + 4, font, "left");
  }
}

/** Which way x, y and z go, and how long a length is. */
function paintDirections(s: PictureSurface, to: Projection, area: Area, p: PictureDescription, font: TextFont): void {
  if (area.width < 120 || area.height < 70) return;
  const { ctx } = s;
  const text = ctx as unknown as TextContext;
  const { right, up } = to.basis;
  const [x0, y0] = [area.x + 16, area.y + area.height - 6];
  const small = { ...font, size: 10 };
  ctx.lineWidth = 1.2;
  ctx.strokeStyle = theme.ink;
  (["x", "y", "z"] as const).forEach((name, d) => {
    const [a, b] = [right[d]! * 20, -up[d]! * 20];
    if (Math.hypot(a, b) < 5) return;
    const [x, y] = [x0 + a, y0 + b];
    ctx.beginPath();
    ctx.moveTo(x0, y0);
    ctx.lineTo(x, y);
    ctx.stroke();
    ctx.fillStyle = theme.ink;
    head(ctx, x, y, Math.atan2(b, a), 4);
    drawRichText(text, name, x + (a >= 0 ? 3 : -9), y + (b < -4 ? -3 : 4), small, "left");
  });
  const long = evenTicks(0, (Math.min(area.width, 2 * area.height) * 0.25) / to.scale, 2).at(-1) ?? 0;
  if (!(long > 0)) return;
  const [bx, by, bw] = [area.x + area.width - long * to.scale - 4, area.y + area.height - 4, long * to.scale];
  const label = `${formatNumber(long)} ${displayUnit(p.lengthUnit)}`.trim();
  const width = richWidth(text, label, small);
  ctx.fillStyle = "#FFFFFFC8";
  ctx.fillRect(bx - 2, by - 16, Math.max(bw, width) + 4, 18);
  ctx.fillStyle = theme.ink;
  ctx.fillRect(bx, by - 1.5, bw, 1.5);
  drawRichText(text, label, bx + bw / 2, by - 5, small, "center");
}

const BINS = 60;

/** The colours flat along the bottom, with how often which value is seen standing on them. */
function paintStrip(
  s: PictureSurface,
  p: PictureDescription,
  shown: readonly PicturePanel[],
  area: Area,
  font: TextFont,
): void {
  const { ctx } = s;
  const text = ctx as unknown as TextContext;
  const c = p.color!;
  const unit = displayUnit(c.unit);
  const title = unit === "" ? c.title : `${c.title} (${unit})`;
  const room = Math.min(area.width * 0.4, richWidth(text, title, font) + 12);
  ctx.fillStyle = theme.ink;
  drawRichText(text, cutText(text, title, font, room), area.x, area.y + 34, font, "left");
  const [x, width, y] = [area.x + room, Math.min(420, area.width - room - 20), area.y + 26];
  const counts = new Float64Array(BINS);
  if (!p.ownRange)
    for (const { scene } of shown)
      for (let k = 0; k < scene.values.length / 3; k++) {
        const v = (scene.values[3 * k]! + scene.values[3 * k + 1]! + scene.values[3 * k + 2]!) / 3;
        const bin = c.max > c.min ? Math.floor(((v - c.min) / (c.max - c.min)) * BINS) : 0;
        if (bin >= 0 && bin <= BINS) counts[Math.min(BINS - 1, bin)]! += areaOf(scene.triangles, 9 * k);
      }
  const most = Math.max(...counts);
  ctx.fillStyle = "#5F6B6D66";
  if (most > 0)
    counts.forEach((n, k) =>
      ctx.fillRect(x + (k * width) / BINS, y - (n / most) * 20, width / BINS - 0.5, (n / most) * 20),
    );
  const steps = c.steps ?? 200;
  for (let k = 0; k < steps; k++) {
    ctx.fillStyle = fieldHex(c.steps === undefined ? k / (steps - 1) : (k + 0.5) / steps);
    ctx.fillRect(x + (k * width) / steps, y, width / steps + (k < steps - 1 ? 0.4 : 0), 10);
  }
  const small = { ...font, size: 11, family: s.fonts.mono };
  ctx.fillStyle = theme.pencil;
  if (p.ownRange) {
    drawRichText(text, "min", x, y + 23, { ...font, size: 11 }, "left");
    drawRichText(text, "max of each", x + width, y + 23, { ...font, size: 11 }, "right");
    return;
  }
  const ticks = c.max > c.min ? evenTicks(c.min, c.max, Math.max(2, Math.floor(width / 70))) : [c.min];
  for (const v of ticks) {
    const at = c.max > c.min ? x + ((v - c.min) / (c.max - c.min)) * width : x + width / 2;
    ctx.fillRect(at - 0.5, y + 10, 1, 3);
    drawRichText(text, formatNumber(v, 5), at, y + 24, small, "center");
  }
}

function areaOf(t: Float64Array, o: number): number {
  const e = (k: number, d: number): number => t[o + 3 * k + d]! - t[o + d]!;
  return Math.hypot(
    e(1, 1) * e(2, 2) - e(1, 2) * e(2, 1),
    e(1, 2) * e(2, 0) - e(1, 0) * e(2, 2),
    e(1, 0) * e(2, 1) - e(1, 1) * e(2, 0),
  );
}
