import { createRequire } from "node:module";
import path from "node:path";
import { createCanvas, GlobalFonts, SvgExportFlag } from "@napi-rs/canvas";
import {
  BarController,
  BarElement,
  CategoryScale,
  Chart,
  Filler,
  Legend,
  LinearScale,
  LineController,
  LineElement,
  LogarithmicScale,
  PointElement,
  ScatterController,
} from "chart.js";
import { chartConfig, type ChartDescription } from "../charts/index.js";

Chart.register(
  BarController,
  BarElement,
  CategoryScale,
  Filler,
  Legend,
  LinearScale,
  LineController,
  LineElement,
  LogarithmicScale,
  PointElement,
  ScatterController,
);

const subsets = ["latin", "latin-ext", "greek"] as const;
let fonts: { sans: string; mono: string } | undefined;

/** Registers the fonts that ship with the product, each subset under a name of its own; system fonts are not used. */
function shippedFonts(): { sans: string; mono: string } {
  if (fonts) return fonts;
  const require = createRequire(import.meta.url);
  const register = (family: "sans" | "mono"): string => {
    const folder = path.dirname(require.resolve(`@fontsource/ibm-plex-${family}/package.json`));
    const names: string[] = [];
    for (const subset of subsets) {
      if (subset === "greek" && family === "mono") continue;
      const name = `Plex ${family} ${subset}`;
      for (const weight of [400, 600])
        GlobalFonts.registerFromPath(
          path.join(folder, "files", `ibm-plex-${family}-${subset}-${weight}-normal.woff2`),
          name,
        );
      names.push(`"${name}"`);
    }
    return names.join(", ");
  };
  GlobalFonts.registerFromPath(
    path.join(path.dirname(require.resolve("dejavu-fonts-ttf/package.json")), "ttf", "DejaVuSans.ttf"),
    "Ox fallback",
  );
  return (fonts = { sans: register("sans") + ', "Ox fallback"', mono: register("mono") + ', "Ox fallback"' });
}

export interface DrawSize {
  readonly width: number;
  readonly height: number;
  /** Pixels per unit, for PNG. */
  readonly scale?: number;
}

export const defaultSize: DrawSize = { width: 800, height: 450, scale: 2 };

/** A chart as PNG. The same chart gives the same bytes. */
export function drawPng(chart: ChartDescription, size: DrawSize = defaultSize): Buffer {
  const scale = size.scale ?? 2;
  const canvas = createCanvas(size.width * scale, size.height * scale);
  paint(chart, canvas as unknown as HTMLCanvasElement, size, scale);
  return canvas.toBuffer("image/png");
}

/** A chart as SVG, with its text as outlines so that it looks the same everywhere. */
export function drawSvg(chart: ChartDescription, size: DrawSize = defaultSize): Buffer {
  const canvas = createCanvas(size.width, size.height, SvgExportFlag.ConvertTextToPaths);
  paint(chart, canvas as unknown as HTMLCanvasElement, size, 1);
  return steadyIds(canvas.getContent());
}

/** Ids in an SVG count on from drawing to drawing: they are numbered anew, so that the same chart gives the same bytes. */
function steadyIds(svg: Buffer): Buffer {
  const text = svg.toString("utf8");
  const ids = new Map<string, string>();
  for (const m of text.matchAll(/\bid="([^"]+)"/g)) if (!ids.has(m[1]!)) ids.set(m[1]!, `e${ids.size}`);
  return Buffer.from(
    text.replace(/(\bid="|url\(#|href="#)([^")]+)/g, (whole, before: string, id: string) =>
      ids.has(id) ? before + ids.get(id)! : whole,
    ),
  );
}

function paint(chart: ChartDescription, canvas: HTMLCanvasElement, size: DrawSize, scale: number): void {
  const look = { width: size.width, height: size.height, fonts: shippedFonts() };
  const config = chartConfig(chart, look);
  const ctx = canvas.getContext("2d")!;
  ctx.fillStyle = "#FFFFFF";
  ctx.fillRect(0, 0, canvas.width, canvas.height);
  if (scale !== 1) {
    // Chart.js sizes the canvas itself; the pixel ratio keeps its own units.
    config.options!.devicePixelRatio = scale;
    (canvas as unknown as { style: object }).style = {};
  }
  config.plugins = [...(config.plugins ?? []), { id: "sheet", beforeDraw: (c) => { c.ctx.save(); c.ctx.fillStyle = "#FFFFFF"; c.ctx.fillRect(0, 0, c.width, c.height); c.ctx.restore(); } }]; // prettier-ignore
  new Chart(sized(canvas, size, scale), config);
}

/** Chart.js reads the size from the element; with a pixel ratio it has to be the unscaled one first. */
function sized(canvas: HTMLCanvasElement, size: DrawSize, scale: number): HTMLCanvasElement {
  if (scale === 1) return canvas;
  canvas.width = size.width;
  canvas.height = size.height;
  return canvas;
}
