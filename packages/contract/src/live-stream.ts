import { z } from "zod";
import { jobEventSchema } from "./job-events.js";
import { jobStates } from "./job.js";

/** What a change is of. */
export const resources = ["study", "script", "job", "settings"] as const;

/**
 * A message of the live stream. `seq` counts messages of one server: a browser that comes back names the last one that
 * it has, and gets those after it, or `resync` when they are not kept any more.
 */
export const liveMessageSchema = z.union([
  /** The stream begins, or what was missed is not known: ask for everything again. */
  z.object({ resync: z.literal(true), seq: z.number() }),
  /** A resource has another version now; null: it is gone. */
  z.object({
    seq: z.number(),
    change: z.object({ resource: z.enum(resources), id: z.string(), version: z.number().nullable() }),
  }),
  /** A job has another state. */
  z.object({ seq: z.number(), job: z.number(), state: z.enum(jobStates) }),
  /** Events of a job that runs; `after` is how many it told before. */
  z.object({ seq: z.number(), job: z.number(), events: z.array(jobEventSchema), after: z.number() }),
  /** How far the scan of a study is. */
  z.object({ seq: z.number(), study: z.string(), done: z.number(), total: z.number() }),
]);
export type LiveMessage = z.infer<typeof liveMessageSchema>;
/** A message before it is numbered. */
export type LiveNews = LiveMessage extends infer M ? (M extends { seq: number } ? Omit<M, "seq"> : never) : never;
