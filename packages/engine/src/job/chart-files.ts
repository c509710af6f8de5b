import { chartNumbers, type ChartDescription } from "@oxtrum/core/charts";
import { defaultSize, drawPdf, drawPng, drawSvg, toCsv } from "@oxtrum/core/exports";
import { dotted, drawnSize } from "./output-size.js";

const formats = ["svg", "png", "pdf", "csv"];
/** The files of a chart: drawn in each format, and its numbers. */
export function chartFiles(
  base: string,
  chart: ChartDescription,
  options: Readonly<Record<string, unknown>>,
): { file: string; content: Uint8Array | string }[] {
  const size = drawnSize(options, defaultSize);
  return ((options["formats"] as string[] | undefined) ?? ["svg", "png"]).map((f) => {
    if (!formats.includes(f)) throw new Error(`format "${f}": use ${formats.join(", ")}`);
    const content =
      f === "svg" ? drawSvg(chart, size) : f === "png" ? drawPng(chart, dotted(size)) : f === "pdf" ? drawPdf(chart, size) : toCsv(chartNumbers(chart)); // prettier-ignore
    return { file: `${base}.${f}`, content };
  });
}
