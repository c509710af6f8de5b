import { MessageChannel, Worker, type MessagePort } from "node:worker_threads";
import type { Emission, FromSandbox, SandboxFrame, SandboxSetup } from "./protocol.js";

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

const MEMORY_PAGES = 4096;

/**
 * A sandbox thread, made ready before its script is known: starting one takes half a second, which scanning and checking
 * can cover. It runs one script and is ended in any case.
 */
export class Sandbox {
  readonly #flag = new Int32Array(new SharedArrayBuffer(4));
  readonly #port: MessagePort;
  readonly #worker: Worker;

  constructor() {
    const { port1, port2 } = new MessageChannel();
    this.#port = port1;
    const frame: SandboxFrame = { memoryPages: MEMORY_PAGES, signal: this.#flag.buffer as SharedArrayBuffer };
    this.#worker = new Worker(new URL("./sandbox.js", import.meta.url), {
      workerData: { frame, port: port2 },
      transferList: [port2],
      resourceLimits: { stackSizeMb: 8 },
    });
    // Until a script runs, nobody listens; a thread that cannot start says so when it is used.
    this.#worker.on("error", () => undefined);
  }

  async close(): Promise<void> {
    this.#port.close();
    await this.#worker.terminate();
  }

  /** Runs a script. @throws Error when aborted */
  run(setup: SandboxSetup, listener: ScriptListener, signal?: AbortSignal): Promise<ScriptEnd> {
    return runIn(this.#worker, this.#port, this.#flag, setup, listener, signal).finally(() => this.close());
  }
}

async function runIn(
  worker: Worker,
  port: MessagePort,
  flag: Int32Array,
  setup: SandboxSetup,
  listener: ScriptListener,
  signal: AbortSignal | undefined,
): Promise<ScriptEnd> {
  const unpacker = new Unpacker(listener);
  const answer = (text: string): void => {
    port.postMessage(text);
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
      if (worker.threadId < 0) return broken(" before the script began");
      worker.on("message", (m: FromSandbox) => {
        switch (m.type) {
          case "nodes":
            unpacker.take(m.json);
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
      worker.postMessage(setup);
    });
  } finally {
    clearTimeout(timer);
    if (abort) signal?.removeEventListener("abort", abort);
  }
}

type Template = readonly [form: number, inputs: readonly number[], line: number, run: number, parameter: boolean][];

/** Nodes as the script's recorder packs them; templates are spelt out. */
class Unpacker {
  readonly #templates: Template[] = [];
  #next = 0;

  constructor(private readonly listener: ScriptListener) {}

  take(json: string): void {
    const batch = JSON.parse(json) as {
      forms: [string, unknown][];
      templates: Template[];
      nodes: [number, number[], number, number | number[]][];
    };
    for (const [op, args] of batch.forms) this.listener.form(op, revive(args));
    this.#templates.push(...batch.templates);
    for (const [form, inputs, line, run] of batch.nodes) {
      if (form >= 0) {
        this.listener.node(form, inputs, line, run as number);
        this.#next++;
      } else this.#repeat(this.#templates[-1 - form]!, inputs, line, run as number[]);
    }
  }

  /** In a template, an input below zero is one of its own nodes (odd) or one of those given (even). */
  #repeat(template: Template, given: readonly number[], ownRun: number, forms: readonly number[]): void {
    const start = this.#next;
    let parameters = 0;
    for (const [form, places, line, run, parameter] of template) {
      const inputs = places.map((p) => (p >= 0 ? p : p % 2 === 0 ? given[-p / 2 - 1]! : start + (-p - 1) / 2));
      this.listener.node(parameter ? forms[parameters++]! : form, inputs, line, run === -2 ? ownRun : run);
    }
    this.#next += template.length;
  }
}

/** Numbers that JSON does not know come under names. */
function revive(v: unknown): unknown {
  if (v === null || typeof v !== "object") return v;
  if (Array.isArray(v)) return v.map(revive);
  const tagged = v as { $n?: string };
  if (typeof tagged.$n === "string") return Number(tagged.$n);
  return Object.fromEntries(Object.entries(v).map(([k, x]) => [k, revive(x)]));
}
