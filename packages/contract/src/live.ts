import { z } from "zod";
import { numberOrNull } from "./fault.js";

const file = z.string().min(1).max(1000);
const patterns = z.array(z.string().min(1).max(500)).min(1).max(10);
const lineOptions = z
  .strictObject({
    several: z.enum(["first", "last", "all", "rows"]).optional(),
    carry: z.array(z.string()).max(20).optional(),
    increments: z.array(z.string()).max(20).optional(),
    count: z.record(z.string(), z.string().min(1)).optional(),
  })
  .optional();

/** A quantity that is followed: a column of a table, a value that patterns find in a log, or a number of a field. */
export const liveQuantitySchema = z.union([
  z.object({ kind: z.literal("table"), file, column: z.string().min(1).max(500) }),
  z.object({ kind: z.literal("lines"), file, patterns, column: z.string().min(1).max(500), options: lineOptions }),
  z.object({
    kind: z.literal("field"),
    file,
    field: z.string().min(1).max(500),
    statistic: z.enum(["mean", "min", "max"]),
  }),
]);
export type LiveQuantity = z.infer<typeof liveQuantitySchema>;

/** Which quantities of which runs; `have` names versions of series (`RUN/NUMBER`) that need not come again. */
export const liveRequestSchema = z.object({
  runs: z.array(z.string()).max(2000),
  quantities: z.array(z.object({ quantity: liveQuantitySchema, along: z.enum(["axis", "row"]) })).max(12),
  have: z.record(z.string(), z.string()).default({}),
});
export type LiveRequest = z.input<typeof liveRequestSchema>;

export const runStateSchema = z.enum(["waiting", "running", "stalled", "diverging", "finished", "failed"]);
export type RunStateName = z.infer<typeof runStateSchema>;

export const liveSeriesSchema = z.object({
  version: z.string(),
  x: z.array(numberOrNull).optional(),
  y: z.array(numberOrNull).optional(),
  xName: z.string().optional(),
  xUnit: z.string().nullable().optional(),
  unit: z.string().nullable().optional(),
  rows: z.number().optional(),
  /** The last value, and its slope: least squares over the last tenth of the rows. */
  last: numberOrNull.optional(),
  slope: numberOrNull.optional(),
  notes: z.array(z.string()).optional(),
  error: z.string().optional(),
});
export type LiveSeries = z.infer<typeof liveSeriesSchema>;

export const liveRunSchema = z.object({
  id: z.string(),
  state: runStateSchema,
  because: z.string(),
  /** When one of its files was written last, ms. */
  written: numberOrNull,
  progress: z
    .object({
      value: z.number(),
      end: z.number(),
      unit: z.string().nullable(),
      expected: z.number().optional(),
      byRuns: z.literal(true).optional(),
    })
    .nullable(),
  series: z.array(liveSeriesSchema),
});
export type LiveRun = z.infer<typeof liveRunSchema>;

export const liveStudySchema = z.object({
  /** The server's clock, ms; when the folder was looked at and scanned last. */
  at: z.number(),
  lookedAt: z.number(),
  scannedAt: z.number(),
  runs: z.array(liveRunSchema),
});
export type LiveStudy = z.infer<typeof liveStudySchema>;

export const logRequestSchema = z.object({ run: z.string(), file });
/** Kinds of lines of a log: lines that differ in their numbers only are of one kind. */
export const logLinesSchema = z.object({
  file: z.string(),
  /** Bytes of the file, and of its start and end that were looked at. */
  size: z.number(),
  seen: z.number(),
  kinds: z.array(
    z.object({
      /** The last line of the kind, and where numbers stand in it. */
      text: z.string(),
      count: z.number(),
      numbers: z.array(z.object({ start: z.number(), end: z.number(), name: z.string(), unit: z.string().nullable() })),
    }),
  ),
});
export type LogLines = z.infer<typeof logLinesSchema>;

export const logMatchRequestSchema = z.object({ ...logRequestSchema.shape, patterns, options: lineOptions });
/** What patterns find in a log. */
export const logMatchSchema = z.object({
  rows: z.number(),
  columns: z.array(
    z.object({ name: z.string(), unit: z.string().nullable(), last: z.union([numberOrNull, z.string()]) }),
  ),
  /** By pattern: lines that it matches, and lines that begin like it but do not match, the first of them. */
  patterns: z.array(
    z.object({
      matches: z.number(),
      misses: z.number(),
      missed: z.array(z.object({ line: z.number(), text: z.string() })),
    }),
  ),
  notes: z.array(z.string()),
});
export type LogMatch = z.infer<typeof logMatchSchema>;
