import fs from "node:fs";
import { createRequire } from "node:module";
import { MessageChannel, Worker, type MessagePort } from "node:worker_threads";
import { bundled } from "../bundled.js";
import { libraryForms } from "../verbs/library-forms.js";
import type { FromSandbox, SandboxFrame, SandboxSetup, ScriptListener } from "./protocol.js";

export type { FromSandbox, ScriptListener } from "./protocol.js";
import { checkEmission, MessageError, NodeReceiver, parseMessage } from "./receive.js";

export type ScriptEnd =
  | { readonly kind: "complete" }
  /** A dry run came to a value that is not known before the run. */
  | { readonly kind: "unknown" }
  | { readonly kind: "error"; readonly message: string; readonly file: string; readonly line: number };

const MEMORY_PAGES = 4096;

let compiled: WebAssembly.Module | undefined;
/** The interpreter's code. */
function interpreter(): WebAssembly.Module {
  const file = createRequire(import.meta.url).resolve("@jitl/quickjs-wasmfile-release-sync/wasm");
  return (compiled ??= new WebAssembly.Module(fs.readFileSync(file)));
}

/**
 * A sandbox thread, made ready before its script is known: starting one takes half a second, which scanning and
 * checking can cover. It runs one script and is ended in any case.
 */
export class Sandbox {
  readonly #flag = new Int32Array(new SharedArrayBuffer(4));
  readonly #port: MessagePort;
  readonly #worker: Worker;

  constructor() {
    const { port1, port2 } = new MessageChannel();
    this.#port = port1;
    const frame: SandboxFrame = {
      memoryPages: MEMORY_PAGES,
      interpreter: interpreter(),
      signal: this.#flag.buffer as SharedArrayBuffer,
      forms: libraryForms(),
    };
    this.#worker = new Worker(bundled("sandbox.cjs") ?? new URL("./sandbox.js", import.meta.url), {
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
    return runIn(this.#worker, this.#port, this.#flag, setup, listener, signal).finally(() => void this.close());
  }
}

/** Hands a message of a script that goes on to whoever listens. */
function take(
  m: Exclude<FromSandbox, { type: "done" | "error" }>,
  receiver: NodeReceiver,
  listener: ScriptListener,
  answer: (text: string) => void,
  refused: (e: unknown) => void,
): void {
  switch (m.type) {
    case "nodes":
      return receiver.take(m.json);
    case "emit":
      return listener.emit(checkEmission(m.emission, receiver.count));
    case "input":
      return listener.input(m.name, m.value);
    case "module":
      return listener.module(m.number, m.file);
    case "mapping":
      receiver.checkMapping(m.study, m.runs);
      return listener.mapping(m.study, m.runs);
    case "read":
      receiver.checkNode(m.id);
      listener.read(m.id, m.what).then(answer, refused);
      return;
    case "columns":
      receiver.checkNode(m.id);
      return answer(listener.columns(m.id));
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
  const receiver = new NodeReceiver(listener, setup);
  const modules = new Map<number, string>();
  const answer = (text: string): void => {
    port.postMessage(text);
    Atomics.store(flag, 0, 1);
    Atomics.notify(flag, 0);
  };
  let abort: (() => void) | undefined;
  try {
    return await new Promise<ScriptEnd>((done, failed) => {
      abort = () => failed(new Error("stopped"));
      if (signal?.aborted) return abort();
      signal?.addEventListener("abort", abort);
      const broken = (why: string): void =>
        done({ kind: "error", message: `the script's sandbox stopped${why}`, file: setup.main, line: 0 });
      worker.on("error", (e) => broken(`: ${e.message}`));
      worker.on("exit", () => broken(""));
      if (worker.threadId < 0) return broken(" before the script began");
      /** What is wrong with a message is the script's error; anything else thrown is ours and ends the job. */
      const refused = (e: unknown): void => {
        if (!(e instanceof MessageError)) return failed(e as Error);
        const file = modules.get(Math.floor(e.line / 1_000_000)) ?? setup.main;
        done({ kind: "error", message: e.message, file, line: e.line % 1_000_000 });
      };
      worker.on("message", (given: unknown) => {
        try {
          const m = parseMessage(given);
          if (m.type === "done") done({ kind: "complete" });
          else if (m.type === "error")
            done(m.dry ? { kind: "unknown" } : { kind: "error", message: m.message, file: m.file, line: m.line });
          else {
            if (m.type === "module") modules.set(m.number, m.file);
            take(m, receiver, listener, answer, refused);
          }
        } catch (e) {
          refused(e);
        }
      });
      worker.postMessage(setup);
    });
  } finally {
    if (abort) signal?.removeEventListener("abort", abort);
  }
}
