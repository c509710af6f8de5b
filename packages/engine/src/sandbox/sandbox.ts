import fs from "node:fs";
import { fileURLToPath } from "node:url";
import { parentPort, receiveMessageOnPort, type MessagePort } from "node:worker_threads";
import {
  newQuickJSWASMModuleFromVariant,
  newVariant,
  type QuickJSContext,
  type QuickJSHandle,
  type QuickJSSyncVariant,
} from "quickjs-emscripten-core";
import { findColumns, listNames, own, parseQuantity, suggestion } from "@oxtrum/core/tables";
import { knownArithmetic } from "../verbs/quantity-verbs.js";
import type { Emission, FromSandbox, SandboxEnd, SandboxFrame, SandboxSetup } from "./protocol.js";

/**
 * The thread in which scripts run, one after the other, each in an interpreter that no script has been in: WebAssembly
 * with memory that is capped, and no clock, chance, files or network. All a script can reach are the library's modules
 * and the functions below.
 */
let frame: SandboxFrame;
let port: MessagePort;
let setup: SandboxSetup;
let signal: Int32Array;
const runtimeFolder = new URL("./runtime/", import.meta.url);
let waited = 0;

/** The library's modules by name, read once, before any script is known: nothing else resolves under their names. */
const library: ReadonlyMap<string, string> = new Map(
  fs
    .readdirSync(fileURLToPath(runtimeFolder))
    .filter((f) => /^[\w-]+\.js$/.test(f))
    .map((f) => [`oxtrum:${f}`, fs.readFileSync(fileURLToPath(new URL(f, runtimeFolder)), "utf8")]),
);

const send = (m: FromSandbox): void => parentPort!.postMessage(m);

/** Sends a question and sleeps until the answer is there. */
function ask(m: FromSandbox): string {
  const start = performance.now();
  Atomics.store(signal, 0, 0);
  send(m);
  Atomics.wait(signal, 0, 0);
  waited += performance.now() - start;
  return (receiveMessageOnPort(port)?.message as string | undefined) ?? JSON.stringify({ failed: "stopped" });
}

const guarded = (make: () => unknown): string => {
  try {
    return encodeJson(make());
  } catch (e) {
    return JSON.stringify({ error: (e as Error).message });
  }
};

function encodeJson(value: unknown): string {
  return JSON.stringify(value, (_, v: unknown) =>
    typeof v === "number" && (!Number.isFinite(v) || Object.is(v, -0))
      ? { $n: Object.is(v, -0) ? "-0" : String(v) }
      : v,
  );
}

const decodeJson = (json: string): unknown =>
  JSON.parse(json, (_, v: unknown) =>
    v !== null && typeof v === "object" && "$n" in v ? Number((v as { $n: string }).$n) : v,
  );

function input(json: string): unknown {
  const asked = decodeJson(json) as {
    name: string;
    quantity?: { value: number; unit: string | null };
    plain?: unknown;
  };
  const given = Object.hasOwn(setup.inputs, asked.name) ? setup.inputs[asked.name]! : undefined;
  let value: unknown = asked.quantity ?? asked.plain;
  if (given !== undefined) {
    if (asked.quantity) {
      const q = parseQuantity(given);
      value = q.unit === "1" && asked.quantity.unit !== "1" ? { value: q.value, unit: asked.quantity.unit } : q;
    } else if (typeof asked.plain === "number") {
      value = Number(given);
      if (!Number.isFinite(value)) throw new Error(`input "${asked.name}": "${given}" is not a number`);
    } else if (typeof asked.plain === "boolean") {
      if (!["true", "yes", "false", "no"].includes(given))
        throw new Error(`input "${asked.name}": "${given}" is neither yes nor no`);
      value = given === "true" || given === "yes";
    } else value = given;
  }
  send({ type: "input", name: asked.name, value, fallback: asked.quantity ?? asked.plain });
  return asked.quantity ? { quantity: value } : { plain: value };
}

