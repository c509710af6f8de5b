import type { CellState, JobEvent, JobSummary, LeftOut, OutputRecord, ScriptDiagnostic } from "@oxtrum/engine";

export interface Cell {
  readonly state: CellState | "running";
  readonly failure?: {
    readonly reason: string;
    readonly op: string;
    readonly file?: string;
    readonly line?: number;
    readonly hint?: string;
  };
}

/** Everything that a job has told so far: what a page shows when it opens. */
export interface LiveJob {
  stage: string;
  runs: readonly { readonly study: string; readonly id: string; readonly set: number }[];
  sets: readonly (readonly number[])[];
  lines: readonly { readonly line: number; readonly label: string }[];
  /** By `study/run`, then by line. */
  cells: Record<string, Record<number, Cell>>;
  outputs: OutputRecord[];
  messages: { level: string; text: string; file?: string; line?: number }[];
  diagnostics: ScriptDiagnostic[];
  asked: { run: string; file: string; line: number; missing?: string }[];
  complete: boolean;
  summary: JobSummary | null;
  left: LeftOut[];
  /** How many events are in it. */
  seq: number;
}

export const emptyLive = (): LiveJob => ({
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

const MOST_MESSAGES = 2000;

/** Takes one event in. The browser does the same with the events that it is sent. */
export function applyEvent(live: LiveJob, e: JobEvent): void {
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
      for (const { line, state, failure } of e.cells) row[line] = { state, ...(failure && { failure }) };
      break;
    }
    case "output":
      live.outputs.push(e.output);
      break;
    case "message":
      if (live.messages.length < MOST_MESSAGES)
        live.messages.push({
          level: e.level,
          text: e.text,
          ...(e.file !== undefined && { file: e.file }),
          ...(e.line !== undefined && { line: e.line }),
        });
      break;
    case "asked":
      live.asked = e.asked.map(({ run, file, line, missing }) => ({
        run,
        file,
        line,
        ...(missing !== undefined && { missing }),
      }));
      live.complete = e.complete;
      break;
    case "done":
      live.stage = "done";
      live.summary = e.summary;
      live.left = [...e.summary.left];
      break;
  }
}
