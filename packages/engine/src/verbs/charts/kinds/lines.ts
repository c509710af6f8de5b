import { layerKind } from "../layer-kind.js";
import { lineSeries } from "../series.js";

export const linesLayer = layerKind({
  name: "lines",
  doc: "Lines of a table, or of each run's table.",
  examples: [
    'chart.lines(air, { x: "time", y: "T_mean", color: "fan", legend: "ends" })',
    'chart.lines(air, { y: ["T_mean", "T_max"], panels: "fan", columns: 2, marks: [{ y: "5 degC", text: "limit" }] })',
  ],
  takes: "runs and tables",
  options: "SeriesOptions<C, {by}>",
  layer: (members, o, frame, offset) => ({ series: lineSeries("lines", members, o, frame, offset) }),
});
