import { createCanvas, PDFDocument, SvgExportFlag, type Canvas } from "@napi-rs/canvas";
import { Chart } from "chart.js";
import {
  chartConfig,
  chartParts,
  drawHeader,
  drawingOf,
  panelLayout,
  withAllSeries,
  type ChartDescription,
  type ChartLook,
  type TextContext,
} from "../charts/index.js";
import { documentFonts, shippedFonts } from "./fonts.js";
import { packPng } from "./png.js";
import { TextKeeper } from "./svg-text.js";

Chart.register(...chartParts);

/** Size in pixels of 1/96 inch; `scale` is how many dots of a PNG each has. */
export interface DrawSize {
  readonly width: number;
  readonly height: number;
  readonly scale?: number;
}

export const defaultSize: DrawSize = { width: 800, height: 450, scale: 2 };

/** Points of a printer per pixel. */
export const POINTS = 72 / 96;

function drawnOn(chart: ChartDescription, size: DrawSize): Canvas {
  const scale = size.scale ?? 2;
  const canvas = createCanvas(Math.round(size.width * scale), Math.round(size.height * scale));
  paintChart(canvas.getContext("2d") as unknown as CanvasRenderingContext2D, chart, { ...size, x: 0, y: 0, scale });
  return canvas;
}

/** What was drawn, without the canvas: its pixels are not of JavaScript's memory, and go now. */
export function pixelsOf(canvas: Canvas): [pixels: Uint8ClampedArray, width: number, height: number] {
  const { width, height } = canvas;
  const { data } = canvas.getContext("2d").getImageData(0, 0, width, height);
  canvas.width = canvas.height = 1;
  return [data, width, height];
}

/** The dots of a chart: red, green, blue and opacity of each, rows from the top. */
export const drawPixels = (chart: ChartDescription, size: DrawSize = defaultSize): Uint8ClampedArray =>
  pixelsOf(drawnOn(chart, size))[0];

/**
 * A chart as PNG, packed in another thread while this one draws on. The same chart gives the same bytes.
 * @example await drawPng(chart, { width: 600, height: 400, scale: 300 / 96 })
 */
export const drawPng = async (chart: ChartDescription, size: DrawSize = defaultSize): Promise<Buffer> =>
  packPng(...pixelsOf(drawnOn(chart, size)));

/** A chart as SVG: vectors, with its text as text in embedded fonts. Inside a page that has the fonts, without them. */
export function drawSvg(
  chart: ChartDescription,
  size: DrawSize = defaultSize,
  options: { fonts?: boolean } = {},
): Buffer {
  const canvas = createCanvas(size.width, size.height, SvgExportFlag.ConvertTextToPaths);
  const ctx = canvas.getContext("2d") as unknown as CanvasRenderingContext2D;
  const keeper = new TextKeeper(ctx);
  paintChart(ctx, chart, { ...size, x: 0, y: 0, scale: 1 });
  const svg = withBox(steadyIds(canvas.getContent().toString("utf8")), size);
  return Buffer.from(keeper.into(svg, options.fonts !== false));
}

/** A chart as a PDF of one page, vectors with its text in embedded fonts. */
export function drawPdf(chart: ChartDescription, size: DrawSize = defaultSize): Buffer {
  const doc = new PDFDocument({ title: chart.title ?? "", creator: "Oxtrum" });
  const ctx = doc.beginPage(size.width * POINTS, size.height * POINTS) as unknown as CanvasRenderingContext2D;
  paintChart(ctx, chart, { ...size, x: 0, y: 0, scale: POINTS, fonts: documentFonts() });
  doc.endPage();
  return doc.close();
}

/** An SVG that can be scaled by what shows it. */
const withBox = (svg: string, size: DrawSize): string =>
  svg.replace(/<svg /, `<svg viewBox="0 0 ${size.width} ${size.height}" `);

/**
 * Ids in an SVG count on from drawing to drawing: they are numbered anew, so that the same chart gives the same bytes.
 */
function steadyIds(text: string): string {
  const ids = new Map<string, string>();
  for (const m of text.matchAll(/\bid="([^"]+)"/g)) if (!ids.has(m[1]!)) ids.set(m[1]!, `e${ids.size}`);
  return text.replace(/(\bid="|url\(#|href="#)([^")]+)/g, (whole, before: string, id: string) =>
    ids.has(id) ? before + ids.get(id)! : whole,
  );
}

/** A part of a drawing: where it stands in device units, its size in pixels, and how many device units a pixel has. */
export interface Place {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
  readonly scale: number;
  /** Other fonts than those of pictures. */
  readonly fonts?: ChartLook["fonts"];
}

/** Draws a chart on a part of a context: of a picture, of a page. */
export function paintChart(ctx: CanvasRenderingContext2D, chart: ChartDescription, place: Place): void {
  const look: ChartLook = { width: place.width, height: place.height, fonts: place.fonts ?? shippedFonts() };
  const { theme } = drawingOf(chart, look);
  ctx.save();
  ctx.setTransform(place.scale, 0, 0, place.scale, place.x, place.y);
  ctx.fillStyle = theme.sheet;
  ctx.fillRect(0, 0, place.width, place.height);
  ctx.restore();
  if (!chart.panels) return paintOne(ctx, chart, look, place);
  const whole = drawingOf(withAllSeries(chart), look);
  const { frame, panels } = panelLayout(chart, look, ctx as unknown as TextContext);
  for (const p of panels)
    paintOne(ctx, p.chart, p.look, { ...place, x: place.x + p.x * place.scale, y: place.y + p.y * place.scale });
  ctx.save();
  ctx.setTransform(place.scale, 0, 0, place.scale, place.x, place.y);
  drawHeader(whole, ctx, frame);
  ctx.restore();
}

/**
 * Chart.js believes that it has a canvas of its own: what it does to the whole of it is kept to the place it was given.
 */
function paintOne(ctx: CanvasRenderingContext2D, chart: ChartDescription, look: ChartLook, place: Place): void {
  const { scale: s, x, y } = place;
  type Six = (a: number, b: number, c: number, d: number, e: number, f: number) => void;
  const set = (Object.getPrototypeOf(ctx) as { setTransform: Six }).setTransform;
  const element = { width: look.width, height: look.height, style: {}, getContext: () => ctx };
  const own = (name: string, value: unknown): unknown =>
    Object.defineProperty(ctx, name, { value, configurable: true, writable: true });
  own("canvas", element);
  own("clearRect", () => undefined);
  own("resetTransform", () => set.call(ctx, s, 0, 0, s, x, y));
  own("setTransform", (a: number, b: number, c: number, d: number, e: number, f: number) =>
    set.call(ctx, s * a, s * b, s * c, s * d, s * e + x, s * f + y),
  );
  ctx.save();
  set.call(ctx, s, 0, 0, s, x, y);
  try {
    // Drawn as it is made; what it holds is let go at once.
    new Chart(element as unknown as HTMLCanvasElement, chartConfig(chart, look));
  } finally {
    // One that could not be drawn would be drawn again, with nobody there to hear that it cannot.
    Chart.getChart(element as unknown as HTMLCanvasElement)?.destroy();
    ctx.restore();
    for (const name of ["canvas", "clearRect", "resetTransform", "setTransform"]) Reflect.deleteProperty(ctx, name);
  }
}
