import { z } from "zod";

/** A mistake in a script. Lines and columns count from 1. */
export const diagnosticSchema = z.object({
  file: z.string(),
  line: z.number(),
  column: z.number(),
  endLine: z.number(),
  endColumn: z.number(),
  severity: z.enum(["error", "warning"]),
  message: z.string(),
  fixes: z.array(z.string()).readonly(),
});
export type Diagnostic = z.infer<typeof diagnosticSchema>;
