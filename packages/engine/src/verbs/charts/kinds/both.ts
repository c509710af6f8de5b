import { layerKind } from "../layer-kind.js";
import { lineSeries } from "../series.js";

export const bothLayer = layerKind({
  name: "both",
  doc: "Points that a line joins.",
  examples: ['chart.both(peaks.sortBy("open"), { x: "open", y: "peak", color: "fan" })'],
  takes: "runs and tables",
  options: "SeriesOptions<C, {by}>",
  layer: (members, o, frame, offset) => ({ series: lineSeries("both", members, o, frame, offset) }),
});
