import { z } from "zod";
import { diagnosticSchema } from "./diagnostic.js";
import { excludedRunSchema, faultShape, messageSchema } from "./fault.js";
import { outputSchema } from "./output.js";

/** How far a line of the script is on a run. */
export const cellSchema = z.object({
  state: z.enum(["running", "done", "cache", "failed", "left-out"]),
  failure: z.object({ reason: z.string(), op: z.string(), ...faultShape }).optional(),
});
export type Cell = z.infer<typeof cellSchema>;

/** What a line of the script asks of a run, and what of it is missing. */
export const askedSchema = z.object({
  run: z.string(),
  file: z.string(),
  line: z.number(),
  missing: z.string().optional(),
});

/** Where a script samples a field, and the name that it gives the site. */
export const askedSiteSchema = z.object({
  study: z.string(),
  file: z.string(),
  line: z.number(),
  name: z.string(),
  site: z.object({ kind: z.string() }).loose(),
});

export const summarySchema = z.object({
  runs: z.number(),
  left: z.array(excludedRunSchema),
  cellsDone: z.number(),
  cellsCached: z.number(),
  peakBytes: z.number(),
  seconds: z.number(),
});

/** Runs and lines of a job: which lines ask something of which runs. */
const gridShape = {
  runs: z.array(z.object({ study: z.string(), id: z.string(), set: z.number() })),
  sets: z.array(z.array(z.number())),
  lines: z.array(z.object({ line: z.number(), label: z.string() })),
};

/** What a job tells while it runs, and what its journal holds: one line of JSON per event. */
export const jobEventSchema = z.discriminatedUnion("type", [
  z.object({ type: z.literal("stage"), stage: z.string(), text: z.string().optional() }),
  z.object({ type: z.literal("diagnostics"), diagnostics: z.array(diagnosticSchema) }),
  z.object({ type: z.literal("grid"), ...gridShape }),
  z.object({
    type: z.literal("cells"),
    study: z.string(),
    run: z.string(),
    cells: z.array(cellSchema.extend({ line: z.number() })),
  }),
  z.object({ type: z.literal("output"), output: outputSchema }),
  messageSchema.extend({ type: z.literal("message") }),
  z.object({
    type: z.literal("asked"),
    asked: z.array(askedSchema),
    complete: z.boolean(),
    sites: z.array(askedSiteSchema).optional(),
  }),
  z.object({ type: z.literal("done"), exit: z.number(), stopped: z.boolean().optional(), summary: summarySchema }),
]);
export type JobEvent = z.infer<typeof jobEventSchema>;

/** Everything that a job has told so far: the sum of its events. */
export const liveSchema = z.object({
  stage: z.string(),
  ...gridShape,
  /** By `study/run`, then by line. */
  cells: z.record(z.string(), z.record(z.string(), cellSchema)),
  outputs: z.array(outputSchema),
  messages: z.array(messageSchema),
  diagnostics: z.array(diagnosticSchema),
  asked: z.array(askedSchema),
  complete: z.boolean(),
  summary: summarySchema.nullable(),
  left: z.array(excludedRunSchema),
  /** How many events are in it. */
  seq: z.number(),
});
export type Live = z.infer<typeof liveSchema>;

/** A job that has told nothing yet. */
export const emptyLive = (): Live => ({
  stage: "waiting",
  runs: [],
  sets: [],
  lines: [],
  cells: {},
  outputs: [],
  messages: [],
  diagnostics: [],
  asked: [],
  complete: true,
  summary: null,
  left: [],
  seq: 0,
});

/** Messages of one job that are kept. */
const MAX_MESSAGES = 2000;

/**
 * Adds one event to what a job has told. The server, the page and the reader of journals all use this function, so that
 * they show the same.
 */
export function applyEvent(live: Live, e: JobEvent): void {
  live.seq++;
  switch (e.type) {
    case "stage":
      live.stage = e.stage;
      break;
    case "diagnostics":
      live.diagnostics.push(...e.diagnostics);
      break;
    case "grid":
      live.runs = e.runs;
      live.sets = e.sets;
      live.lines = e.lines;
      break;
    case "cells": {
      const row = (live.cells[`${e.study}/${e.run}`] ??= {});
      for (const { line, ...cell } of e.cells) row[line] = cell;
      break;
    }
    case "output":
      live.outputs.push(e.output);
      break;
    case "message": {
      const { type: _, ...message } = e;
      if (live.messages.length < MAX_MESSAGES) live.messages.push(message);
      else if (live.messages.length === MAX_MESSAGES)
        live.messages.push({
          level: "warning",
          text: `more than ${MAX_MESSAGES} messages: the further ones are not shown`,
        });
      break;
    }
    case "asked":
      live.asked = e.asked;
      live.complete = e.complete;
      break;
    case "done":
      live.stage = "done";
      live.summary = e.summary;
      live.left = [...e.summary.left];
      break;
  }
}
