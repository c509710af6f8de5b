import type { z } from "zod";
import type { Table } from "@oxtrum/core/tables";
import type { Outcome } from "../values.js";
import type { ParameterForm, ParameterKind } from "./form.js";

/** What a parameter's value is resolved against. */
export interface Scope {
  readonly verb: string;
  /** The table that the verb is asked of. */
  readonly table: Table;
  readonly args: Readonly<Record<string, unknown>>;
  readonly inputs: readonly Outcome[];
}

interface Definition<T> {
  readonly kind: ParameterKind;
  /** Its fields among the arguments of the operation. */
  shape(name: string): Record<string, z.ZodType>;
  /** As it stands in the library's declarations. */
  readonly type: string;
  /** What `execute` is given for it: amounts as numbers in the right unit, formulas as trees, inputs as values. */
  resolve(name: string, scope: Scope): T;
  /** The columns of the verb's own table that it names; undefined when it may need any. */
  columns(name: string, args: Scope["args"]): readonly string[] | undefined;
  readonly words?: readonly string[];
}

interface Setting {
  readonly place: ParameterForm["place"];
  readonly called?: string;
  readonly fallback?: unknown;
  readonly isOptional: boolean;
  readonly generic?: string;
  readonly genericDefault?: string;
}

/**
 * A parameter of a verb. It is described once: from it come the method that scripts call, the check of what is given,
 * the conversion of units, the columns that have to be read, and the declaration with its completions.
 *
 * @example column().generic("N"), amount(ofAxis()).option().optional().called("for")
 */
export class Parameter<T> {
  constructor(
    readonly definition: Definition<T>,
    readonly setting: Setting = { place: "position", isOptional: false },
  ) {}
  #set<U = T>(s: Partial<Setting>): Parameter<U> {
    return new Parameter(this.definition as unknown as Definition<U>, { ...this.setting, ...s });
  }
  /** Stands in the object of options, behind the parameters with a place. */
  option(): Parameter<T> {
    return this.#set({ place: "option" });
  }
  optional(): Parameter<T | undefined> {
    return this.#set<T | undefined>({ isOptional: true });
  }
  /** Is this where a script gives nothing. */
  otherwise(fallback: unknown): Parameter<T> {
    return this.#set({ fallback, isOptional: true });
  }
  /** Has another name in scripts than among the arguments. */
  called(called: string): Parameter<T> {
    return this.#set({ called });
  }
  /** As many as are given, one by one or in lists. */
  rest(): Parameter<T> {
    return this.#set({ place: "rest" });
  }
  /** Its type is a type variable, which the type of the result may use. */
  generic(generic: string, genericDefault?: string): Parameter<T> {
    return this.#set({ generic, ...(genericDefault !== undefined && { genericDefault }) });
  }

  shape(name: string): Record<string, z.ZodType> {
    const shape = this.definition.shape(name);
    if (!this.setting.isOptional) return shape;
    const { fallback } = this.setting;
    return Object.fromEntries(
      Object.entries(shape).map(([k, s]) => [k, fallback === undefined ? s.optional() : s.default(fallback)]),
    );
  }
  resolve(name: string, scope: Scope): T {
    return this.definition.resolve(name, scope);
  }
  form(name: string): ParameterForm {
    const { place, called = name, fallback } = this.setting;
    const { kind, words } = this.definition;
    return { name, called, kind, place, ...(fallback !== undefined && { fallback }), ...(words && { words }) };
  }
}

/** Parameters by name, in the order in which a script gives them. */
export type Parameters = Readonly<Record<string, Parameter<unknown>>>;

/** What `execute` is given for parameters. */
export type Given<P extends Parameters> = { readonly [K in keyof P]: P[K] extends Parameter<infer T> ? T : never };
