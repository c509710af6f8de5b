import { z } from "zod";
import { sliceRows, type Quantity, type Table } from "@oxtrum/core/tables";
import { quantityValue, tableOf, tableValue } from "../arguments.js";
import type { Operation } from "../operation.js";
import type { Outcome, Value } from "../values.js";
import type { Declared } from "./declaration.js";
import type { VerbForm } from "./form.js";
import type { Given, Parameter, Parameters, Scope } from "./parameter.js";

type Gives = "table" | "quantity";
type Result<G extends Gives> = G extends "table" ? Table : Quantity;

/**
 * A call that shows what the verb gives: the tables it is asked of, what a script gives it, and the digest of the
 * result.
 */
export interface Proof {
  readonly on: string;
  readonly given: readonly unknown[];
  readonly digest: string;
}

/** All that there is to say of a verb of tables. */
export interface TableVerbDefinition<P extends Parameters, G extends Gives> extends Declared {
  /** Raised whenever the same inputs give another result. */
  readonly version: number;
  readonly parameters: P;
  readonly gives: G;
  /**
   * Columns that the result has besides those of the table, with parameters in braces: `{name}.rate`. The type of the
   * result follows from them where `returns` does not say it.
   */
  readonly adds?: readonly string[];
  /** Several quantities of one call, by name; `execute` is told which one is wanted. */
  readonly parts?: readonly string[];
  /**
   * Which columns of its table it needs: those that its parameters name (`named`), these and what is wanted of its
   * result (`passed on`), or any.
   */
  readonly needs: "named" | "passed on" | "any";
  execute(table: Table, given: Given<P>, scope: Scope & { readonly part?: string }): Result<G>;
  /**
   * What comes of a table without rows, where that is not what `execute` gives for it; undefined when only rows can
   * tell.
   */
  foresee?(table: Table, given: Given<P>, scope: Scope): Result<G> | undefined;
  readonly proof: readonly Proof[];
}

/** A verb of tables: its operation in the graph, its form for the sandbox, its declaration in the library. */
export interface TableVerb {
  readonly form: VerbForm;
  readonly operation: Operation;
  readonly definition: TableVerbDefinition<Parameters, Gives>;
}

function schemaOf(parameters: Parameters, parts: readonly string[] | undefined): z.ZodType {
  const shapes = Object.entries(parameters).map(([name, p]) => p.shape(name));
  const part = parts ? { part: z.enum(parts as [string, ...string[]]) } : {};
  return z.object(Object.assign({}, ...shapes, part) as z.ZodRawShape);
}

/** What is foreseen has no rows: whoever comes next must not count them. */
const withoutRows = (found: Table | Quantity): Table | Quantity =>
  "columns" in found && found.rows > 0 ? { ...sliceRows(found, 0, 0), notes: [] } : found;

/** Names with the values of parameters in the place of braces. */
const filled = (templates: readonly string[], args: Scope["args"]): string[] =>
  templates.map((t) => t.replace(/\{(\w+)\}/g, (_, name: string) => String(args[name])));

/** The type of a verb's result: as it says, or from the columns that it adds. */
export function returnsOf({ definition: d }: TableVerb): string {
  if (d.returns !== undefined) return d.returns;
  if (d.gives === "quantity") return "Quantity";
  if (!d.adds) return "Table<C>";
  const generic = (name: string): string => d.parameters[name]!.setting.generic!;
  const names = d.adds.map((a) => {
    const whole = /^\{(\w+)\}$/.exec(a);
    return whole ? generic(whole[1]!) : `\`${a.replace(/\{(\w+)\}/g, (_, n: string) => `\${${generic(n)}}`)}\``;
  });
  return `Table<C & { [K in ${names.join(" | ")}]: Numbers }>`;
}

/** The columns of its table that a call names; undefined when it may need any. */
function named(parameters: Parameters, args: Scope["args"]): readonly string[] | undefined {
  const out: string[] = [];
  for (const [name, p] of Object.entries(parameters)) {
    const found = p.definition.columns(name, args);
    if (found === undefined) return undefined;
    out.push(...found);
  }
  const constants = Object.keys((args["constants"] as object | undefined) ?? {});
  return out.filter((n) => !constants.includes(n));
}

/**
 * Makes a verb from its one description.
 *
 * @example
 *   tableVerb({
 *     name: "crossings",
 *     parameters: { name: column(), level: amount(ofColumn("name")) },
 *     execute: (table, { name, level }) => crossings(table, name, level, "both"),
 *     …
 *   })
 */
export function tableVerb<const P extends Parameters, G extends Gives>(d: TableVerbDefinition<P, G>): TableVerb {
  const operation = `table.${d.name}`;
  const entries = Object.entries(d.parameters) as [string, Parameter<unknown>][];
  const resolved = (args: Scope["args"], inputs: readonly Outcome[]): [Table, Given<P>, Scope] => {
    const table = tableOf(inputs[0]);
    const scope: Scope = { verb: d.name, table, args, inputs };
    const given = Object.fromEntries(entries.map(([name, p]) => [name, p.resolve(name, scope)]));
    return [table, given as Given<P>, scope];
  };
  const schema = schemaOf(d.parameters, d.parts);
  const value = (result: Table | Quantity): Value =>
    d.gives === "table" ? tableValue(result as Table) : quantityValue(result as Quantity);
  return {
    form: {
      name: d.name,
      operation,
      gives: d.gives,
      ...(d.parts && { parts: d.parts }),
      parameters: entries.map(([name, p]) => p.form(name)),
    },
    operation: {
      name: operation,
      version: d.version,
      args: schema,
      run: (args, inputs) => {
        const [table, given, scope] = resolved(args as Scope["args"], inputs);
        const part = (args as { part?: string }).part;
        return value(d.execute(table, given, part === undefined ? scope : { ...scope, part }));
      },
      infer: (args, inputs) => {
        const [table, given, scope] = resolved(args as Scope["args"], inputs);
        const found = d.foresee
          ? d.foresee(table, given, scope)
          : d.execute(table, given, { ...scope, ...(d.parts && { part: d.parts[0]! }) });
        return found && value(withoutRows(found));
      },
      ...(d.needs !== "any" && {
        needs: (args: unknown, wanted: readonly string[] | undefined) => {
          // What does not fit is told when it is used: nothing can be said of it before.
          const own = schema.safeParse(args).success ? named(d.parameters, args as Scope["args"]) : undefined;
          if (own === undefined) return undefined;
          if (d.needs === "named") return own;
          const added = filled(d.adds ?? [], args as Scope["args"]);
          return wanted && [...own, ...wanted.filter((w) => !added.includes(w))];
        },
      }),
    },
    definition: d as unknown as TableVerbDefinition<Parameters, Gives>,
  };
}
