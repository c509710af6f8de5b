import { z } from "zod";
import type { Table } from "@oxtrum/core/tables";
import * as t from "@oxtrum/core/tables";
import type { AxesFrame } from "../axes-frame.js";
import { layerKind } from "../layer-kind.js";
import { lineSeries } from "../series.js";

/** The ends of error bars: half a length about the value, or two columns. */
function errorEnds(
  table: Table,
  o: { readonly error?: string | undefined; readonly lower?: string | undefined; readonly upper?: string | undefined },
  y: Float64Array,
  frame: AxesFrame,
  side: "left" | "right",
): { low: Float64Array; high: Float64Array } {
  if (o.error !== undefined) {
    const e = t.numbers(table, o.error);
    const unit = frame[side]!.unit;
    const scale = e.unit === null || unit === null ? 1 : t.stepScale(e.unit, unit);
    return { low: y.map((v, i) => v - e.values[i]! * scale), high: y.map((v, i) => v + e.values[i]! * scale) };
  }
  const end = (name: string | undefined): Float64Array =>
    name === undefined ? y : frame.values(side, t.numbers(table, name));
  return { low: end(o.lower), high: end(o.upper) };
}

export const errorBarsLayer = layerKind({
  name: "errorBars",
  doc: "Points with error bars: `error` is a column with half their length, or `lower` and `upper` hold their ends.",
  examples: [
    'chart.errorBars(peaks.derive("e", "0.05 * (peak - t0)", { with: { t0: "270 K" } }), { x: "open", y: "peak", error: "e" })',
  ],
  takes: "tables",
  options: "SeriesOptions<C, {by}> & { error?: NumberName<C>; lower?: NumberName<C>; upper?: NumberName<C> }",
  needsOptions: true,
  own: {
    error: z.string().optional(),
    lower: z.string().optional(),
    upper: z.string().optional(),
  },
  columns: ["error", "lower", "upper"],
  layer: (members, o, frame, offset) => ({
    series: lineSeries("errorBars", members, o, frame, offset, (table, y, side) => errorEnds(table, o, y, frame, side)),
  }),
});
