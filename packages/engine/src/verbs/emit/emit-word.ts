import type { Documented } from "../parameters/declaration.js";

/** What of a script an output is made from. */
export type Takes = "table" | "chart" | "picture" | "quantity" | "check" | "words" | "nothing";

/** A word by which scripts ask for an output: `emit.table`, `emit.chart`, … */
export interface EmitWord extends Documented {
  /** What stands behind its name in the declarations. */
  readonly signature: string;
  readonly takes: Takes;
}

export const emitWord = (word: EmitWord): EmitWord => word;
