import { z } from "zod";
import { dictionary } from "../dictionary.js";
import { axis, place } from "@oxtrum/core/sampling";
import { boundArg, constantsArg, formulaArg } from "./arguments.js";
import { siteWords } from "./sites/index.js";
import { siteArgument } from "./sites/site-word.js";

const finite = z.number();
/** Where to sample. */
export const siteArg = siteArgument(siteWords);

const load = z
  .object({ pressure: z.string().optional(), shear: z.string().optional(), reference: finite.optional() })
  .strict();
const name = z.string();
const reduction = z.union([
  z
    .object({
      mean: name,
      weights: z
        .union([
          z.enum(["size", "plain"]),
          z.object({ by: name }).strict(),
          z.object({ flow: name, density: name.optional() }).strict(),
        ])
        .optional(),
    })
    .strict(),
  z.object({ min: name, place: z.literal(true).optional() }).strict(),
  z.object({ max: name, place: z.literal(true).optional() }).strict(),
  z.object({ std: name }).strict(),
  z.object({ percentile: z.number().min(0).max(100), of: name }).strict(),
  z.object({ uniformity: name }).strict(),
  z.object({ integral: name }).strict(),
  z.object({ flux: name }).strict(),
  z.object({ centre: z.union([name, z.literal(true)]) }).strict(),
  z.object({ force: load }).strict(),
  z.object({ moment: load, about: place }).strict(),
  z.object({ size: z.literal(true) }).strict(),
  z
    .object({
      level: z.union([name, z.literal(true)]),
      at: finite.optional(),
      by: z.enum(["crossing", "sum"]).optional(),
      radius: z.number().positive().optional(),
    })
    .strict(),
]);

const nearest = z.number().int().min(1).max(200).optional();
const positive = z.number().positive().optional();
const method = z.discriminatedUnion("kind", [
  z.object({ kind: z.literal("nearest") }).strict(),
  z.object({ kind: z.literal("inverse-distance"), power: positive, nearest, radius: positive }).strict(),
  z.object({ kind: z.literal("linear") }).strict(),
  z.object({ kind: z.literal("fitted-plane"), nearest }).strict(),
  z
    .object({
      kind: z.literal("kriging"),
      model: z.enum(["spherical", "exponential", "gaussian", "linear"]).optional(),
      range: positive,
      sill: positive,
      nugget: z.number().min(0).optional(),
      nearest,
    })
    .strict(),
]);

/** How values are taken and ordered. */
const sampling = z
  .object({
    method: method.optional(),
    axis: z
      .union([
        axis,
        z.object({ direction: place, from: place.optional() }).strict(),
        z.object({ from: place }).strict(),
      ])
      .optional(),
  })
  .strict();

/** What all verbs of a field are given. */
export const fieldArgs = z.object({
  study: z.string(),
  file: z.string(),
  run: z.number().optional(),
  when: z
    .union([z.enum(["first", "last"]), z.object({ value: boundArg, pick: z.enum(["exact", "nearest", "linear"]) })])
    .optional(),
  window: z.tuple([boundArg, boundArg]).optional(),
  times: z.array(boundArg).min(1).optional(),
  derived: z
    .array(z.object({ name: z.string(), formula: formulaArg, unit: z.string().optional(), constants: constantsArg }))
    .default([]),
  derivatives: z
    .array(z.object({ name: z.string(), of: z.string(), kind: z.enum(["gradient", "divergence", "curl"]) }))
    .optional(),
  site: siteArg.optional(),
  fields: z.array(z.string()).optional(),
  sampling: sampling.optional(),
  reductions: dictionary(reduction).optional(),
  view: z
    .object({ color: z.string().optional(), vectors: z.string().optional(), outline: z.boolean().optional() })
    .strict()
    .optional(),
  /** Of blocks: those alone whose cells are faces. */
  patches: z.boolean().optional(),
  /** Whether a time that cannot be read is left missing, instead of taking the whole history along. */
  gaps: z.enum(["refuse", "allow"]).optional(),
  statistics: z
    .array(z.enum(["mean", "rms", "std", "min", "max", "timeOfMin", "timeOfMax"]))
    .min(1)
    .optional(),
});

export type FieldArgs = z.infer<typeof fieldArgs>;
