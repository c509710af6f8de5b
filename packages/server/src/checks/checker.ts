import type { ScriptDiagnostic } from "@oxtrum/engine";
import { AnsweringThread } from "../answering-thread.js";
import type { CheckRequest } from "./protocol.js";

export interface Checked {
  readonly diagnostics: readonly ScriptDiagnostic[];
  /** The modules as JavaScript, when there are no errors. */
  readonly compiled?: Readonly<Record<string, string>>;
}

type Question = CheckRequest extends infer R ? (R extends unknown ? Omit<R, "id"> : never) : never;

/** The language service in a thread of its own. */
export class Checker extends AnsweringThread<Question> {
  constructor() {
    super(new URL("./checker.worker.js", import.meta.url), 15_000, "checking the script took too long");
  }

  check(
    files: Readonly<Record<string, string>>,
    types: Readonly<Record<string, string>>,
    gaps = false,
  ): Promise<Checked> {
    return this.ask({ kind: "check", files, types, gaps }) as Promise<Checked>;
  }
}
