/** What of a script an output is made from. */
export type Takes = "table" | "chart" | "picture" | "quantity" | "check" | "words" | "nothing";

/** A word by which scripts ask for an output: `emit.table`, `emit.chart`, … */
export interface EmitWord {
  readonly name: string;
  readonly doc: string;
  readonly examples: readonly string[];
  /** What stands behind its name in the declarations. */
  readonly signature: string;
  readonly takes: Takes;
}

export const emitWord = (word: EmitWord): EmitWord => word;

/** A word as it is declared. */
export const emitDeclaration = (w: EmitWord): string =>
  `    /** ${[w.doc, ...w.examples.map((e) => `@example ${e}`)].join(" ")} */\n    ${w.name}${w.signature};\n`;
