import { layerKind } from "../layer-kind.js";
import { lineSeries } from "../series.js";

export const stepsLayer = layerKind({
  name: "steps",
  doc: "Values that hold until the next one.",
  examples: ['chart.steps(t.resample("time", { step: "300 s" }), { x: "time", y: "T_max" })'],
  takes: "runs and tables",
  options: "SeriesOptions<C, {by}>",
  layer: (members, o, frame, offset) => ({ series: lineSeries("steps", members, o, frame, offset) }),
});
