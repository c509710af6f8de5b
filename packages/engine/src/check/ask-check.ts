import { Worker } from "node:worker_threads";
import { bundled } from "../bundled.js";
import type { AskedScript } from "./check.worker.js";
import { checkedScript, hasCompiler, isKnownScript, knownCheck, type CheckedScript } from "./kept-checks.js";
import type { ScriptFiles } from "./library.js";
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
 * A thread that gets ready to check while a job still scans its studies; undefined where none will be needed, or where
 * the script is known, as it was most likely checked with these studies.
 */
export function startCheckThread(
  files: ScriptFiles,
  folder: string | undefined,
  isAside = !hasCompiler(),
): Worker | undefined {
  if (!isAside || isKnownScript(files, folder)) return undefined;
  const thread = newThread();
  // What it cannot do it says when it is asked.
  thread.on("error", () => undefined);
  return thread;
}

const newThread = (): Worker => new Worker(bundled("check.cjs") ?? new URL("./check.worker.js", import.meta.url));

/**
 * Begins to check a script, in a thread of its own where the compiler would have to be loaded first: that takes a
 * second, in which the script can run already. Nothing that it gives counts before the verdict is there.
 *
 * @param isAside whether a thread is started; unless said otherwise, where this thread has no compiler yet
 * @param ready a thread for it, from {@link startCheckThread}; it is ended with the check
 */
export function askCheck(
  files: ScriptFiles,
  types: Readonly<Record<string, string>>,
  folder: string | undefined,
  isAside = !hasCompiler(),
  ready?: Worker,
): ScriptCheck {
  const known = knownCheck(files, types, folder);
  const settled = known ? Promise.resolve(known) : isAside ? undefined : checkedScript(files, types, folder);
  if (settled) {
    void ready?.terminate();
    return { modules: undefined, verdict: settled, isSettled: true, stop: () => undefined };
  }
  const thread = ready ?? newThread();
  const verdict = new Promise<CheckedScript>((done, failed) => {
    thread.once("message", done);
    thread.once("error", failed);
    thread.once("exit", () => failed(new Error("its thread has ended")));
  });
  // Whoever stops the job does not ask any more.
  verdict.catch(() => undefined);
  thread.postMessage({ files, types, folder } satisfies AskedScript);
  return { modules: stripped(files), verdict, isSettled: false, stop: () => void thread.terminate() };
}
