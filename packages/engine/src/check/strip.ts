import tsBlankSpace from "ts-blank-space";
import type { ScriptFiles } from "./service.js";

/** TypeScript with its types blanked out: every line and column stays where it was. */
export function stripTypes(files: ScriptFiles): Record<string, string> {
  return Object.fromEntries(Object.entries(files).map(([name, text]) => [name, tsBlankSpace(text)]));
}
