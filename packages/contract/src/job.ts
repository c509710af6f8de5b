import { z } from "zod";
import { numberOrNull } from "./fault.js";
import { liveSchema } from "./job-events.js";

export const jobStates = ["waiting", "running", "done", "stopped", "interrupted", "failed"] as const;
export type JobState = (typeof jobStates)[number];

export const jobHeadSchema = z.object({
  id: z.number(),
  script: z.string(),
  revision: z.number(),
  mode: z.enum(["run", "try"]),
  state: z.enum(jobStates),
  exit: numberOrNull,
  createdAt: z.number(),
  startedAt: numberOrNull,
  endedAt: numberOrNull,
  /** The reference that later jobs of its script are compared with. */
  pinned: z.boolean().optional(),
  /** Of a job that has ended: runs, excluded runs, and verdicts of its checks. */
  runs: z.number().optional(),
  excluded: z.number().optional(),
  checks: z.object({ passed: z.number(), failed: z.number(), undecided: z.number() }).optional(),
  /** Names of the studies that it reads. */
  studies: z.array(z.string()).optional(),
});
export const jobSchema = jobHeadSchema.extend({
  live: liveSchema,
  runsAsked: z.string().nullable(),
  files: z.record(z.string(), z.string()),
  reference: z.number().optional(),
});

/** A dictionary of texts by names of the user: no name has a meaning of its own. */
const texts = z.record(z.string(), z.string());

export const startJobSchema = z.object({
  script: z.string(),
  /** The text; it is saved as a revision. */
  text: z.string().max(1_000_000).optional(),
  /** In place of a text: a revision that is there already. Nothing is saved. */
  revision: z.number().int().min(1).optional(),
  mode: z.enum(["run", "try"]),
  /** Of a Try: the run of each study that is tried. */
  /** By study the run that is tried; `*` tries all of them. */
  tryRuns: texts.optional(),
  /** Selector of runs. */
  runs: z.string().max(10_000).optional(),
  inputs: texts.optional(),
  /** Of a Try: where it was asked for; a newer Try from there stops this one. */
  lane: z.string().max(200).optional(),
  /** The revision that the text was edited from; see saving a script. */
  base: z.number().int().min(0).optional(),
});
export const toleranceSchema = z.object({
  absolute: z.coerce.number().min(0).default(0),
  relative: z.coerce.number().min(0).default(0),
});

export const verificationSchema = z.object({
  same: z.boolean(),
  outputs: z.array(z.object({ name: z.string(), verdict: z.string(), detail: z.string().optional() })),
  inputs: z.array(z.object({ study: z.string(), path: z.string(), change: z.string() })),
  notes: z.array(z.string()),
});

const cellChange = z.object({
  row: z.number(),
  where: z.string(),
  column: z.string(),
  then: z.union([z.number(), z.string(), z.null()]),
  now: z.union([z.number(), z.string(), z.null()]),
  change: z.number().optional(),
  relative: z.number().optional(),
});
export const jobDiffSchema = z.object({
  verdict: z.enum(["same bytes", "within tolerance", "changed"]),
  script: z.array(
    z.object({ file: z.string(), line: z.number(), then: z.string().optional(), now: z.string().optional() }),
  ),
  settings: z.array(z.string()),
  inputs: z.array(z.object({ study: z.string(), path: z.string(), change: z.enum(["changed", "gone", "new"]) })),
  runs: z.array(z.object({ study: z.string(), run: z.string(), change: z.enum(["gone", "new", "parameters"]) })),
  outputs: z.array(
    z.object({
      name: z.string(),
      kind: z.string(),
      verdict: z.enum(["same bytes", "within tolerance", "changed", "new", "gone"]),
      detail: z.string().optional(),
      moved: z.number().optional(),
      cells: z.array(cellChange).optional(),
    }),
  ),
});
export type JobDiff = z.infer<typeof jobDiffSchema>;
export type OutputDiff = JobDiff["outputs"][number];

export type Job = z.infer<typeof jobSchema>;
export type JobHead = z.infer<typeof jobHeadSchema>;
export type Verification = z.infer<typeof verificationSchema>;
