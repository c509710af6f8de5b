import { layerKind } from "../layer-kind.js";
import { lineSeries } from "../series.js";

export const pointsLayer = layerKind({
  name: "points",
  doc: "Points of a table, or of each run's table.",
  examples: ['chart.points(peaks, { x: "fan", y: "peak" })'],
  takes: "runs and tables",
  options: "SeriesOptions<C, {by}>",
  layer: (members, o, frame, offset) => ({ series: lineSeries("points", members, o, frame, offset) }),
});
