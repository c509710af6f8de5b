import type { CallForm, ParameterForm } from "../../verbs/parameters/form.js";
import { bound, constantInput, keyValue, lawInput, Quantity, toQuantity } from "./quantities.js";
import { Lazy, ScriptError } from "./record.js";

type Options = Record<string, unknown>;

/** Arguments of an operation, and the nodes that it takes besides the one that it is asked of. */
export interface Call {
  readonly args: Options;
  readonly inputs: number[];
  /** How many inputs the noun has that is asked: those of the call are counted behind them. */
  readonly first: number;
}

/** Several of a verb's arguments at once go in under their own names, all others under that of their parameter. */
type Encode = (p: ParameterForm, value: unknown, call: Call, verb: string) => void;

const put = (p: ParameterForm, value: unknown, call: Call): void => void (call.args[p.name] = value);
const amountOf = (p: ParameterForm, v: unknown): unknown =>
  typeof v === "string" && p.words?.includes(v) ? v : bound(v);
const byName = (value: unknown, each: (v: unknown) => unknown): Options => {
  const out: Options = {};
  for (const k of Object.keys((value ?? {}) as Options)) out[k] = each((value as Options)[k]);
  return out;
};
const nodeOf = (v: unknown, verb: string, what: string): number => {
  if (v instanceof Lazy && !(v instanceof Quantity)) return v.$id;
  throw new ScriptError(`${verb} takes ${what}`);
};

/** A quantity, its text or a bare number; one that is not known yet is an input. */
const quantityInput = (v: unknown, call: Call): unknown =>
  lawInput(toQuantity(v as Quantity | string | number), call.inputs, call.first);

/** How each kind of parameter is handed over. */
const encoders: Readonly<Record<ParameterForm["kind"], Encode>> = {
  plain: put,
  list: (p, v, call) => put(p, Array.isArray(v) ? v : [v], call),
  amount: (p, v, call) => put(p, amountOf(p, v), call),
  amounts: (p, v, call) => put(p, Array.isArray(v) ? v.map(bound) : v, call),
  "amounts by name": (p, v, call) => {
    if (typeof v === "string" && p.words?.includes(v)) return put(p, v, call);
    put(
      p,
      byName(v, (x) => (Array.isArray(x) ? x.map(bound) : bound(x))),
      call,
    );
  },
  key: (p, v, call) => put(p, byName(v, keyValue), call),
  condition: (_, v, call) => {
    if (typeof v === "string") call.args["formula"] = v;
    else call.args["equal"] = byName(v, keyValue);
  },
  constants: (_, v, call) => {
    call.args["constants"] = byName(v, (x) => constantInput(x, call.inputs, call.first));
  },
  "law inputs": (p, v, call) =>
    put(
      p,
      byName(v, (x) => lawInput(x, call.inputs, call.first)),
      call,
    ),
  given: (p, v, call) => put(p, quantityInput(v, call), call),
  quantity: (_, v, call, verb) => {
    if (!(v instanceof Quantity) && typeof v !== "string")
      throw new ScriptError(`${verb} takes a quantity or its text, as in ${verb}("20 s")`);
    call.inputs.push(toQuantity(v).$id);
  },
  table: (_, v, call, verb) => void call.inputs.push(nodeOf(v, verb, "another table")),
  places: (p, v, call, verb) => {
    if (!(v instanceof Lazy)) return put(p, v, call);
    // A table of places is read before the field is: it can only be one that lies beside the runs.
    const { $file: file } = v as { $file?: unknown };
    if (file === undefined)
      throw new ScriptError(
        `${verb}: a table of places has to be one beside the runs, as it is read: study(…).table(…)`,
      );
    put(p, file, call);
  },
  tolerance: (p, v, call) => {
    const isRelative = v !== null && typeof v === "object" && !(v instanceof Quantity) && "relative" in v;
    put(p, isRelative ? { relative: bound((v as Options)["relative"]) } : { amount: bound(v) }, call);
  },
  "quantities by name": (p, v, call) =>
    put(
      p,
      byName(v, (x) => quantityInput(x, call)),
      call,
    ),
  stretch: (p, v, call) => {
    const over = Object.keys(v as Options).filter((k) => Array.isArray((v as Options)[k]));
    const [name] = over;
    if (over.length !== 1 || name === undefined)
      throw new ScriptError("law: a curve runs over one input, given as [from, to], as in { Re: [4000, 1e5] }");
    const { [name]: range, ...others } = v as Options;
    const [from, to] = (range as unknown[]).map((x) => quantityInput(x, call));
    Object.assign(call.args, { over: name, from, to, [p.name]: byName(others, (x) => quantityInput(x, call)) });
  },
  "tables by name": (_, v, call, verb) => {
    call.args["names"] = Object.keys((v ?? {}) as Options);
    for (const [name, t] of Object.entries((v ?? {}) as Options)) {
      if (!(t instanceof Lazy) || t instanceof Quantity) throw new ScriptError(`${verb}: "${name}" is not a table`);
      call.inputs.push(t.$id);
    }
  },
  tables: (_, v, call, verb) => {
    for (const t of v as unknown[]) call.inputs.push(nodeOf(t, verb, "tables"));
  },
};

function optionsOf(verb: CallForm, given: unknown): Options {
  if (given === undefined) return {};
  const known = verb.parameters.filter((p) => p.place === "option").map((p) => p.called);
  if (known.length === 0) throw new ScriptError(`${verb.name} takes no more than it has been given`);
  if (given === null || typeof given !== "object" || Array.isArray(given) || given instanceof Lazy)
    throw new ScriptError(`${verb.name}: options stand in braces, as in { ${known[0]}: … }`);
  for (const name of Object.keys(given))
    if (!known.includes(name))
      throw new ScriptError(
        `${verb.name} has no option "${name}"; there is ${known.map((k) => JSON.stringify(k)).join(", ")}`,
      );
  return given as Options;
}

/**
 * What a script gives a verb as the arguments and inputs of its operation. @throws ScriptError for what does not fit
 */
export function argumentsOf(verb: CallForm, given: readonly unknown[], first = 1): Call {
  const call: Call = { args: {}, inputs: [], first };
  const placed = verb.parameters.filter((p) => p.place === "position");
  const rest = verb.parameters.find((p) => p.place === "rest");
  const options = optionsOf(verb, rest ? undefined : given[placed.length]);
  let at = 0;
  for (const p of verb.parameters) {
    const value =
      p.place === "option" ? options[p.called] : p.place === "rest" ? given.slice(placed.length).flat() : given[at++];
    const used = value === undefined ? p.fallback : value;
    if (used !== undefined || p.kind === "constants") encoders[p.kind](p, used, call, verb.name);
  }
  return call;
}
