import { layerKind } from "../layer-kind.js";
import { lineSeries } from "../series.js";

export const linePointsLayer = layerKind({
  name: "linePoints",
  doc: "Points that a line joins.",
  examples: ['chart.linePoints(peaks.sortBy("open"), { x: "open", y: "peak", color: "fan" })'],
  takes: "runs and tables",
  options: "SeriesOptions<C, {by}>",
  layer: (members, o, frame, offset) => ({ series: lineSeries("linePoints", members, o, frame, offset) }),
});
