import type { ScriptFiles } from "./library.js";

/** What a process that checks is given on its input, as JSON: one script. */
export interface AskedScript {
  readonly files: ScriptFiles;
  readonly types: Readonly<Record<string, string>>;
}

/** What it says on its output before it reads anything, as its image is of this Node; then its diagnostics as JSON. */
export const READY = "ready\n";
