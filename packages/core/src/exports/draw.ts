import { createCanvas, PDFDocument, SvgExportFlag, type Canvas } from "@napi-rs/canvas";
import { Chart, type ChartType, type DefaultDataPoint } from "chart.js";
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
import { documentFonts, shippedFonts, type FontNames } from "./fonts.js";
import { packPng } from "./png.js";
import { Recorder, type Target } from "./recorder.js";
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
export interface Place extends Target {
  readonly width: number;
  readonly height: number;
}

/** Draws a chart on a part of a context: of a picture, of a page. */
export function paintChart(ctx: CanvasRenderingContext2D, chart: ChartDescription, place: Place): void {
  ctx.save();
  recorded(chart, place.width, place.height).drawOn(ctx, place);
  ctx.restore();
}

/** Charts that were laid out last, as long as they are there: most are drawn in several formats. */
let latest: { readonly chart: WeakRef<ChartDescription>; readonly size: string; readonly drawing: Recorder }[] = [];
/** How many calls they may have together: some 20 MB. */
const MOST_CALLS = 500_000;

/** A chart laid out in a size. */
function recorded(chart: ChartDescription, width: number, height: number): Recorder {
  const size = `${width} ${height}`;
  const known = latest.find((l) => l.size === size && l.chart.deref() === chart);
  if (known) return known.drawing;
  const drawing = laidOut(chart, { width, height, fonts: shippedFonts() });
  const there = [...latest.filter((l) => l.chart.deref()), { chart: new WeakRef(chart), size, drawing }];
  let calls = there.reduce((sum, l) => sum + l.drawing.size, 0);
  while (calls > MOST_CALLS) calls -= there.shift()!.drawing.size;
  latest = there;
  return drawing;
}

function laidOut(chart: ChartDescription, look: ChartLook & { readonly fonts: FontNames }): Recorder {
  const { theme } = drawingOf(chart, look);
  const to = new Recorder(look.fonts);
  const ctx = to.context;
  ctx.resetTransform();
  ctx.fillStyle = theme.sheet;
  ctx.fillRect(0, 0, look.width, look.height);
  if (!chart.panels) {
    layOne(to, chart, look);
    return to;
  }
  const whole = drawingOf(withAllSeries(chart), look);
  const { frame, panels } = panelLayout(chart, look, ctx as unknown as TextContext);
  for (const p of panels) {
    to.origin(p.x, p.y);
    layOne(to, p.chart, p.look);
  }
  to.origin(0, 0);
  ctx.resetTransform();
  drawHeader(whole, ctx, frame);
  return to;
}

/** Lays a chart out by Chart.js, which believes that it has a canvas of its own. */
function layOne(to: Recorder, chart: ChartDescription, look: ChartLook): void {
  const ctx = to.context;
  const element = { width: look.width, height: look.height, style: {}, getContext: () => ctx };
  to.canvas = element;
  ctx.save();
  ctx.resetTransform();
  try {
    // Drawn as it is made; what it holds is let go at once.
    // With its types: finding them out costs the compiler as much as half of this package.
    new Chart<ChartType, DefaultDataPoint<ChartType>, unknown>(
      element as unknown as HTMLCanvasElement,
      chartConfig(chart, look),
    );
  } finally {
    // One that could not be drawn would be drawn again, with nobody there to hear that it cannot.
    Chart.getChart(element as unknown as HTMLCanvasElement)?.destroy();
    ctx.restore();
  }
}
