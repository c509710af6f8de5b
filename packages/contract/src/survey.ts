import { z } from "zod";
import { numberOrNull } from "./fault.js";
import { tableColumnSchema } from "./output-value.js";

const which = { run: z.string(), file: z.string().max(1000) };
const site = z.object({ kind: z.string() }).loose();
export const outlineRequestSchema = z.object(which);
export const drawingRequestSchema = z.object({ ...which, sites: z.array(site).max(200) });
/** What a survey asks of a field: of which time, at which site, which fields. */
export const surveyRequestSchema = z.object({
  ...which,
  when: z.union([z.enum(["first", "last"]), z.object({ value: z.number(), pick: z.literal("exact") })]).optional(),
  site,
  fields: z.array(z.string()).min(1).max(20),
  /** Of clouds of points: how values are taken from them. */
  sampling: z.object({ method: z.object({ kind: z.literal("nearest") }) }).optional(),
});

/** Bytes of numbers, little end first. */
const bytes = z.string().transform((t) => Uint8Array.from(atob(t), (c) => c.charCodeAt(0)).buffer);
const floats = bytes.transform((b) => new Float32Array(b));
const indices = bytes.transform((b) => new Uint32Array(b));
export const outlineSchema = z.object({
  bounds: z.array(z.number()),
  steps: z.array(numberOrNull),
  axis: z.string(),
  axisUnit: z.string().nullable(),
  lengthUnit: z.string().nullable(),
  dimension: z.number(),
  cells: z.number(),
  points: floats,
  triangles: indices,
  owner: bytes.transform((b) => new Uint16Array(b)),
  edges: indices,
  patches: z.array(z.string()),
});
export type Outline = z.infer<typeof outlineSchema>;
export const pictureSchema = z.object({ places: floats, values: floats, unit: z.string().nullable() });
export type Picture = z.infer<typeof pictureSchema>;
export const drawingSchema = z.array(z.object({ lines: floats, dots: floats }));
export type Drawing = z.infer<typeof drawingSchema>[number];
/** A sampled table: what a site gives on one run. */
export const sampleSchema = z.object({
  rows: z.number(),
  notes: z.array(z.string()),
  columns: z.array(tableColumnSchema),
});
