import type { VerbForm } from "../../verbs/parameters/form.js";
import { argumentsOf } from "./arguments.js";
import { addMethods, Noun, resultsAre } from "./nouns.js";
import { flush, libraryForms, host, node, read, Lazy, shortNode, ScriptError } from "./record.js";
import { Quantity } from "./quantities.js";

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

resultsAre((gives, id) => (gives === "table" ? new Table(id) : new Quantity(id)));

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

/** How a column agrees with a reference: the numbers, and both side by side. Its methods come from their forms. */
export class Agreement extends Noun {
  declare readonly summary: () => Table;
}
addMethods(Agreement, libraryForms.methods.agreement);

/** Makes the request of a comparison; the reference is a table, or a formula over the table's own columns. */
function agreement(table: Table, reference: Table | string, options: Options): Agreement {
  const { with: values, ...rest } = options;
  const { args: request } = argumentsOf(libraryForms.against, [rest]);
  if (typeof reference !== "string") return new Agreement(request, [table.$id, reference.$id]);
  const named = asked(table, "derive", "the formula", reference, ...(values === undefined ? [] : [{ with: values }]));
  return new Agreement({ ...request, reference: "the formula" }, [table.$id, named.$id]);
}
