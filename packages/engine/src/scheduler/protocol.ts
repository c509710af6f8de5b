import type { InputFile, WorkStudy } from "../read/work-study.js";
import type { Fault, Outcome } from "../verbs/values.js";
import type { Remembered } from "../store/identity.js";
import type { CacheKey } from "../store/keys.js";

/** A node as it is sent to a worker. */
export interface WorkNode {
  readonly id: number;
  readonly op: string;
  readonly args: unknown;
  readonly inputs: readonly number[];
  readonly line: number;
}

/** A run's part of the graph: what to compute, in order, and which results to send back. */
export interface Batch {
  readonly id: number;
  readonly study: string;
  readonly run: number;
  readonly nodes: readonly WorkNode[];
  readonly wanted: readonly {
    readonly id: number;
    /** Only these columns are needed of it. */ readonly columns?: readonly string[];
  }[];
  /** Digests remembered of files of this run. */
  readonly known: readonly Remembered[];
  /** Lengths at which the job has read files of this run before; they may have grown since. */
  readonly pins: Readonly<Record<string, number>>;
  /** Results of other nodes that these need. */
  readonly given: readonly { readonly id: number; readonly outcome: Outcome; readonly key: CacheKey | undefined }[];
}

export type CellState = "done" | "cache" | "failed" | "left-out";

export interface BatchResult {
  readonly id: number;
  readonly results: readonly {
    readonly id: number;
    readonly outcome: Outcome;
    readonly key: CacheKey | undefined;
    readonly cached: boolean;
    readonly bytes: number;
  }[];
  readonly cells: readonly {
    readonly line: number;
    readonly state: CellState;
    readonly failure?: Fault & { readonly reason: string; readonly op: string };
  }[];
  readonly files: readonly InputFile[];
  readonly remember: readonly Remembered[];
}

export interface WorkerSetup {
  readonly studies: readonly WorkStudy[];
  /** Undefined for a job that takes nothing of earlier ones: its threads forget what they hold of them, too. */
  readonly cacheFolder: string | undefined;
  readonly budget: SharedArrayBuffer;
  readonly budgetLimit: number;
  /** What the geometry caches of a thread may hold. */
  readonly cacheBytes: number;
  readonly stop: SharedArrayBuffer;
}
