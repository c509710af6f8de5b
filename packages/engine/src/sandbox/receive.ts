import { z } from "zod";
import { dictionary } from "../dictionary.js";
import { operations } from "../verbs/registry.js";
import { emitWords } from "../verbs/emit/index.js";
import { namingSchema } from "./naming-schema.js";
import type { Emission, FromSandbox, SandboxSetup, ScriptListener } from "./protocol.js";

/**
 * The one place where what a script tells is taken in. A script can be wrong in any way, and its interpreter with it:
 * nothing that it sends is believed before it has been parsed here.
 */

/** A message that is none: a mistake of the script, at its line where that is known. */
export class MessageError extends Error {
  override readonly name = "MessageError";
  constructor(
    message: string,
    readonly line = 0,
  ) {
    super(message);
  }
}

const whole = z
  .number()
  .int()
  .min(0)
  .max(2 ** 40);
const emission = z.object({
  kind: z.enum(["naming", ...emitWords.map((w) => w.name)]),
  name: z.string().max(10_000),
  node: whole.nullable(),
  options: dictionary(z.unknown()),
  line: whole,
});

const message = z.discriminatedUnion("type", [
  z.object({ type: z.literal("nodes"), json: z.string() }),
  z.object({ type: z.literal("emit"), emission }),
  z.object({ type: z.literal("input"), name: z.string().min(1).max(1000), value: z.unknown(), fallback: z.unknown() }),
  z.object({ type: z.literal("module"), file: z.string(), number: whole.max(10_000) }),
  z.object({ type: z.literal("mapping"), study: z.string(), runs: z.array(whole) }),
  z.object({ type: z.literal("read"), id: whole, what: z.string().max(10_000) }),
  z.object({ type: z.literal("columns"), id: whole }),
  z.object({ type: z.literal("done"), stays: z.boolean().optional() }),
  z.object({
    type: z.literal("error"),
    message: z.string(),
    file: z.string(),
    line: whole,
    dry: z.boolean().optional(),
    stays: z.boolean().optional(),
  }),
]);

const form = z.tuple([z.string(), z.unknown()]);
const batch = z.object({ forms: z.array(form), nodes: z.array(z.unknown()) });

const isIndex = (v: unknown, below: number): v is number =>
  typeof v === "number" && Number.isInteger(v) && v >= 0 && v < below;

/** Reads a message. @throws MessageError for one that is none */
export function parseMessage(given: unknown): FromSandbox {
  const parsed = message.safeParse(given);
  if (parsed.success) return parsed.data as FromSandbox;
  const line = (given as { emission?: { line?: unknown } } | null)?.emission?.line;
  throw new MessageError(explained(parsed.error), typeof line === "number" ? line : 0);
}

const explained = (e: z.ZodError): string =>
  `the script told the engine what it cannot take: ${e.issues[0]!.path.join(".")}: ${e.issues[0]!.message}`;

/** An emission as the engine takes it. @throws MessageError at the line of the `emit` */
export function checkEmission(e: Emission, nodes: number): Emission {
  if (e.node !== null && e.node >= nodes) throw new MessageError(`emit.${e.kind}: node ${e.node} is not there`, e.line);
  if (e.kind !== "naming") return e;
  const rule = namingSchema.safeParse(e.options);
  if (rule.success) return e;
  const [issue] = rule.error.issues;
  throw new MessageError(`emit.naming: ${issue!.path.join(".")}: ${issue!.message}`, e.line);
}

/** Takes nodes in, as the script's recorder packs them. */
export class NodeReceiver {
  #forms = 0;
  #next = 0;

  constructor(
    private readonly listener: ScriptListener,
    private readonly setup: SandboxSetup,
  ) {}

  get count(): number {
    return this.#next;
  }

  /** @throws MessageError for a batch that names what is not there */
  take(json: string): void {
    let parsed: z.infer<typeof batch>;
    try {
      parsed = batch.parse(JSON.parse(json));
    } catch (e) {
      throw new MessageError(
        e instanceof z.ZodError ? explained(e) : `the script's operations cannot be read: ${(e as Error).message}`,
      );
    }
    for (const [op, args] of parsed.forms) {
      if (op !== "constant" && !operations.has(op))
        throw new MessageError(`there is no operation "${op.slice(0, 100)}"`);
      this.listener.form(op, revive(args));
      this.#forms++;
    }
    for (const n of parsed.nodes) this.#node(n);
  }

  #node(given: unknown): void {
    const [number, inputs, line, run] = Array.isArray(given) ? (given as unknown[]) : [];
    if (!Array.isArray(inputs)) throw new MessageError("an operation cannot be read");
    this.#add(number, inputs as unknown[], line, run);
  }

  #add(number: unknown, inputs: readonly unknown[], line: unknown, run: unknown): void {
    if (!isIndex(number, this.#forms) || !isIndex(line, Infinity))
      throw new MessageError("an operation cannot be read");
    if (!(typeof run === "number" && Number.isInteger(run) && run >= -1 && run < 2 ** 31))
      throw new MessageError("an operation names a run that is not there", line);
    for (const i of inputs)
      if (!isIndex(i, this.#next)) throw new MessageError("an operation names an input that is not there", line);
    this.listener.node(number, inputs as number[], line, run);
    this.#next++;
  }

  /** @throws MessageError for runs that a study does not have */
  checkMapping(study: string, runs: readonly number[]): void {
    const s = Object.hasOwn(this.setup.studies, study) ? this.setup.studies[study]! : undefined;
    const known = new Set(s?.runs.map((r) => r.index));
    if (!s || !runs.every((r) => known.has(r))) throw new MessageError(`the script names runs that are not there`);
  }

  checkNode(id: number): void {
    if (!isIndex(id, this.#next)) throw new MessageError(`the script asks for node ${id}, which is not there`);
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
