import { z } from "zod";
import { chartSchema } from "./chart.js";
import { excludedRunSchema, numberOrNull } from "./fault.js";

const quantity = z
  .object({
    value: numberOrNull,
    unit: z.string().nullable(),
    reason: z.string().optional(),
    method: z.string().optional(),
  })
  .loose();
/** A column of a table, numbers and texts as JSON has them: null is missing, "Inf" and "-Inf" are numbers too. */
export const tableColumnSchema = z.object({
  name: z.string(),
  label: z.string().optional(),
  unit: z.string().nullable(),
  kind: z.string(),
  values: z.array(z.union([z.number(), z.string(), z.null()])),
});
export const valueSchema = z.union([
  z.object({
    kind: z.literal("chart"),
    chart: chartSchema,
    runs: z.array(z.string()),
    left: z.array(excludedRunSchema),
  }),
  z.object({
    kind: z.literal("table"),
    left: z.array(excludedRunSchema),
    rows: z.number(),
    notes: z.array(z.string()),
    columns: z.array(tableColumnSchema),
  }),
  z.object({
    kind: z.literal("picture"),
    left: z.array(excludedRunSchema),
    runs: z.array(z.string()),
    panels: z.number(),
    frames: z.boolean(),
    titles: z.array(z.string()),
  }),
  z.object({ kind: z.literal("quantity"), quantity, left: z.array(excludedRunSchema) }).loose(),
  z
    .object({
      kind: z.literal("check"),
      check: z
        .object({ verdict: z.string(), value: quantity, limit: z.string(), reason: z.string().optional() })
        .loose(),
      left: z.array(excludedRunSchema),
    })
    .loose(),
]);

export type OutputValue = z.infer<typeof valueSchema>;
export type TableValue = Extract<OutputValue, { kind: "table" }>;
