import { chartNumbers, type ChartDescription } from "@oxtrum/core/charts";
import { defaultSize, drawPdf, drawPngAside, drawSvg, toCsv } from "@oxtrum/core/exports";
import { dotted, drawnSize } from "./output-size.js";

const formats = ["svg", "png", "pdf", "csv"];
/** The files of a chart: drawn in each format, and its numbers. */
export async function chartFiles(
  base: string,
  chart: ChartDescription,
  options: Readonly<Record<string, unknown>>,
): Promise<{ file: string; content: Uint8Array | string }[]> {
  const size = drawnSize(options, defaultSize);
  const wanted = (options["formats"] as string[] | undefined) ?? ["svg", "png"];
  for (const f of wanted) if (!formats.includes(f)) throw new Error(`format "${f}": use ${formats.join(", ")}`);
  // Begun first: it is packed while the others are drawn.
  const png = wanted.includes("png") ? drawPngAside(chart, dotted(size)) : undefined;
  const out: { file: string; content: Uint8Array | string }[] = [];
  for (const f of wanted)
    out.push({
      file: `${base}.${f}`,
      content:
        f === "svg"
          ? drawSvg(chart, size)
          : f === "pdf"
            ? drawPdf(chart, size)
            : f === "csv"
              ? toCsv(chartNumbers(chart))
              : await png!,
    });
  return out;
}
