import { z } from "zod";
import { limitSchema, ruleSchema } from "./rule-schema.js";

/** Decides a state by a text near the end of a file, or by a number as the rules for accepted runs do. */
const stateRule = z.union([z.strictObject({ file: z.string().min(1), text: z.string().min(1) }), ruleSchema]);
const stateRules = z.union([stateRule.transform((r) => [r]), z.array(stateRule).min(1)]);

/** How far a run is: a number of a table or log, and what it is at the end. */
const progress = z
  .strictObject({
    table: z.string().optional(),
    lines: z.string().optional(),
    read: z.array(z.string()).min(1).optional(),
    value: z.string().min(1),
    end: limitSchema,
  })
  .refine((r) => (r.table === undefined) !== (r.lines === undefined), "progress reads a table or lines, one of the two")
  .refine((r) => r.lines === undefined || r.read !== undefined, 'progress of lines needs the patterns in "read"');

/** The rules for the states of runs in a study's definition; docs/formats.md describes them. */
export const statesSchema = z.strictObject({
  finished: stateRules.optional(),
  failed: stateRules.optional(),
  diverging: stateRules.optional(),
  /** A run that has written nothing for so long is stalled. */
  stalledAfter: limitSchema.optional(),
  progress: progress.optional(),
});

export type StateRules = z.infer<typeof statesSchema>;
export type StateRule = z.infer<typeof stateRule>;
export type ProgressRule = z.infer<typeof progress>;

export const runStates = ["waiting", "running", "stalled", "diverging", "finished", "failed"] as const;
export type RunStateName = (typeof runStates)[number];

/** A run's state, and what decided it. */
export interface RunState {
  readonly state: RunStateName;
  readonly because: string;
}
