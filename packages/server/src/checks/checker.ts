import { Worker } from "node:worker_threads";
import type { ScriptDiagnostic } from "@oxtrum/engine";
import type { CheckAnswer, CheckRequest } from "./protocol.js";

export interface Checked {
  readonly diagnostics: readonly ScriptDiagnostic[];
  /** The modules as JavaScript, when there are no errors. */
  readonly compiled?: Readonly<Record<string, string>>;
}

type Question = CheckRequest extends infer R ? (R extends unknown ? Omit<R, "id"> : never) : never;

const LONGEST = 15_000;

/** Asks the checker's thread; a question that takes too long ends the thread, and the next one starts a new one. */
export class Checker {
  #worker: Worker | undefined;
  #next = 0;
  readonly #open = new Map<number, { done: (v: unknown) => void; failed: (e: Error) => void; timer: NodeJS.Timeout }>();

  ask(question: Question): Promise<unknown> {
    const worker = (this.#worker ??= this.#start());
    const id = this.#next++;
    return new Promise((done, failed) => {
      const timer = setTimeout(() => this.#end(new Error("checking the script took too long")), LONGEST);
      this.#open.set(id, { done, failed, timer });
      worker.postMessage({ ...question, id });
    });
  }

  check(
    files: Readonly<Record<string, string>>,
    types: Readonly<Record<string, string>>,
    gaps = false,
  ): Promise<Checked> {
    return this.ask({ kind: "check", files, types, gaps }) as Promise<Checked>;
  }

  #start(): Worker {
    const worker = new Worker(new URL("./checker.worker.js", import.meta.url), {
      resourceLimits: { maxOldGenerationSizeMb: 1024 },
    });
    worker.on("message", (m: CheckAnswer) => {
      const open = this.#open.get(m.id);
      this.#open.delete(m.id);
      clearTimeout(open?.timer);
      if (m.error !== undefined) open?.failed(new Error(m.error));
      else open?.done(m.value);
    });
    worker.on("error", (e) => this.#end(e));
    return worker;
  }

  #end(e: Error): void {
    void this.#worker?.terminate();
    this.#worker = undefined;
    for (const o of this.#open.values()) {
      clearTimeout(o.timer);
      o.failed(e);
    }
    this.#open.clear();
  }

  close(): void {
    this.#end(new Error("the server ends"));
  }
}
