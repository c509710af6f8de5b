import { z } from "zod";
import { numberOrNull } from "./fault.js";

export const columnHead = z.object({ name: z.string(), unit: z.string().nullable(), kind: z.enum(["number", "text"]) });
const problem = z.object({ run: z.string(), kind: z.string(), file: z.string().optional(), text: z.string() });

export const studyListSchema = z.array(
  z.object({
    name: z.string(),
    folder: z.string(),
    title: z.string().nullable(),
    runs: z.number(),
    parameters: z.array(z.string()),
    problems: z.number(),
    error: z.string().optional(),
  }),
);

const fieldHead = z.object({
  file: z.string(),
  axis: z.string().nullable(),
  /** The unit of `last`; null where the axis has none. */
  axisUnit: z.string().nullable(),
  fields: z.array(
    z.object({ name: z.string(), on: z.enum(["point", "cell"]), components: z.number(), unit: z.string().nullable() }),
  ),
  blocks: z.array(z.string()),
  runs: z.number(),
  steps: z.number(),
  last: z.number().nullable(),
  odd: z.array(z.object({ run: z.string(), text: z.string() })),
});
export type FieldHead = z.infer<typeof fieldHead>;

export const studySchema = z.object({
  name: z.string(),
  folder: z.string(),
  scannedAt: z.number(),
  title: z.string().nullable(),
  how: z.string(),
  /** Whether the definition says when runs are finished. */
  states: z.boolean(),
  parameters: z.array(
    z.object({
      name: z.string(),
      unit: z.string().nullable(),
      type: z.enum(["number", "text"]),
      label: z.string().optional(),
    }),
  ),
  files: z.array(
    z.object({
      file: z.string(),
      columns: z.array(columnHead).nullable(),
      runs: z.number(),
      axis: z.string().nullable(),
    }),
  ),
  fields: z.array(fieldHead),
  rules: z.array(z.object({ name: z.string(), file: z.string(), value: z.string(), limit: z.string() })),
  beside: z.array(z.object({ file: z.string(), columns: z.array(columnHead).nullable() })),
  /** What of the folder could not be listed, and belongs to no run. */
  problems: z.array(z.string()),
  runs: z.array(
    z.object({
      id: z.string(),
      params: z.record(z.string(), z.union([z.number(), z.string()])),
      files: z.number(),
      problems: z.array(problem),
    }),
  ),
});

export const seriesSchema = z.array(
  z.union([
    z.object({
      run: z.string(),
      x: z.array(numberOrNull),
      y: z.array(numberOrNull),
      xName: z.string(),
      xUnit: z.string().nullable(),
      unit: z.string().nullable(),
      min: numberOrNull,
      max: numberOrNull,
    }),
    z.object({ run: z.string(), error: z.string() }),
  ]),
);

/** A study to add: its name in scripts, and its folder on the server's machine. */
export const addStudySchema = z.object({ name: z.string(), folder: z.string().min(1) });
export const addedStudySchema = z.object({ name: z.string() });

/** Histories of one column over runs. */
export const seriesRequestSchema = z.object({
  file: z.string(),
  column: z.string(),
  runs: z.array(z.string().max(1000)).max(600),
  points: z.number().int().min(10).max(5000).default(600),
});

/** Of which table of a run curves are asked for. */
export const curvesRequestSchema = z.object({ file: z.string(), run: z.string().max(1000) });

/** What a table's columns of numbers look like: each over the axis, thinned for a small picture. */
export const curvesSchema = z.array(
  z.object({ column: z.string(), x: z.array(numberOrNull), y: z.array(numberOrNull) }),
);
export type Curves = z.infer<typeof curvesSchema>;

/** Rows of a run's table. */
export const rowsRequestSchema = z.object({
  file: z.string(),
  run: z.string(),
  from: z.coerce.number().int().min(0),
  to: z.coerce.number().int().min(0),
});

export type StudySummary = z.infer<typeof studySchema>;
export type ColumnHead = z.infer<typeof columnHead>;
export type SeriesAnswer = z.infer<typeof seriesSchema>;
