import { z } from "zod";
import { dictionary } from "../dictionary.js";
import { chartStyleSchema } from "./chart-style.js";

/** What a job is asked to do. */
export const jobRequestSchema = z.object({
  /** The script's modules by file name, and which is the main one. */
  files: z.record(z.string().regex(/^[^/\\:\p{Cc}]+$/u, "is not a name for a module"), z.string()),
  main: z.string(),
  /** The modules as JavaScript, from one who has type-checked them: the job then need not. */
  compiled: dictionary(z.string()).optional(),
  studies: z.array(z.object({ name: z.string(), folder: z.string(), definitionFile: z.string().optional() })),
  /** Inputs set from outside, as text. */
  inputs: dictionary(z.string()).default({}),
  /** Only these runs: ids or patterns, or `parameter=value`, separated by commas. */
  runs: z.string().optional(),
  /** `run` on all, `try` on one run, `dry`: only say what would be read. */
  mode: z.enum(["run", "try", "dry"]).default("run"),
  /** The run to try, by study. */
  tryRuns: dictionary(z.string()).default({}),
  workers: z.number().int().min(1).max(256).optional(),
  cache: z.boolean().default(true),
  /** Where the cache, memories and catalogues are kept. */
  dataFolder: z.string(),
  /** Where the outputs go, for `run`. */
  outFolder: z.string().optional(),
  /** Where values are kept for the screen. */
  viewFolder: z.string().optional(),
  /** Bytes of large arrays at most. */
  memory: z.number().positive().default(4e9),
  /** How all charts look. */
  style: chartStyleSchema.default({}),
  scriptSeconds: z.number().positive().default(60),
});

export type JobRequest = z.infer<typeof jobRequestSchema>;
export type JobRequestInput = z.input<typeof jobRequestSchema>;
