import { z } from "zod";
import { dictionary } from "../dictionary.js";
import { boundArg, constantsArg, formulaArg } from "./arguments.js";

const finite = z.number();
const place = z.tuple([finite, finite, finite]);
const axis = z.enum(["x", "y", "z"]);
const count = z.number().int().min(1).max(10_000_000);
const range = z.tuple([finite, finite]);
const bounds = z
  .object({ x: range.optional(), y: range.optional(), z: range.optional() })
  .strict()
  .transform(
    (b) =>
      Object.fromEntries(Object.entries(b).filter(([, v]) => v !== undefined)) as Partial<
        Record<"x" | "y" | "z", [number, number]>
      >,
  );
const ids = z.array(z.number().int().min(0)).min(1).max(10_000_000);

/** A table beside the runs whose columns x, y and z are places. */
export const placesTable = z.object({
  study: z.string(),
  file: z.string(),
  options: dictionary(z.unknown()).optional(),
  columns: z.object({ x: z.string(), y: z.string(), z: z.string(), name: z.string().optional() }).strict(),
});

/** Blocks, by name or pattern, that a site is restricted to. */
const block = { block: z.string().optional() };

const siteArg = z.discriminatedUnion("kind", [
  z.strictObject({
    ...block,
    kind: z.literal("points"),
    places: z.array(place).min(1),
    names: z.array(z.string()).optional(),
  }),
  z.strictObject({ ...block, kind: z.literal("points of a table"), table: placesTable }),
  z.strictObject({ ...block, kind: z.literal("line"), from: place, to: place, count: count.min(2) }),
  z.strictObject({
    ...block,
    kind: z.literal("path"),
    through: z.array(place).min(2),
    count: count.min(2),
    spline: z.boolean().optional(),
  }),
  z.strictObject({
    ...block,
    kind: z.literal("grid"),
    origin: place,
    step: place,
    count: z.tuple([count, count, count]),
  }),
  z.strictObject({ ...block, kind: z.literal("plane"), point: place, normal: place, bounds: bounds.optional() }),
  z.strictObject({ ...block, kind: z.literal("patch"), match: z.string() }),
  z.strictObject({ ...block, kind: z.literal("all") }),
  z.strictObject({
    ...block,
    kind: z.literal("column"),
    place: range,
    along: axis,
    from: finite.optional(),
    to: finite.optional(),
    count: count.min(2),
  }),
  z.strictObject({
    ...block,
    kind: z.literal("stations"),
    along: z.union([axis, z.object({ through: z.array(place).min(2), spline: z.boolean().optional() })]),
    from: finite,
    to: finite,
    count: count.max(100_000),
    bounds: bounds.optional(),
    line: z.object({ from: place, to: place, count: count.min(2) }).optional(),
  }),
  z.strictObject({ ...block, kind: z.literal("nodes"), ids }),
  z.strictObject({ ...block, kind: z.literal("cells"), ids }),
  z.strictObject({ ...block, kind: z.literal("iso"), field: z.string(), value: boundArg }),
]);

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
