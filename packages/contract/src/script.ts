import { z } from "zod";
import { diagnosticSchema } from "./diagnostic.js";
import { askedSchema, askedSiteSchema } from "./job-events.js";

/** A script's name: that of a file, without a folder. */
export const scriptNameSchema = z
  .string()
  .regex(
    /^[\p{L}\p{N}][\p{L}\p{N}._-]{0,98}\.ts$/u,
    'A script\'s name holds letters, digits, dots and dashes, and ends in ".ts".',
  );

/** The text of a script. */
const text = z.string().max(1_000_000);

export const scriptListSchema = z.array(
  z.object({ id: z.number(), name: z.string(), revision: z.number(), updatedAt: z.number() }),
);
export const scriptSchema = z.object({
  id: z.number(),
  name: z.string(),
  revision: z.number(),
  updatedAt: z.number(),
  text: z.string(),
});
export const revisionListSchema = z.array(z.object({ number: z.number(), createdAt: z.number(), size: z.number() }));

/**
 * A text to save. `base` is the revision that the text was edited from: when another revision has been saved since, the
 * answer is 409 with that revision's number. Without `base` the text is saved whatever there is; `base: 0` demands a
 * new script.
 */
export const saveScriptSchema = z.object({
  text,
  base: z.number().int().min(0).optional(),
  /** Nobody asked for it: the next such revision takes its place, unless a job has used it. */
  auto: z.boolean().optional(),
});
export const renameScriptSchema = z.object({ to: z.string() });
export const revisionSchema = z.object({ text: z.string() });
export const textSchema = z.object({ text });
/** A place in a text, as an offset in UTF-16 units. */
export const offsetSchema = z.object({ text, offset: z.number().int().min(0) });

/** A whole script whose lines are to be added to a text; `given` names expressions of the text that its names mean. */
export const additionRequestSchema = z.object({ text, lines: text, given: z.record(z.string(), text).optional() });
/** What has to be changed in the text for it, and the text that this gives; offsets in UTF-16 units. */
export const additionSchema = z.object({
  changes: z.array(z.object({ from: z.number(), to: z.number(), insert: z.string() })),
  text: z.string(),
});
/** Which output's words a text is asked for. */
export const emittedRequestSchema = z.object({ text, output: z.string().min(1).max(500) });
/** What the output is given in the text; or why these words cannot be said again below it. */
export const emittedSchema = z.object({ expression: z.string().optional(), trouble: z.string().optional() });

export const checkSchema = z.object({ diagnostics: z.array(diagnosticSchema) });
export const preflightSchema = z.object({
  diagnostics: z.array(diagnosticSchema),
  asked: z.array(askedSchema),
  sites: z.array(askedSiteSchema),
  complete: z.boolean(),
});
export const completionSchema = z
  .object({
    from: z.number(),
    to: z.number(),
    entries: z.array(z.object({ label: z.string(), kind: z.string(), detail: z.string().optional() })),
  })
  .nullable();
export const hoverSchema = z
  .object({ from: z.number(), to: z.number(), signature: z.string(), documentation: z.string() })
  .nullable();

export type Addition = z.infer<typeof additionSchema>;
export type EmittedExpression = z.infer<typeof emittedSchema>;
export type ScriptHead = z.infer<typeof scriptListSchema>[number];
export type Script = z.infer<typeof scriptSchema>;
export type Preflight = z.infer<typeof preflightSchema>;
