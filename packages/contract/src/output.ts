import { z } from "zod";
import { excludedRunSchema } from "./fault.js";

/** An output of a job: what it is, its files, and what is known of it. */
export const outputSchema = z.object({
  name: z.string(),
  kind: z.string(),
  line: z.number(),
  file: z.string(),
  failed: z.string().optional(),
  files: z.array(z.object({ file: z.string(), size: z.number(), sha256: z.string() })),
  runs: z.number(),
  of: z.array(z.string()).optional(),
  inputs: z.array(z.string()).optional(),
  left: z.array(excludedRunSchema),
  notTried: z.number().optional(),
  notes: z.array(z.string()),
  conditions: z.array(z.object({ kind: z.string() }).loose()).optional(),
  verdict: z.enum(["passed", "failed", "undecided"]).optional(),
  summary: z.string().optional(),
  rows: z.number().optional(),
  digest: z.string().optional(),
});
export type Output = z.infer<typeof outputSchema>;
