import { CheckProcess } from "./check-process.js";
import { checkedScript, hasCompiler, isKnownScript, knownCheck, type CheckedScript } from "./kept-checks.js";
import type { ScriptFiles } from "./library.js";
import type { ScriptDiagnostic } from "./messages.js";
import { stripTypes } from "./strip-types.js";

/** A check that is under way, or done. */
export interface ScriptCheck {
  /** The modules as JavaScript, before it is known whether there are errors; undefined where they cannot be made. */
  readonly modules: Readonly<Record<string, string>> | undefined;
  readonly verdict: Promise<CheckedScript>;
  /** Whether the verdict is there already. */
  readonly isSettled: boolean;
  stop(): void;
}

function stripped(files: ScriptFiles): Readonly<Record<string, string>> | undefined {
  try {
    return Object.fromEntries(Object.entries(files).map(([name, text]) => [name, stripTypes(text)]));
  } catch {
    return undefined;
  }
}

/**
 * A process that gets ready to check while a job still scans its studies; undefined where none will be needed, or
 * where the script is known, as it was most likely checked with these studies.
 */
export function startCheckProcess(
  files: ScriptFiles,
  folder: string | undefined,
  isAside = !hasCompiler(),
): CheckProcess | undefined {
  return isAside && !isKnownScript(files, folder) ? CheckProcess.start() : undefined;
}

/**
 * Begins to check a script, beside its run where this process has no compiler yet: the script can run already. Nothing
 * that it gives counts before the verdict is there.
 *
 * @param isAside whether the script may run meanwhile; unless said otherwise, where the compiler is not loaded here
 * @param ready a process for it, from {@link startCheckProcess}; it is ended with the check
 */
export function askCheck(
  files: ScriptFiles,
  types: Readonly<Record<string, string>>,
  folder: string | undefined,
  isAside = !hasCompiler(),
  ready?: CheckProcess,
): ScriptCheck {
  const known = knownCheck(files, types, folder);
  const settled = known ? Promise.resolve(known) : isAside ? undefined : checkedScript(files, types, folder);
  if (settled) {
    ready?.stop();
    return { modules: undefined, verdict: settled, isSettled: true, stop: () => undefined };
  }
  const helper = ready ?? CheckProcess.start();
  const found = helper?.check(files, types);
  const modules = stripped(files);
  const verdict = checkedScript(files, types, folder, found && checkedBeside(found, modules));
  // Whoever stops the job does not ask any more.
  verdict.catch(() => undefined);
  return { modules, verdict, isSettled: false, stop: () => helper?.stop() };
}

/** What a process found, with the modules that were made meanwhile; undefined where it is to be checked here. */
async function checkedBeside(
  found: Promise<readonly ScriptDiagnostic[] | undefined>,
  modules: Readonly<Record<string, string>> | undefined,
): Promise<CheckedScript | undefined> {
  const diagnostics = await found;
  if (diagnostics?.some((d) => d.severity === "error")) return { diagnostics };
  return diagnostics && modules && { diagnostics, modules };
}
