import type { LibraryForms } from "../../verbs/parameters/form.js";

/**
 * The recorder: verbs make nodes, nodes go to the host in batches. This module runs inside the sandbox, where there is
 * nothing but the language itself and the host's functions.
 */

/** What the host offers. Texts only: they cross the border cheaply. */
export interface Host {
  /** Takes a batch of nodes, as JSON. */
  nodes(json: string): void;
  /** Blocks until a node is computed; gives its value as JSON, or its failure. */
  read(id: number, what: string): string;
  /** A study's runs and parameters, as JSON. */
  study(name: string, line: number): string;
  /** Whether a run has a file. */
  has(study: string, run: number, file: string): boolean;
  /** The whole name of a file that a script may have named without its ending, as JSON. */
  named(study: string, file: string, beside: boolean): string;
  /** The forms of verbs and sites, as JSON. */
  forms(): string;
  /** The heads of a table's columns, as JSON. */
  columns(id: number): string;
  /** The value of an input, as JSON; declares it on first use. */
  input(json: string): string;
  /** Reads a quantity's text, as JSON. */
  quantity(text: string): string;
  /** Arithmetic and conversion of known quantities, as JSON. */
  arithmetic(json: string): string;
  emit(json: string): void;
  log(text: string): void;
}

/** Given by the sandbox before the library is loaded, and taken away again before a script runs. */
declare const __oxtrumHost: Host;
export const host: Host = __oxtrumHost;

/** The verbs and sites that the library has. */
export const libraryForms = JSON.parse(host.forms()) as LibraryForms;

/** A mistake in the script, told at the line that made it. */
export class ScriptError extends Error {
  override name = "ScriptError";
}

/** Thrown where a needed value cannot be had for a run; `map` takes it as that run's failure. */
export class ExcludedRun extends Error {
  override name = "ExcludedRun";
  constructor(
    message: string,
    readonly node: number,
  ) {
    super(message);
  }
}

/** JSON keeps neither NaN nor infinities nor the sign of zero: they travel under names. */
export function encode(value: unknown): unknown {
  if (typeof value === "number") {
    if (Number.isFinite(value) && !Object.is(value, -0)) return value;
    return { $n: Object.is(value, -0) ? "-0" : String(value) };
  }
  if (value === null || typeof value !== "object") {
    if (typeof value === "function" || typeof value === "symbol" || typeof value === "bigint")
      throw new ScriptError(`a ${typeof value} cannot stand here`);
    return value;
  }
  if (value instanceof Lazy)
    throw new ScriptError(
      "a lazy value cannot stand inside these options; give its .value, or pass it as an argument of its own",
    );
  if (Array.isArray(value)) return value.map(encode);
  const out: Record<string, unknown> = {};
  for (const key of Object.keys(value)) {
    const v = (value as Record<string, unknown>)[key];
    if (v !== undefined) out[key] = encode(v);
  }
  return out;
}

/** The other way. */
export function decode(value: unknown): unknown {
  if (value === null || typeof value !== "object") return value;
  if (Array.isArray(value)) return value.map(decode);
  const tagged = value as { $n?: string };
  if (typeof tagged.$n === "string") return Number(tagged.$n);
  const out: Record<string, unknown> = {};
  for (const key of Object.keys(value)) out[key] = decode((value as Record<string, unknown>)[key]);
  return out;
}

/** Something that the engine computes when it is needed. */
export abstract class Lazy {
  constructor(readonly $id: number) {}
}

/** A node on its way to the host: its form's number, its inputs, its line, and its run where it reads one's file. */
export type PackedNode = [form: number, inputs: readonly number[], line: number, run: number];

let nextId = 0;
let pending: PackedNode[] = [];
/** Operations with their arguments: told to the host once, however many runs have them. */
const forms = new Map<string, number>();
let newForms: string[] = [];
const BATCH = 4000;

/**
 * Lines of the nodes that the first call of a callback made: later calls make the same ones, so they need not be found
 * again.
 */
interface Trace {
  readonly ops: string[];
  readonly lines: number[];
  at: number;
}
let trace: Trace | undefined;

/** Runs a callback for one of many runs, with line numbers learnt from the first. */
export function traced<T>(memory: Trace, run: () => T): T {
  const outer = trace;
  trace = memory;
  memory.at = 0;
  try {
    return run();
  } finally {
    trace = outer;
  }
}

export const newTrace = (): Trace => ({ ops: [], lines: [], at: 0 });

/** The line of the script that is being run: the nearest frame that is not the library's. */
export function scriptLine(): number {
  const stack = new Error().stack ?? "";
  for (const frame of stack.split("\n")) {
    const match = /(?:\(|at )((?:oxtrum:)?[^():]+):(\d+)(?::\d+)?\)?\s*$/.exec(frame);
    if (match && !match[1]!.startsWith("oxtrum:")) return lineCode(match[1]!, Number(match[2]));
  }
  return 0;
}

const modules: string[] = [];
/** Lines of sibling modules carry the module's number in the millions. */
function lineCode(file: string, line: number): number {
  let k = modules.indexOf(file);
  if (k < 0) {
    modules.push(file);
    k = modules.length - 1;
    host.log(JSON.stringify({ module: file, number: k }));
  }
  return k * 1_000_000 + line;
}

function lineOf(op: string): number {
  if (!trace) return scriptLine();
  const k = trace.at++;
  if (trace.ops[k] === op) return trace.lines[k]!;
  const line = scriptLine();
  trace.ops[k] = op;
  trace.lines[k] = line;
  return line;
}

/** Forms by a short key that their maker vouches for: spares writing the same arguments out for every run. */
const shortForms = new Map<string, number>();

/** Makes a node whose form is told by a short key; `args` is asked for the first time only. */
export function shortNode(op: string, key: string, args: () => unknown, inputs: readonly number[]): number {
  const short = op + "\u0000" + key;
  const form = shortForms.get(short);
  if (form === undefined) {
    const id = node(op, args(), inputs);
    shortForms.set(short, lastForm);
    return id;
  }
  return put([form, inputs, lineOf(op), -1]);
}

let lastForm = 0;

/** Makes a node. `run` is the number of the run whose file it reads; -1 for all others. */
export function node(op: string, args: unknown, inputs: readonly number[], run = -1): number {
  lastForm = formOf(op, args);
  return put([lastForm, inputs, lineOf(op), run]);
}

/** The number of an operation with its arguments. */
export function formOf(op: string, args: unknown): number {
  const text = JSON.stringify([op, encode(args)]);
  let form = forms.get(text);
  if (form === undefined) {
    form = forms.size;
    forms.set(text, form);
    newForms.push(text);
  }
  return form;
}

function put(packed: PackedNode): number {
  pending.push(packed);
  if (pending.length >= BATCH) flush();
  return nextId++;
}

/** Hands the nodes made so far to the host. */
export function flush(): void {
  if (pending.length === 0) return;
  const batch = JSON.stringify(pending);
  const told = `[${newForms.join()}]`;
  pending = [];
  newForms = [];
  host.nodes(`{"forms":${told},"nodes":${batch}}`);
}

/** Blocks for the value of a node. @throws ExcludedRun when it cannot be had */
export function read(id: number, what: string): unknown {
  flush();
  const answer = JSON.parse(host.read(id, what)) as { value?: unknown; failed?: string };
  if (answer.failed !== undefined) throw new ExcludedRun(answer.failed, id);
  return decode(answer.value);
}
