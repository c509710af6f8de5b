import { z } from "zod";

/** How files are called and into which folders they go. */
export const namingSchema = z.object({
  /** The name of an output's file; `{output}` when not given. */
  file: z.string().min(1).max(300).optional(),
  /** The name of a file that holds one run; `{output}-{run}` when not given. */
  each: z.string().min(1).max(300).optional(),
  folders: z.enum(["flat", "output", "run"]).default("flat"),
});
export type Naming = z.infer<typeof namingSchema>;
