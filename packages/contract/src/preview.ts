import { z } from "zod";
import { diagnosticSchema } from "./diagnostic.js";
import { messageSchema } from "./fault.js";
import { outputSchema } from "./output.js";
import { valueSchema } from "./output-value.js";

/** A script that a page writes and runs at once, such as a comparison: `lane` is the view that asks. */
export const previewRequestSchema = z.object({
  text: z.string().max(200_000),
  script: z.string().max(200).optional(),
  lane: z.string().max(100),
});

export const previewSchema = z.object({
  diagnostics: z.array(diagnosticSchema),
  outputs: z.array(outputSchema.extend({ value: valueSchema.optional() })),
  messages: z.array(messageSchema),
  overtaken: z.boolean(),
});

export const verdictsSchema = z.object({
  rules: z.boolean(),
  trouble: z.string().optional(),
  table: valueSchema.optional(),
});

export type Preview = z.infer<typeof previewSchema>;
