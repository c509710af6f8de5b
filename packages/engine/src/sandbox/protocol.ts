import type { RunState } from "../definition/states.js";
import type { RuleRequest } from "../definition/rules.js";

/** What the sandbox thread is given before it knows its script, for each script anew. */
export interface SandboxFrame {
  readonly memoryPages: number;
  /** The interpreter, compiled once per process: what one thread has made fast is fast in the next. */
  readonly interpreter: WebAssembly.Module;
  /** Where the host waits for answers: word 0 turns 1 when one is there. */
  readonly signal: SharedArrayBuffer;
  /** The forms of verbs and sites, as JSON. */
  readonly forms: string;
}

/** What a script is run with. */
export interface SandboxSetup {
  /** Modules by file name, as JavaScript in the places of the TypeScript. */
  readonly modules: Readonly<Record<string, string>>;
  readonly main: string;
  readonly studies: Readonly<Record<string, SandboxStudy>>;
  readonly inputs: Readonly<Record<string, string>>;
  readonly seconds: number;
}

export interface SandboxStudy {
  readonly runs: readonly {
    readonly id: string;
    /** What it is called among all runs of the job; see `runNames`. */
    readonly name: string;
    readonly index: number;
    readonly params: readonly (number | string | null)[];
    readonly tried: boolean;
    /** Whether it is finished, and what decided it; null in a script that does not ask. */
    readonly state: RunState | null;
  }[];
  readonly parameters: readonly {
    readonly name: string;
    readonly unit: string | null;
    readonly type: "number" | "text";
    /** All values that runs of the study have, each once, also of runs that were not asked for. */
    readonly values: readonly (number | string)[];
  }[];
  /** Rules for which runs count. */
  readonly rules: readonly RuleRequest[];
  /** The sets of files that runs have, by name, and which of them each run has. */
  readonly fileSets: readonly (readonly string[])[];
  readonly filesOf: readonly number[];
  /** Names without endings, and which files each can mean: of runs, and of what lies beside them. */
  readonly shortNames: Readonly<Record<string, readonly string[]>>;
  readonly shortBeside: Readonly<Record<string, readonly string[]>>;
}

/** An `emit` in a script. */
export interface Emission {
  /** A word of `emit`. */
  readonly kind: string;
  readonly name: string;
  readonly node: number | null;
  readonly options: Record<string, unknown>;
  readonly line: number;
}

export type FromSandbox =
  | { readonly type: "nodes"; readonly json: string }
  | { readonly type: "emit"; readonly emission: Emission }
  | { readonly type: "input"; readonly name: string; readonly value: unknown; readonly fallback: unknown }
  | { readonly type: "module"; readonly file: string; readonly number: number }
  | { readonly type: "mapping"; readonly study: string; readonly runs: readonly number[] }
  | { readonly type: "read"; readonly id: number; readonly what: string }
  | { readonly type: "columns"; readonly id: number }
  | SandboxEnd;

/** The last that a script's thread says of it. */
export type SandboxEnd = (
  | { readonly type: "done" }
  | {
      readonly type: "error";
      readonly message: string;
      readonly file: string;
      readonly line: number;
      readonly dry?: boolean;
    }
) & {
  /** Whether the thread takes another script. */
  readonly stays?: boolean;
};

/** Who takes what a running script tells, and answers what it asks. */
export interface ScriptListener {
  /** An operation with its arguments; nodes name it by its number, in order of telling. */
  form(op: string, args: unknown): void;
  node(form: number, inputs: readonly number[], line: number, run: number): void;
  emit(e: Emission): void;
  input(name: string, value: unknown): void;
  module(number: number, file: string): void;
  mapping(study: string, runs: readonly number[]): void;
  /** The value of a node as JSON; the script sleeps meanwhile. */
  read(id: number, what: string): Promise<string>;
  columns(id: number): string;
}
