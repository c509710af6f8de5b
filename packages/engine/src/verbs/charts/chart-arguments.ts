import { z } from "zod";
import { dictionary } from "../../dictionary.js";
import { boundArg } from "../arguments.js";
import { layerKinds } from "./kinds/index.js";
import { layerShape, type LayerOptions } from "./layer-options.js";

export const scalar = z.union([z.number(), z.string(), z.null()]);
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

export const chartOptions = z.object({
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

const layerSchemas = new Map(
  layerKinds.map((k) => [k.name, z.object({ ...layerShape, ...(k.own as Record<string, z.ZodType> | undefined) })]),
);

const layer = z
  .object({ kind: z.string(), count: z.number(), source, options: z.unknown() })
  .transform((l, context) => {
    const read = (layerSchemas.get(l.kind) ?? z.never()).safeParse(l.options);
    if (read.success) return { ...l, options: read.data as LayerOptions };
    for (const i of read.error.issues)
      context.addIssue({ code: "custom", message: i.message, path: ["options", ...i.path] });
    return z.NEVER;
  });

export const chartArgs = z.object({ layers: z.array(layer), options: chartOptions });
export type ChartLayer = z.infer<typeof chartArgs>["layers"][number];
