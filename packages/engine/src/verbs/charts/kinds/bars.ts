import { z } from "zod";
import { layerKind } from "../layer-kind.js";
import { lineSeries } from "../series.js";

export const barsLayer = layerKind({
  name: "bars",
  doc: "Bars over words or numbers, side by side or standing on each other.",
  examples: ['chart.bars(peaks, { x: "run", y: "peak" })'],
  takes: "tables",
  options: "SeriesOptions<C, {by}> & { stacked?: boolean }",
  own: { stacked: z.boolean().optional() },
  layer: (members, o, frame, offset) => ({
    series: lineSeries("bars", members, o, frame, offset).map((s) =>
      o.stacked === true ? { ...s, stack: s.axis ?? "left" } : s,
    ),
  }),
});
