import type { z } from "zod";
import type { Outcome, Value } from "./values.js";

/** One input of an operation: its value, or why there is none. */
export interface Operation<A = unknown> {
  readonly name: string;
  /** Raised whenever the same inputs give another result; part of every key. */
  readonly version: number;
  readonly args: z.ZodType<A>;
  /**
   * It reads files, of one run or beside the runs: it has no inputs but these, their identity is part of its key, and
   * it is executed where the files are (`read/`).
   */
  readonly reads?: { readonly of: "run" | "study"; readonly what: "table" | "field" };
  /** Takes failures among its inputs, and names them; other operations fail when an input does. */
  readonly takesFailures?: boolean;
  run(args: A, inputs: readonly Outcome[]): Value;
  /**
   * What comes out of empty inputs, where that is not simply `run` on tables without rows; undefined when only rows can
   * tell.
   */
  infer?(args: A, inputs: readonly Outcome[]): Value | undefined;
  /**
   * The columns, besides the axis, that it needs of its first input for these columns of its result (undefined: all);
   * undefined when it may need any. The arguments are as the graph has them, not checked yet: undefined when they do
   * not fit.
   */
  needs?(args: unknown, wanted: readonly string[] | undefined): readonly string[] | undefined;
  /**
   * Of an operation that brings runs together: the columns that it needs of its inputs, one by one, where its arguments
   * name them all.
   */
  needsOfRuns?(args: A): (input: number) => readonly string[] | undefined;
}

/** Declares an operation; its arguments are checked before it runs. */
export function operation<A>(definition: Operation<A>): Operation {
  return definition as Operation;
}

/** Declares an operation that reads files. */
export const readingOperation = (
  name: string,
  version: number,
  args: z.ZodType,
  reads: NonNullable<Operation["reads"]>,
): Operation => ({
  name,
  version,
  args,
  reads,
  run: () => {
    throw new Error(`${name} is executed where the files are`);
  },
});
