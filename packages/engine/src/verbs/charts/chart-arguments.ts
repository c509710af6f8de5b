import { z } from "zod";
import { dictionary } from "../../dictionary.js";
import { boundArg } from "../arguments.js";

export const scalar = z.union([z.number(), z.string(), z.null()]);
const oneOrMore = z.union([z.string(), z.array(z.string())]);

const layerOptions = z.object({
  x: z.string().optional(),
  y: oneOrMore.optional(),
  z: z.string().optional(),
  along: z.string().optional(),
  right: oneOrMore.optional(),
  color: z.string().optional(),
  colors: z.enum(["ramp", "distinct"]).optional(),
  dash: z.string().optional(),
  marker: z.string().optional(),
  name: z.string().optional(),
  show: z.array(z.string()).optional(),
  upright: z.boolean().optional(),
  faint: z.boolean().optional(),
  stacked: z.boolean().optional(),
  /** Of error bars: a column with half their length, or two with their ends. */
  error: z.string().optional(),
  low: z.string().optional(),
  high: z.string().optional(),
  count: z.number().optional(),
  width: boundArg.optional(),
  within: z.union([boundArg, z.string()]).optional(),
  extremes: z.enum(["min", "max", "both"]).optional(),
});
export type LayerOptions = z.infer<typeof layerOptions>;

const source = z.union([
  z.object({
    from: z.literal("runs"),
    runs: z.array(z.string()),
    missing: z.array(z.object({ run: z.string(), reason: z.string() })),
    params: z.array(dictionary(scalar)),
  }),
  z.object({ from: z.literal("table") }),
]);

const range = z.tuple([boundArg, boundArg]).optional();
const scale = z.enum(["linear", "log"]).optional();
const place = z.union([boundArg, z.tuple([boundArg, boundArg])]);

const chartOptions = z.object({
  title: z.string().optional(),
  subtitle: z.string().optional(),
  xTitle: z.string().optional(),
  yTitle: z.string().optional(),
  rightTitle: z.string().optional(),
  xScale: scale,
  yScale: scale,
  rightScale: scale,
  xRange: range,
  yRange: range,
  rightRange: range,
  xReversed: z.boolean().optional(),
  yReversed: z.boolean().optional(),
  xDigits: z.number().int().min(1).max(15).optional(),
  yDigits: z.number().int().min(1).max(15).optional(),
  rightDigits: z.number().int().min(1).max(15).optional(),
  legend: z.enum(["top", "right", "inside", "ends", "none"]).optional(),
  theme: z.enum(["screen", "print"]).optional(),
  marks: z
    .array(z.object({ x: place.optional(), y: place.optional(), right: place.optional(), text: z.string().optional() }))
    .optional(),
  panels: z.string().optional(),
  columns: z.number().int().min(1).max(12).optional(),
  size: z.unknown().optional(),
  resolution: z.unknown().optional(),
});
export type ChartOptions = z.infer<typeof chartOptions>;

export const kinds = [
  "lines",
  "points",
  "both",
  "steps",
  "bars",
  "band",
  "errors",
  "box",
  "histogram",
  "heat",
  "parity",
  "residuals",
] as const;
export type LayerKind = (typeof kinds)[number];

export const chartArgs = z.object({
  layers: z.array(z.object({ kind: z.enum(kinds), count: z.number(), source, options: layerOptions })),
  options: chartOptions,
});
export type ChartLayer = z.infer<typeof chartArgs>["layers"][number];
