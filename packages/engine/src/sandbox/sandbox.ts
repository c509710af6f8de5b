import fs from "node:fs";
import { fileURLToPath } from "node:url";
import { parentPort, receiveMessageOnPort, workerData, type MessagePort } from "node:worker_threads";
import variantModule from "@jitl/quickjs-wasmfile-release-sync";
import {
  newQuickJSWASMModuleFromVariant,
  newVariant,
  type QuickJSContext,
  type QuickJSHandle,
  type QuickJSSyncVariant,
} from "quickjs-emscripten-core";
import { findColumns, parseQuantity, suggestion } from "@oxtrum/core/tables";
import { knownArithmetic } from "../operations/quantity-verbs.js";
import type { Emission, FromSandbox, SandboxFrame, SandboxSetup } from "./protocol.js";

/**
 * The thread in which a script runs: an interpreter in WebAssembly with capped memory and no clock, chance, files or
 * network. All it can reach are the library's modules and the functions below.
 */
const { frame, port } = workerData as { frame: SandboxFrame; port: MessagePort };
let setup: SandboxSetup;
// The package's types describe its CommonJS form; what arrives here is the variant itself.
const variant = variantModule as unknown as QuickJSSyncVariant;
const signal = new Int32Array(frame.signal);
const runtimeFolder = new URL("./runtime/", import.meta.url);
let waited = 0;

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
    return s?.fileSets[s.filesOf[run]!]?.includes(file) ?? false;
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
  for (const name of ["Date", "WeakRef", "FinalizationRegistry", "performance", "eval", "Function"])
    Object.defineProperty(globalThis, name, { get: gone(name, name === "Date" ? ": it has no clock" : ""), configurable: false });
  const noCode = gone("code made from text", "");
  for (const f of [function () {}, function* () {}, async function () {}, async function* () {}])
    Object.defineProperty(Object.getPrototypeOf(f), "constructor", { value: noCode, writable: false, configurable: false });
})();
`;

function load(name: string): string {
  if (name.startsWith("oxtrum:"))
    return fs.readFileSync(fileURLToPath(new URL(name.slice("oxtrum:".length), runtimeFolder)), "utf8");
  const found = Object.hasOwn(setup.modules, name) ? setup.modules[name] : undefined;
  if (found === undefined) throw new Error(`there is no module "${name}" beside the script`);
  return found;
}

function resolve(base: string, wanted: string): string {
  if (wanted === "oxtrum") return "oxtrum:index.js";
  if (wanted.startsWith("oxtrum:") && base.startsWith("oxtrum:")) return wanted;
  if (base.startsWith("oxtrum:") && /^\.\/[\w-]+\.js$/.test(wanted)) return `oxtrum:${wanted.slice(2)}`;
  const name = wanted.replace(/^\.\//, "");
  for (const candidate of [name, `${name}.ts`, name.replace(/\.js$/, ".ts")])
    if (Object.hasOwn(setup.modules, candidate)) return candidate;
  return name;
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
  vm.setProp(vm.global, "__host", host);
  host.dispose();
}

interface Thrown {
  name?: string;
  message?: string;
  stack?: string;
}

function report(thrown: Thrown | null): void {
  // Without room for an error there is none.
  const error = thrown ?? { message: "out of memory" };
  const frames = (error.stack ?? "").split("\n").flatMap((l) => {
    const m = /\(?((?:oxtrum:)?[^():\s]+):(\d+)(?::\d+)?\)?\s*$/.exec(l);
    return m && Object.hasOwn(setup.modules, m[1]!) ? [{ file: m[1]!, line: Number(m[2]) }] : [];
  });
  const at = frames[0] ?? { file: setup.main, line: 0 };
  const message = error.message ?? String(error);
  const dry = message.includes(DRY);
  if (/interrupted/.test(message))
    send({ type: "error", message: `the script ran longer than ${setup.seconds} s; a loop may never end`, ...at });
  else if (/out of memory/i.test(message))
    send({
      type: "error",
      message: "the script needs more memory than it may have (numbers in bulk belong in tables, not in arrays)",
      ...at,
    });
  else
    send({
      type: "error",
      message:
        error.name && !["Error", "ScriptError", "LeftOut", "Mistake"].includes(error.name)
          ? `${error.name}: ${message}`
          : message,
      ...at,
      ...(dry && { dry }),
    });
}

/** How a dry run answers a blocking read. */
const DRY = "not known before the run";

const given = new Promise<SandboxSetup>((known) => parentPort!.once("message", known));

async function main(): Promise<void> {
  const memory = new WebAssembly.Memory({ initial: 256, maximum: frame.memoryPages });
  const quick = await newQuickJSWASMModuleFromVariant(newVariant(variant, { wasmMemory: memory }));
  const runtime = quick.newRuntime();
  runtime.setMaxStackSize(256 * 1024);
  // No limit while the library is loaded.
  let latest = Infinity;
  runtime.setInterruptHandler(() => performance.now() - waited > latest);
  runtime.setModuleLoader(load, resolve);
  const vm = runtime.newContext();
  bind(vm);
  const prelude = vm.evalCode(PRELUDE, "oxtrum:prelude");
  if (prelude.error) throw new Error("prelude: " + JSON.stringify(vm.dump(prelude.error)));
  prelude.value.dispose();
  // The library is loaded before the script is known: a thread can be made ready while studies are scanned.
  const library = vm.evalCode('import "oxtrum";', "oxtrum:ready", { type: "module" });
  if (library.error) throw new Error("library: " + JSON.stringify(vm.dump(library.error)));
  library.value.dispose();
  setup = await given;
  latest = performance.now() + setup.seconds * 1000;
  const result = vm.evalCode(load(setup.main), setup.main, { type: "module" });
  if (result.error) {
    report(vm.dump(result.error) as Thrown | null);
    return;
  }
  runtime.executePendingJobs();
  const state = vm.getPromiseState(result.value);
  if (state.type === "rejected") return report(vm.dump(state.error) as Thrown | null);
  if (state.type === "pending")
    return report({ message: "the script waits for a promise that nothing keeps; there are no promises in a script" });
  // Nodes still on the recorder's hands.
  const flushed = vm.evalCode('import { flush } from "oxtrum:record.js"; flush();', "oxtrum:end", { type: "module" });
  if (flushed.error) return report(vm.dump(flushed.error) as Thrown | null);
  runtime.executePendingJobs();
  send({ type: "done" });
}

main().catch((e: unknown) => {
  // Anything thrown out of the interpreter itself means that its memory ran out or its stack broke.
  const message = (e as Error).message ?? String(e);
  send({
    type: "error",
    message: /memory|signature|unreachable|bounds|Aborted/i.test(message)
      ? "the script needs more memory than it may have"
      : message,
    file: (setup as SandboxSetup | undefined)?.main ?? "",
    line: 0,
  });
});
