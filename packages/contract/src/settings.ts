import { z } from "zod";

/** How charts look, for all jobs. */
export const chartStyleSchema = z.object({
  textSize: z.number().optional(),
  lineWidth: z.number().optional(),
  markerSize: z.number().optional(),
  colors: z.array(z.string()).optional(),
  grid: z.enum(["lines", "none"]).optional(),
  theme: z.enum(["screen", "print"]).optional(),
  digits: z.record(z.string(), z.number()).optional(),
});

/** What can be set for the whole server. */
export const settingsSchema = z.object({
  /** Worker threads of a job; null is one per core, at most 8. */
  workers: z.number().int().min(1).max(64).nullable().default(null),
  /** MB of large arrays that a job may hold. */
  memory: z.number().int().min(100).max(1_000_000).default(4000),
  /** Seconds of processor time that a script itself may use. */
  scriptSeconds: z.number().int().min(1).max(3600).default(60),
  /** MB of results kept between jobs; the oldest are removed first, when no job runs. */
  cache: z.number().int().min(0).max(10_000_000).default(8000),
  style: chartStyleSchema.default({}),
});
export type ServerSettings = z.infer<typeof settingsSchema>;
