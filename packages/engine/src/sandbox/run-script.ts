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

/** Threads whose script went well, which take the next one, and how many wait at most. */
const spare: Worker[] = [];
const MOST_SPARE = 2;

function startThread(): Worker {
  const worker = new Worker(bundled("sandbox.cjs") ?? new URL("./sandbox.js", import.meta.url), {
    resourceLimits: { stackSizeMb: 8 },
  });
  // Until a script runs, nobody listens; a thread that cannot start says so when it is used.
  worker.on("error", () => undefined);
  worker.on("exit", () => {
    const at = spare.indexOf(worker);
    if (at >= 0) spare.splice(at, 1);
  });
  return worker;
}

/** Puts a thread by for another script; it holds up no process that has nothing else to do. */
function giveBack(worker: Worker): void {
  if (spare.length >= MOST_SPARE) return void worker.terminate();
  worker.unref();
  spare.push(worker);
}

/**
 * A thread with an interpreter of its own, made ready before its script is known: starting a thread takes half a
 * second, which scanning and checking can cover. It runs one script. A thread whose script came to its end takes
 * another one, which finds an interpreter and memory that no script has been in; any other thread is ended.
 */
export class Sandbox {
  readonly #flag = new Int32Array(new SharedArrayBuffer(4));
  readonly #port: MessagePort;
  readonly #worker: Worker;
  /** Whether its thread is no longer its own. */
  #isOver = false;

  constructor() {
    const { port1, port2 } = new MessageChannel();
    this.#port = port1;
    const frame: SandboxFrame = {
      memoryPages: MEMORY_PAGES,
      interpreter: interpreter(),
      signal: this.#flag.buffer as SharedArrayBuffer,
      forms: libraryForms(),
    };
    this.#worker = spare.pop() ?? startThread();
    this.#worker.ref();
    this.#worker.postMessage({ frame, port: port2 }, [port2]);
  }

  /** Ends its thread, unless a script has run in it. */
  async close(): Promise<void> {
    if (this.#isOver) return;
    this.#isOver = true;
    this.#port.close();
    await this.#worker.terminate();
  }

  /** Runs a script. @throws Error when aborted */
  async run(setup: SandboxSetup, listener: ScriptListener, signal?: AbortSignal): Promise<ScriptEnd> {
    let stays = false;
    try {
      const ended = await runIn(this.#worker, this.#port, this.#flag, setup, listener, signal);
      stays = ended.stays;
      return ended.end;
    } finally {
      if (!this.#isOver && stays) {
        this.#isOver = true;
        this.#port.close();
        giveBack(this.#worker);
      } else void this.close();
    }
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

/** How a script ended, and whether its thread takes another one. */
interface Ended {
  readonly end: ScriptEnd;
  readonly stays: boolean;
}

async function runIn(
  worker: Worker,
  port: MessagePort,
  flag: Int32Array,
  setup: SandboxSetup,
  listener: ScriptListener,
  signal: AbortSignal | undefined,
): Promise<Ended> {
  const receiver = new NodeReceiver(listener, setup);
  const modules = new Map<number, string>();
  const answer = (text: string): void => {
    port.postMessage(text);
    Atomics.store(flag, 0, 1);
    Atomics.notify(flag, 0);
  };
  let release = (): void => undefined;
  try {
    return await new Promise<Ended>((done, failed) => {
      if (signal?.aborted) return failed(new Error("stopped"));
      const failure = (message: string, file = setup.main, line = 0): void =>
        done({ end: { kind: "error", message, file, line }, stays: false });
      const abort = (): void => failed(new Error("stopped"));
      const broken = (e: Error): void => failure(`the script's sandbox stopped: ${e.message}`);
      const gone = (): void => failure("the script's sandbox stopped");
      /** What is wrong with a message is the script's error; anything else thrown is ours and ends the job. */
      const refused = (e: unknown): void => {
        if (!(e instanceof MessageError)) return failed(e as Error);
        failure(e.message, modules.get(Math.floor(e.line / 1_000_000)), e.line % 1_000_000);
      };
      const hear = (given: unknown): void => {
        try {
          const m = parseMessage(given);
          const stays = "stays" in m && m.stays === true;
          if (m.type === "done") done({ end: { kind: "complete" }, stays });
          else if (m.type === "error" && m.dry) done({ end: { kind: "unknown" }, stays });
          else if (m.type === "error")
            done({ end: { kind: "error", message: m.message, file: m.file, line: m.line }, stays });
          else {
            if (m.type === "module") modules.set(m.number, m.file);
            take(m, receiver, listener, answer, refused);
          }
        } catch (e) {
          refused(e);
        }
      };
      release = () => {
        signal?.removeEventListener("abort", abort);
        worker.off("error", broken).off("exit", gone).off("message", hear);
      };
      signal?.addEventListener("abort", abort);
      worker.on("error", broken).on("exit", gone).on("message", hear);
      if (worker.threadId < 0) return failure("the script's sandbox stopped before the script began");
      worker.postMessage(setup);
    });
  } finally {
    release();
  }
}
