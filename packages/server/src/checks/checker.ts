import { bundled } from "@oxtrum/engine/bundled";
import type { ScriptDiagnostic } from "@oxtrum/engine";
import { AnsweringThread } from "../threads/answering-thread.js";
import type { CheckRequest } from "./protocol.js";

export interface Checked {
  readonly diagnostics: readonly ScriptDiagnostic[];
  /** The modules as JavaScript, when there are no errors. */
  readonly compiled?: Readonly<Record<string, string>>;
}

/** The language service in a thread of its own. */
export class Checker extends AnsweringThread<CheckRequest> {
  constructor() {
    super(bundled("checker.worker.cjs") ?? new URL("./checker.worker.js", import.meta.url), {
      seconds: 30,
      late: "Checking the script took more than 30 s of processor time.",
    });
  }

  check(
    files: Readonly<Record<string, string>>,
    types: Readonly<Record<string, string>>,
    gaps = false,
  ): Promise<Checked> {
    return this.ask({ kind: "check", files, types, gaps }) as Promise<Checked>;
  }
}
