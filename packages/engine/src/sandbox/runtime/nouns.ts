import type { MethodForm } from "../../verbs/parameters/form.js";
import { argumentsOf } from "./arguments.js";
import { node } from "./record.js";

type Options = Record<string, unknown>;

/** Makes what a node gives: a table or a quantity. */
let result: (gives: MethodForm["gives"], id: number) => unknown;
export const resultsAre = (make: typeof result): void => void (result = make);

/** What is asked for more than once: a request that all its methods share, and the nodes that it is about. */
export class Noun {
  constructor(
    readonly $request: Options,
    readonly $inputs: readonly number[],
  ) {}
}

/** Asks for an operation: what the noun requests, what the method fixes, what the script gives. */
function ask(form: MethodForm, noun: Noun, given: readonly unknown[]): unknown {
  const { args, inputs } = argumentsOf(form, given, noun.$inputs.length);
  const make = (fixed: Options | undefined): unknown =>
    result(form.gives, node(form.operation, { ...noun.$request, ...args, ...fixed }, [...noun.$inputs, ...inputs]));
  if (!form.parts) return make(form.fixed);
  const out: Options = {};
  for (const name of Object.keys(form.parts)) out[name] = make(form.parts[name]);
  return out;
}

/** Gives a noun its methods, from their forms. */
export function addMethods(noun: typeof Noun, forms: readonly MethodForm[]): void {
  for (const form of forms)
    Object.defineProperty(noun.prototype, form.name, {
      value: function (this: Noun, ...given: unknown[]) {
        return ask(form, this, given);
      },
    });
}

const nothing = new Noun({}, []);

/** A function of the library, from its form. */
export const functionOf =
  (form: MethodForm): ((...given: unknown[]) => unknown) =>
  (...given) =>
    ask(form, nothing, given);
