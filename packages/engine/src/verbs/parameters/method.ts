import { z } from "zod";
import type { Operation } from "../operation.js";
import type { Outcome } from "../values.js";
import type { Declared } from "./declaration.js";
import type { MethodForm } from "./form.js";
import type { Given, Parameter, Parameters, Scope } from "./parameter.js";

type Fixed = Readonly<Record<string, unknown>>;

/**
 * A method of a noun that is not a table (a fit, an agreement, a law), or a function of the library: what it is called,
 * and what it fixes of the operation that several methods share.
 */
export interface MethodDefinition {
  readonly name: string;
  readonly doc: string;
  readonly examples: readonly string[];
  readonly fixed?: Fixed;
  /** Several results of one call, by name, with what each fixes. */
  readonly parts?: Readonly<Record<string, Fixed>>;
  /** The type of its result. */
  readonly returns: string;
  readonly generics?: readonly string[];
}

/** An operation with the methods that ask for it. */
export interface AskedOperation {
  readonly operation: Operation;
  readonly methods: readonly (Declared & { readonly returns: string })[];
  readonly forms: readonly MethodForm[];
}

/** The fields of parameters among the arguments of an operation. */
export const shapeOf = (parameters: Parameters): z.ZodRawShape =>
  Object.assign({}, ...Object.entries(parameters).map(([name, p]) => p.shape(name))) as z.ZodRawShape;

/** What `execute` is given for the parameters, from the arguments and inputs of an operation. */
export function resolved<P extends Parameters>(parameters: P, scope: Scope): Given<P> {
  const entries = Object.entries(parameters) as [string, Parameter<unknown>][];
  return Object.fromEntries(entries.map(([name, p]) => [name, p.resolve(name, scope)])) as Given<P>;
}

/** Puts methods to an operation: their forms for the sandbox and their declarations. */
export function asked(
  operation: Operation,
  gives: MethodForm["gives"],
  parameters: Parameters,
  methods: readonly MethodDefinition[],
): AskedOperation {
  return {
    operation,
    methods: methods.map(({ name, doc, examples, returns, generics }) => ({
      name,
      doc,
      examples,
      returns,
      parameters,
      ...(generics && { generics }),
    })),
    forms: methods.map(({ name, fixed, parts }) => ({
      name,
      operation: operation.name,
      gives,
      ...(fixed && { fixed }),
      ...(parts && { parts }),
      parameters: Object.entries(parameters).map(([p, parameter]) => parameter.form(p)),
    })),
  };
}

/** What parameters without a table of their own are resolved against. */
export const scopeWithoutTable = (verb: string, args: unknown, inputs: readonly Outcome[]): Scope => ({
  verb,
  table: { columns: [], rows: 0, notes: [] },
  args: args as Scope["args"],
  inputs,
});