const hosts: Record<string, (...a: never[]) => string | boolean | void> = {
  nodes: (json: string) => send({ type: "nodes", json }),
  read: (id: number, what: string) => ask({ type: "read", id, what }),
  forms: () => frame.forms,
  columns: (id: number) => ask({ type: "columns", id }),
  study: (name: string) => {
    if (Object.hasOwn(setup.studies, name)) {
      const { runs, parameters, rules } = setup.studies[name]!;
      return JSON.stringify({ runs, parameters, rules });
    }
    const names = Object.keys(setup.studies);
    return JSON.stringify({
      error: `there is no study "${name}"; there is ${names.map((n) => `"${n}"`).join(", ") || "none"}${suggestion(name, names)}`,
    });
  },
  has: (study: string, run: number, file: string) => {
    const s = setup.studies[study];
    const there = s?.fileSets[s.filesOf[run]!] ?? [];
    return there.includes(file) || (own(s?.shortNames ?? {}, file)?.some((f) => there.includes(f)) ?? false);
  },
  named: (study: string, file: string, beside: boolean) => {
    const s = setup.studies[study];
    const meant = own((beside ? s?.shortBeside : s?.shortNames) ?? {}, file) ?? [file];
    if (meant.length > 1)
      return JSON.stringify({
        error: `"${file}" can be ${listNames(meant)}; write the whole name of the file, with its ending`,
      });
    return JSON.stringify({ file: meant[0] });
  },
  input: (json: string) => guarded(() => input(json)),
  quantity: (text: string) => guarded(() => parseQuantity(text)),
  arithmetic: (json: string) => {
    const request = decodeJson(json) as {
      op: string;
      args: unknown;
      a?: unknown;
      b?: unknown;
      heads?: unknown;
      query?: unknown;
    };
    if (request.op === "columns") {
      const heads = request.heads as { columns: { name: string; kind: string; unit: string | null }[]; axis?: string };
      return guarded(() => findColumns(heads.columns, heads.axis, request.query as object));
    }
    return guarded(() => knownArithmetic(request));
  },
  emit: (json: string) => send({ type: "emit", emission: decodeJson(json) as Emission }),
  log: (text: string) => {
    const m = JSON.parse(text) as { module: string; number: number; study?: string; runs?: number[] };
    if (m.study !== undefined) send({ type: "mapping", study: m.study, runs: m.runs! });
    else send({ type: "module", file: m.module, number: m.number });
  },
};

/** Takes away what would make a script's result depend on more than its text and inputs. */
const PRELUDE = `
(() => {
  const gone = (what, instead) => () => { throw new Error("there is no " + what + " in a script" + instead); };
  Math.random = gone("chance", "; a script gives the same result each time");
  const instead = { Date: ": it has no clock", Promise: ": values are there when they are asked for" };
  for (const name of ["Date", "Promise", "WeakRef", "FinalizationRegistry", "performance", "eval", "Function"])
    Object.defineProperty(globalThis, name, { get: gone(name, instead[name] ?? ""), configurable: false });
  const noCode = gone("code made from text", "");
  for (const f of [function () {}, function* () {}, async function () {}, async function* () {}])
    Object.defineProperty(Object.getPrototypeOf(f), "constructor", { value: noCode, writable: false, configurable: false });
  // The names of properties are names like any other: this one too.
  delete Object.prototype.__proto__;
})();
`;

/** When the library has been loaded: what it is made of cannot be changed under it, and the host is out of reach. */
const CLOSING = `
(() => {
  delete globalThis.__oxtrumHost;
  const fixed = [JSON, Math, Reflect, Object, Array, String, Number, Boolean, Symbol, Map, Set, Error];
  for (const f of fixed) Object.freeze(f);
  for (const f of [Array, String, Number, Boolean, Symbol, Map, Set]) Object.freeze(f.prototype);
})();
`;

/** Before the name of a module that resolves to nothing; no module's own name has a colon. */
const NOWHERE = "nowhere:";

function load(name: string): string {
  const own = library.get(name);
  if (own !== undefined) return own;
  const found = Object.hasOwn(setup.modules, name) ? setup.modules[name] : undefined;
  const shown = name.startsWith(NOWHERE) ? name.slice(NOWHERE.length) : name;
  if (found === undefined) throw new Error(`there is no module "${shown}" beside the script`);
  return found;
}

