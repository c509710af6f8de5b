import type { VerbForm } from "../../verbs/parameters/form.js";
import { argumentsOf } from "./arguments.js";
import { flush, libraryForms, host, node, read, Lazy, shortNode, ScriptError } from "./record.js";
import { bound, Quantity } from "./quantities.js";

type Options = Record<string, unknown>;

/** Named columns with units. Its verbs come from their forms, further down; a verb never changes the table. */
export class Table extends Lazy {
  /** The file that this is, as it is read, where it lies beside the runs. */
  $file: Record<string, unknown> | undefined;
  against(reference: Table | string, options: Options): Agreement {
    return agreement(this, reference, options);
  }
  columns(query: Options = {}): string[] {
    flush();
    const answer = JSON.parse(host.columns(this.$id)) as { error?: string; heads?: unknown };
    if (answer.error !== undefined) throw new ScriptError(answer.error);
    return JSON.parse(host.arithmetic(JSON.stringify({ op: "columns", heads: answer.heads, query }))) as string[];
  }
  values(name: string): number[] {
    return read(this.$id, "values:" + name) as number[];
  }
  get rowCount(): number {
    return (read(this.$id, "rows") as { rows: number }).rows;
  }
}

/** Text by which a call is known again whose arguments are words and numbers only: most of them, run after run. */
function shortKey(given: readonly unknown[]): string | undefined {
  let key = "";
  for (const v of given) {
    if (typeof v === "string") key += "s" + v + "\u0000";
    else if (typeof v === "number" && v === v && v !== 0) key += "n" + v + "\u0000";
    else return undefined;
  }
  return key;
}

/** Calls a verb on a table, from its form. */
function callVerb(verb: VerbForm, table: Table, given: readonly unknown[]): unknown {
  const make = (part?: string): Table | Quantity => {
    const short = shortKey(given);
    // A word can be a quantity's text, which then is an input of its own: known again only where it is none.
    let id: number;
    if (short !== undefined && !verb.parameters.some((p) => p.kind === "quantity"))
      id = shortNode(verb.operation, `${part ?? ""}\u0000${short}`, () => argumentsIn(part).args, [table.$id]);
    else {
      const { args, inputs } = argumentsIn(part);
      id = node(verb.operation, args, [table.$id, ...inputs]);
    }
    return verb.gives === "table" ? new Table(id) : new Quantity(id);
  };
  const argumentsIn = (part: string | undefined): ReturnType<typeof argumentsOf> => {
    const call = argumentsOf(verb, given);
    return part === undefined ? call : { ...call, args: { ...call.args, part } };
  };
  if (!verb.parts) return make();
  const out: Options = {};
  for (const part of verb.parts) out[part] = make(part);
  return out;
}

for (const verb of libraryForms.tableVerbs)
  Object.defineProperty(Table.prototype, verb.name, {
    value: function (this: Table, ...given: unknown[]) {
      return callVerb(verb, this, given);
    },
  });

/** A verb of a table by its name, for what is made of verbs. */
const asked = (table: Table, verb: string, ...given: unknown[]): Table =>
  (table as unknown as Record<string, (...given: unknown[]) => Table>)[verb]!(...given);

/** How a column agrees with a reference: the numbers, and both side by side. */
export class Agreement {
  constructor(
    readonly $inputs: readonly [number, number],
    readonly $request: Options,
  ) {}
  #measure(what: string): Quantity {
    return new Quantity(node("against.measure", { ...this.$request, what }, this.$inputs));
  }
  bias(): Quantity {
    return this.#measure("bias");
  }
  rms(): Quantity {
    return this.#measure("rms");
  }
  largest(): Quantity {
    return this.#measure("largest");
  }
  within(): Quantity {
    return this.#measure("within");
  }
  shift(): Quantity {
    return this.#measure("shift");
  }
  correlation(): Quantity {
    return this.#measure("correlation");
  }
  side(): Table {
    return new Table(node("against.side", this.$request, this.$inputs));
  }
  summary(): Table {
    return new Table(node("against.summary", this.$request, this.$inputs));
  }
}

/** Makes the request of a comparison; the reference is a table, or a formula over the table's own columns. */
function agreement(table: Table, reference: Table | string, options: Options): Agreement {
  const { within, shift, maxLag, with: values, ...rest } = options;
  const tolerance = within as Options | undefined;
  const request: Options = {
    ...rest,
    ...(within !== undefined && {
      within:
        tolerance !== null && typeof tolerance === "object" && "relative" in tolerance && !(within instanceof Quantity)
          ? { relative: bound(tolerance["relative"]) }
          : { amount: bound(within) },
    }),
    ...(shift !== undefined && { shift: shift === "estimate" ? shift : bound(shift) }),
    ...(maxLag !== undefined && { maxLag: bound(maxLag) }),
  };
  if (typeof reference !== "string") return new Agreement([table.$id, reference.$id], request);
  const named = asked(table, "derive", "the formula", reference, ...(values === undefined ? [] : [{ with: values }]));
  return new Agreement([table.$id, named.$id], { ...request, reference: "the formula" });
}
