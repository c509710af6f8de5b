import { z } from "zod";
import { diagnosticSchema } from "./diagnostic.js";
import { excludedRunSchema, messageSchema, numberOrNull } from "./fault.js";
import { jobDiffSchema, verificationSchema } from "./job.js";
import { askedSchema } from "./job-events.js";
import { outputSchema } from "./output.js";

/** A number, or the text of an infinity, which JSON does not have. */
const anyNumber = z.union([numberOrNull, z.enum(["Inf", "-Inf"])]);
const exit = z.union([z.literal(0), z.literal(1), z.literal(2), z.literal(3)]);
const conditions = z.array(
  z.strictObject({
    kind: z.string(),
    file: z.string(),
    text: z.string(),
    study: z.string().optional(),
    run: z.string().optional(),
  }),
);
const unit = z.string().nullable();

const shownTable = z.strictObject({
  kind: z.literal("table"),
  rows: z.number(),
  columns: z.array(
    z.strictObject({
      name: z.string(),
      unit,
      type: z.enum(["number", "text"]),
      min: anyNumber,
      max: anyNumber,
      missing: z.number(),
    }),
  ),
  skipped: z.array(z.object({ line: z.number(), reason: z.string() })),
  notes: z.array(z.string()),
  values: z.record(z.string(), z.array(z.union([anyNumber, z.string()]))).optional(),
});
const range = z.union([anyNumber, z.array(anyNumber)]);
const shownField = z.strictObject({
  kind: z.literal("field"),
  points: z.number(),
  cells: z.number(),
  cellTypes: z.record(z.string(), z.number()),
  bounds: z.array(anyNumber),
  times: z.array(z.number()),
  fields: z.array(
    z.strictObject({
      name: z.string(),
      on: z.enum(["point", "cell"]),
      components: z.number(),
      type: z.string(),
      unit,
      min: range,
      max: range,
      magnitude: z.tuple([anyNumber, anyNumber]).optional(),
    }),
  ),
  patches: z.array(z.strictObject({ name: z.string(), faces: z.number(), area: numberOrNull })),
  blocks: z.array(z.strictObject({ name: z.string(), cells: z.number(), volume: numberOrNull })),
});
const shownError = z.strictObject({
  error: z.strictObject({
    file: z.string(),
    line: z.number().optional(),
    offset: z.number().optional(),
    message: z.string(),
    hint: z.string().optional(),
  }),
});

const problem = { kind: z.string(), file: z.string().optional(), text: z.string() };
const scanned = z.strictObject({
  runs: z.array(
    z.strictObject({
      id: z.string(),
      parameters: z.record(z.string(), z.union([z.number(), z.string()])),
      files: z.array(
        z.strictObject({
          path: z.string(),
          size: z.number(),
          columns: z.array(z.strictObject({ name: z.string(), unit, type: z.enum(["number", "text"]) })).optional(),
          last: z.number().optional(),
          error: z.string().optional(),
        }),
      ),
      problems: z.array(z.strictObject(problem)),
    }),
  ),
  parameters: z.array(
    z.strictObject({ name: z.string(), unit, type: z.enum(["number", "text"]), label: z.string().optional() }),
  ),
  problems: z.array(z.strictObject({ run: z.string(), ...problem })),
});

const ran = z.strictObject({
  exit,
  outputs: z.array(outputSchema.strict()),
  leftOut: z.array(excludedRunSchema.strict()),
  conditions,
  diagnostics: z.array(diagnosticSchema.strict()),
  messages: z.array(messageSchema.strict()),
});
const watched = z.strictObject({
  turn: z.number(),
  exit,
  outputs: z.array(outputSchema.strict()),
  leftOut: z.array(excludedRunSchema.strict()),
});
const dry = z.strictObject({
  exit,
  complete: z.boolean(),
  asks: z.array(askedSchema.loose()),
  diagnostics: z.array(diagnosticSchema.strict()),
});

/** What the commands print with `--json`, each alone: nothing that is not said here. */
export const commandSchemas = {
  show: z.union([shownTable, shownField, shownError]),
  scan: scanned,
  check: z.strictObject({ diagnostics: z.array(diagnosticSchema.strict()), messages: z.array(messageSchema.strict()) }),
  /** With `--dry` what is asked for; with `--watch` a line for each evaluation. */
  run: z.union([ran, dry, watched]),
  verify: verificationSchema.strict(),
  diff: jobDiffSchema.strict(),
} as const;
