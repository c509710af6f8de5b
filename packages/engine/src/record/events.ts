import type { Condition } from "@oxtrum/core/tables";
import type { AskedSite } from "../scheduler/asked-sites.js";
import type { Grid } from "../scheduler/grid.js";
import type { Fault, ExcludedRun, Verdict } from "../verbs/values.js";
import type { ScriptDiagnostic } from "../check/messages.js";
import type { CellState } from "../scheduler/protocol.js";
import type { Asked } from "../scheduler/infer.js";

/** What an output is, for people and for the manifest. */
export interface OutputRecord {
  readonly name: string;
  /** The word of `emit` that asked for it: table, chart, check and others. */
  readonly kind: string;
  readonly line: number;
  readonly file: string;
  /** Why there is none. */
  readonly failed?: string;
  readonly files: readonly { readonly file: string; readonly size: number; readonly sha256: string }[];
  readonly runs: number;
  /** Their names, where they are not too many to be told. */
  readonly of?: readonly string[];
  /** The files of results that it was made from, by the names that the script gives them. */
  readonly inputs?: readonly string[];
  readonly left: readonly ExcludedRun[];
  /** Runs that a Try passed over. */
  readonly notTried?: number;
  readonly notes: readonly string[];
  /** What is known of the worth of what it was made from. */
  readonly conditions?: readonly Condition[];
  readonly verdict?: Verdict;
  /** A number, a verdict or a note in a line of words. */
  readonly summary?: string;
  readonly rows?: number;
  /** SHA-256 of the value itself, independent of how it is drawn or written. */
  readonly digest?: string;
}

export type JobEvent =
  | {
      readonly type: "stage";
      readonly stage: "scanning" | "checking" | "script" | "working" | "writing";
      readonly text?: string;
    }
  | { readonly type: "diagnostics"; readonly diagnostics: readonly ScriptDiagnostic[] }
  | ({ readonly type: "grid" } & Grid)
  | {
      readonly type: "cells";
      readonly study: string;
      readonly run: string;
      readonly cells: readonly {
        readonly line: number;
        readonly state: CellState | "running";
        readonly failure?: Fault & { readonly reason: string; readonly op: string };
      }[];
    }
  | { readonly type: "output"; readonly output: OutputRecord }
  | {
      readonly type: "message";
      readonly level: "note" | "warning" | "error";
      readonly text: string;
      readonly file?: string;
      readonly line?: number;
    }
  | {
      readonly type: "asked";
      readonly asked: readonly Asked[];
      readonly complete: boolean;
      /** Of a dry run: where the script samples fields. */
      readonly sites?: readonly AskedSite[];
    }
  | { readonly type: "done"; readonly exit: ExitCode; readonly stopped?: boolean; readonly summary: JobSummary };

/** 1 script error, 3 a check failed or is undecided, 2 runs excluded, 0 all well. */
export type ExitCode = 0 | 1 | 2 | 3;

export interface JobSummary {
  readonly runs: number;
  readonly left: readonly ExcludedRun[];
  readonly cellsDone: number;
  readonly cellsCached: number;
  readonly peakBytes: number;
  readonly seconds: number;
}