/** A script's modules import the library by its one name, and each other; only the library imports its own parts. */
function resolve(base: string, wanted: string): string {
  if (base.startsWith("oxtrum:")) {
    const name = wanted === "oxtrum" ? "oxtrum:index.js" : wanted.replace(/^\.\//, "oxtrum:");
    if (library.has(name)) return name;
  } else {
    if (wanted === "oxtrum") return "oxtrum:index.js";
    const name = wanted.replace(/^\.\//, "");
    for (const candidate of [name, `${name}.ts`, name.replace(/\.js$/, ".ts")])
      if (Object.hasOwn(setup.modules, candidate)) return candidate;
  }
  return NOWHERE + wanted;
}

function bind(vm: QuickJSContext): void {
  const host = vm.newObject();
  for (const [name, f] of Object.entries(hosts)) {
    const fn = vm.newFunction(name, (...handles: QuickJSHandle[]) => {
      const args = handles.map((h) => vm.dump(h) as never);
      const out = f(...args);
      return out === undefined ? vm.undefined : typeof out === "string" ? vm.newString(out) : out ? vm.true : vm.false;
    });
    vm.setProp(host, name, fn);
    fn.dispose();
  }
  vm.setProp(vm.global, "__oxtrumHost", host);
  host.dispose();
}

interface Thrown {
  name?: string;
  message?: string;
  stack?: string;
}

/** What is told of a script that has failed. */
function failure(thrown: Thrown | null): SandboxEnd {
  // Without room for an error there is none.
  const error = thrown ?? { message: "out of memory" };
  const frames = (error.stack ?? "").split("\n").flatMap((l) => {
    const m = /(?:\(|at )((?:oxtrum:)?[^():]+):(\d+)(?::\d+)?\)?\s*$/.exec(l);
    return m && Object.hasOwn(setup.modules, m[1]!) ? [{ file: m[1]!, line: Number(m[2]) }] : [];
  });
  const at = frames[0] ?? { file: setup.main, line: 0 };
  const message = error.message ?? String(error);
  if (/interrupted/.test(message))
    return { type: "error", message: `the script ran longer than ${setup.seconds} s; a loop may never end`, ...at };
  if (/out of memory/i.test(message))
    return {
      type: "error",
      message: "the script needs more memory than it may have (numbers in bulk belong in tables, not in arrays)",
      ...at,
    };
  const named = error.name && !["Error", "ScriptError", "ExcludedRun", "Mistake"].includes(error.name);
  const dry = message.includes(DRY);
  return { type: "error", message: named ? `${error.name}: ${message}` : message, ...at, ...(dry && { dry }) };
}

/** How a dry run answers a blocking read. */
const DRY = "not known before the run";

/** Runs code of our own. @throws Error when it fails, which is not a script's fault */
function run(vm: QuickJSContext, code: string, name: string, type: "module" | "global"): void {
  const result = vm.evalCode(code, name, { type });
  if (result.error) throw new Error(`${name}: ${JSON.stringify(vm.dump(result.error))}`);
  result.value.dispose();
}

/** Clock ticks a second, in which Linux counts processor time. */
const TICKS = 100;

/** Seconds of processor time that this thread has used; undefined where the system does not tell. */
function threadSeconds(): number | undefined {
  try {
    const stat = fs.readFileSync("/proc/thread-self/stat", "utf8");
    const fields = stat.slice(stat.lastIndexOf(")") + 2).split(" ");
    return (Number(fields[11]) + Number(fields[12])) / TICKS;
  } catch {
    return undefined;
  }
}

/** How long a script has run: processor time, so that a busy machine does not stop it; without what it waits for. */
class ScriptClock {
  #limit = Infinity;
  #start = 0;
  #startWall = 0;
  #next = Infinity;

  begin(seconds: number): void {
    this.#limit = seconds;
    this.#start = threadSeconds() ?? 0;
    this.#startWall = performance.now() - waited;
    this.#next = this.#startWall + seconds * 1000;
  }

  end(): void {
    this.#next = Infinity;
  }

  /** Asked thousands of times a second: the system is asked only once the time on the wall is over. */
  isOver(): boolean {
    const now = performance.now() - waited;
    if (now < this.#next) return false;
    const used = threadSeconds();
    if ((used === undefined ? (now - this.#startWall) / 1000 : used - this.#start) >= this.#limit) return true;
    this.#next = now + 50;
    return false;
  }
}

/** An interpreter with the library in it. */
async function interpreter(memory: WebAssembly.Memory, clock: ScriptClock): Promise<QuickJSContext> {
  // Imported, in a bundle too: the package's other form takes no memory of ours, and would not be bounded. Its types
  // describe that form; what arrives here is the variant itself.
  const { default: imported } = await import("@jitl/quickjs-wasmfile-release-sync");
  const variant = imported as unknown as QuickJSSyncVariant;
  const quick = await newQuickJSWASMModuleFromVariant(
    newVariant(variant, { wasmModule: frame.interpreter, wasmMemory: memory }),
  );
  const runtime = quick.newRuntime();
  runtime.setMaxStackSize(256 * 1024);
  runtime.setInterruptHandler(() => clock.isOver());
  runtime.setModuleLoader(load, resolve);
  const vm = runtime.newContext();
  bind(vm);
  run(vm, PRELUDE, "oxtrum:prelude", "global");
  // The library is loaded before the script is known: a thread can be made ready while studies are scanned.
  run(vm, 'import "oxtrum";', "oxtrum:ready", "module");
  run(vm, CLOSING, "oxtrum:closing", "global");
  return vm;
}

const ZEROS = new Uint8Array(64 * 1024);

/**
 * The thread's interpreter. All that it is lies in its memory: each script after the first one finds that as it was
 * when the library had been loaded, byte for byte, which takes a tenth of loading it again.
 */
class Interpreter {
  /** Its memory at that time, up to where all the rest is zero. */
  readonly #image: Uint8Array;

  private constructor(
    readonly vm: QuickJSContext,
    readonly clock: ScriptClock,
    private readonly memory: WebAssembly.Memory,
  ) {
    const words = new Uint32Array(memory.buffer);
    let end = words.length;
    while (end > 0 && words[end - 1] === 0) end--;
    this.#image = new Uint8Array(memory.buffer).slice(0, end * words.BYTES_PER_ELEMENT);
  }

  static async make(): Promise<Interpreter> {
    const memory = new WebAssembly.Memory({ initial: 256, maximum: frame.memoryPages });
    const clock = new ScriptClock();
    return new Interpreter(await interpreter(memory, clock), clock, memory);
  }

  /** Bytes of its memory, which does not shrink. */
  get held(): number {
    return this.memory.buffer.byteLength;
  }

  /** Takes away all that a script has left; handles of its values mean nothing from then on. */
  restore(): void {
    const all = new Uint8Array(this.memory.buffer);
    all.set(this.#image);
    // Most of the rest was never written to, and is not there yet: looking at it does not make it, writing zeros would.
    for (let at = this.#image.length; at < all.length; at += ZEROS.length) {
      const part = all.subarray(at, at + ZEROS.length);
      if (Buffer.compare(part, ZEROS.subarray(0, part.length)) !== 0) part.fill(0);
    }
  }
}

/** Runs a script to its end. @throws Error where the interpreter itself breaks */
function runScript(vm: QuickJSContext, clock: ScriptClock): SandboxEnd {
  for (const name of Object.keys(setup.modules))
    if (!/^[^/\\:\p{Cc}]+$/u.test(name)) throw new Error(`"${name}" is not a name for a module`);
  clock.begin(setup.seconds);
  const result = vm.evalCode(load(setup.main), setup.main, { type: "module" });
  if (result.error) return failure(vm.dump(result.error) as Thrown | null);
  // Code that was put off: nobody would wait for it, so it does not run, and the script has failed.
  if (vm.runtime.hasPendingJob())
    return failure({
      message:
        "a part of the script was put off to run later (async, await, a promise); nothing waits for it. Write it without",
    });
  const state = vm.getPromiseState(result.value);
  if (state.type === "rejected") return failure(vm.dump(state.error) as Thrown | null);
  if (state.type === "pending")
    return failure({ message: "the script waits for a promise that nothing keeps; there are no promises in a script" });
  // Nodes still on the recorder's hands.
  clock.end();
  const flushed = vm.evalCode('import { flush } from "oxtrum:record.js"; flush();', "oxtrum:end", { type: "module" });
  if (flushed.error) return failure(vm.dump(flushed.error) as Thrown | null);
  vm.runtime.executePendingJobs();
  return { type: "done" };
}

/** Bytes of memory above which a thread does not wait for another script: they are only given back in time. */
const MOST_HELD = 64e6;

const arrived: unknown[] = [];
let waiting: ((m: unknown) => void) | undefined;
parentPort!.on("message", (m: unknown) => {
  const take = waiting;
  waiting = undefined;
  if (take) take(m);
  else arrived.push(m);
});
/** The next message of the host, in their order. */
const next = <M>(): Promise<M> =>
  new Promise((done) => {
    if (arrived.length > 0) done(arrived.shift() as M);
    else waiting = (m) => done(m as M);
  });

let ready: Interpreter | undefined;

/** One script, from its frame to its end, and whether the thread is as good as new. */
async function serve(): Promise<SandboxEnd> {
  try {
    if (ready) ready.restore();
    else ready = await Interpreter.make();
    const { vm, clock } = ready;
    setup = await next<SandboxSetup>();
    const end = runScript(vm, clock);
    return { ...end, stays: ready.held <= MOST_HELD };
  } catch (e) {
    // Anything thrown out of the interpreter itself means that its memory ran out or its stack broke.
    const message = (e as Error).message ?? String(e);
    return {
      type: "error",
      message: /memory|signature|unreachable|bounds|Aborted/i.test(message)
        ? "the script needs more memory than it may have"
        : message,
      file: (setup as SandboxSetup | undefined)?.main ?? "",
      line: 0,
    };
  }
}

/** A script after the other, until one leaves the thread as it should not be. */
async function main(): Promise<void> {
  for (;;) {
    ({ frame, port } = await next<{ frame: SandboxFrame; port: MessagePort }>());
    signal = new Int32Array(frame.signal);
    const end = await serve();
    port.close();
    send(end);
    if (end.stays !== true) return;
  }
}

void main();
