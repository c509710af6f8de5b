import { MessageChannel, Worker } from "node:worker_threads";
import type { Emission, FromSandbox, SandboxSetup } from "./protocol.js";

/** Who takes what a running script tells, and answers what it asks. */
export interface ScriptListener {
  /** An operation with its arguments; nodes name it by its number, in order of telling. */
  form(op: string, args: unknown): void;
  node(form: number, inputs: readonly number[], line: number, run: number): void;
  emit(e: Emission): void;
  input(name: string, value: unknown): void;
  module(number: number, file: string): void;
  mapping(study: string, runs: readonly number[]): void;
  /** The value of a node as JSON; the script sleeps meanwhile. */
  read(id: number, what: string): Promise<string>;
  columns(id: number): string;
}

export type ScriptEnd =
  | { readonly kind: "complete" }
  /** A dry run came to a value that is not known before the run. */
  | { readonly kind: "unknown" }
  | { readonly kind: "error"; readonly message: string; readonly file: string; readonly line: number };

const LONGEST = 3_600_000;

/** Runs a script in a sandbox thread of its own; the thread is ended in any case. @throws Error when aborted */
export async function runScript(
  given: Omit<SandboxSetup, "signal">,
  listener: ScriptListener,
  signal?: AbortSignal,
): Promise<ScriptEnd> {
  const flag = new Int32Array(new SharedArrayBuffer(4));
  const { port1, port2 } = new MessageChannel();
  const setup: SandboxSetup = { ...given, signal: flag.buffer as SharedArrayBuffer };
  const worker = new Worker(new URL("./sandbox.js", import.meta.url), {
    workerData: { setup, port: port2 },
    transferList: [port2],
    resourceLimits: { stackSizeMb: 8 },
  });
  const answer = (text: string): void => {
    port1.postMessage(text);
    Atomics.store(flag, 0, 1);
    Atomics.notify(flag, 0);
  };
  let timer: NodeJS.Timeout | undefined;
  let abort: (() => void) | undefined;
  try {
    return await new Promise<ScriptEnd>((done, failed) => {
      abort = () => failed(new Error("stopped"));
      signal?.addEventListener("abort", abort);
      timer = setTimeout(() => failed(new Error("the script took longer than an hour")), LONGEST);
      const broken = (why: string): void =>
        done({ kind: "error", message: `the script's sandbox stopped${why}`, file: setup.main, line: 0 });
      worker.on("error", (e) => broken(`: ${e.message}`));
      worker.on("exit", () => broken(""));
      worker.on("message", (m: FromSandbox) => {
        switch (m.type) {
          case "nodes":
            takeNodes(m.json, listener);
            break;
          case "emit":
            listener.emit(m.emission);
            break;
          case "input":
            listener.input(m.name, m.value);
            break;
          case "module":
            listener.module(m.number, m.file);
            break;
          case "mapping":
            listener.mapping(m.study, m.runs);
            break;
          case "read":
            void listener.read(m.id, m.what).then(answer);
            break;
          case "columns":
            answer(listener.columns(m.id));
            break;
          case "done":
            done({ kind: "complete" });
            break;
          case "error":
            done(m.dry ? { kind: "unknown" } : { kind: "error", message: m.message, file: m.file, line: m.line });
            break;
        }
      });
    });
  } finally {
    clearTimeout(timer);
    if (abort) signal?.removeEventListener("abort", abort);
    port1.close();
    await worker.terminate();
  }
}

function takeNodes(json: string, listener: ScriptListener): void {
  const batch = JSON.parse(json) as { forms: [string, unknown][]; nodes: [number, number[], number, number][] };
  for (const [op, args] of batch.forms) listener.form(op, revive(args));
  for (const [form, inputs, line, run] of batch.nodes) listener.node(form, inputs, line, run);
}

/** Numbers that JSON does not know come under names. */
function revive(v: unknown): unknown {
  if (v === null || typeof v !== "object") return v;
  if (Array.isArray(v)) return v.map(revive);
  const tagged = v as { $n?: string };
  if (typeof tagged.$n === "string") return Number(tagged.$n);
  return Object.fromEntries(Object.entries(v).map(([k, x]) => [k, revive(x)]));
}
