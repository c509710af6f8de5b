import { chartNumbers, type ChartDescription } from "@oxtrum/core/charts";
import { compactJson, defaultSize, drawPdf, drawPng, drawSvg, toCsv } from "@oxtrum/core/exports";
import { dotted, drawnSize } from "../output-size.js";

import { packValue } from "../../store/serialize.js";
import { sha256 } from "../../store/keys.js";
import { thinned } from "../thinned.js";
import { drawNow, type Draw } from "../kept-drawings.js";
import { fewNotes, outputKind, type Content, type Options } from "./output-kind.js";

const formats = ["svg", "png", "pdf", "csv"];
/** The files of a chart: drawn in each format, and its numbers. */
async function chartFiles(
  base: string,
  chart: ChartDescription,
  options: Options,
  draw: Draw = drawNow,
): Promise<Content[]> {
  const size = drawnSize(options, defaultSize);
  const wanted = (options["formats"] as string[] | undefined) ?? ["svg", "png"];
  for (const f of wanted) if (!formats.includes(f)) throw new Error(`format "${f}": use ${formats.join(", ")}`);
  // Begun first: it is packed while the others are drawn.
  const png = wanted.includes("png") ? draw("png", dotted(size), () => drawPng(chart, dotted(size))) : undefined;
  // Where another format fails first, nobody waits for it any more.
  png?.catch(() => undefined);
  const out: Content[] = [];
  for (const f of wanted)
    out.push({
      file: `${base}.${f}`,
      content:
        f === "svg"
          ? await draw("svg", size, () => drawSvg(chart, size))
          : f === "pdf"
            ? await draw("pdf", size, () => drawPdf(chart, size))
            : f === "csv"
              ? toCsv(chartNumbers(chart))
              : await png!,
    });
  return out;
}

/** A chart: drawn files and its numbers. */
export const chart = outputKind("chart", {
  kind: "chart",
  files: ({ name, value, options, draw }, names) => chartFiles(names.path(name), value.chart, options, draw),
  told: ({ value }) => ({ notes: fewNotes(value.notes ?? []) }),
  digest: ({ value }) => sha256(packValue(value.chart)),
  // Thinned for a first look.
  view: ({ chart: whole, left, runs }) => ({
    json: compactJson({ kind: "chart", chart: thinned(whole), left, runs }),
  }),
  inReport: "outputs",
  blocks: ({ value, options, caption }) => [
    { kind: "chart", chart: value.chart, ...drawnSize(options, defaultSize), caption },
  ],
  compares: "drawing",
});
