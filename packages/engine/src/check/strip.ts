import ts = require("typescript");
import type { ScriptFiles } from "./library.js";
import { place, type ScriptDiagnostic } from "./messages.js";
import { stripTypes } from "./strip-types.js";
import { asynchronousCode } from "./synchronous.js";

/** A script ready to be run, or why it cannot be. */
export interface CompiledScript {
  readonly diagnostics: readonly ScriptDiagnostic[];
  /** The modules as JavaScript; undefined when there are errors. */
  readonly modules: Readonly<Record<string, string>> | undefined;
}

/**
 * TypeScript with its types blanked out: every line and column stays where it was. The one way from a script's text to
 * what the sandbox is given; code that would run later is refused here, whether or not types were checked.
 */
export function compileScript(files: ScriptFiles): CompiledScript {
  const diagnostics: ScriptDiagnostic[] = [];
  const modules: [string, string][] = [];
  for (const [name, text] of Object.entries(files)) {
    const source = ts.createSourceFile(name, text, ts.ScriptTarget.ES2022, false, ts.ScriptKind.TS);
    diagnostics.push(...asynchronousCode(source, name));
    try {
      modules.push([name, stripTypes(text)]);
    } catch (e) {
      diagnostics.push(place(source, name, 0, 0, `cannot be made ready to run: ${(e as Error).message}`, [], "error"));
    }
  }
  return { diagnostics, modules: diagnostics.length > 0 ? undefined : Object.fromEntries(modules) };
}
