import { z } from "zod";
import { dictionary } from "../../dictionary.js";
import {
  axisOf,
  column as columnOf,
  formulaNames,
  numbers,
  parseUnit,
  powerUnit,
  type FormulaTree,
  type Spacing,
  type UnitSymbol,
} from "@oxtrum/core/tables";
import {
  baselineKey,
  boundArg,
  boundIn,
  constantsArg,
  constantsOf,
  formulaArg,
  treeOf,
  type Bound,
} from "../arguments.js";
import type { ParameterKind } from "./form.js";
import { Parameter, type Scope } from "./parameter.js";

export const none = (): readonly string[] => [];
export const given = <T>(name: string, s: Scope): T => s.args[name] as T;

/** A parameter that is taken as it is given; see {@link ParameterKind} for how it is handed over. */
export function plain<T>(
  schema: z.ZodType<T>,
  type: string,
  columns: (value: unknown) => readonly string[] = none,
  kind: ParameterKind = "plain",
): Parameter<T> {
  return new Parameter<T>({
    kind,
    shape: (name) => ({ [name]: schema }),
    type,
    resolve: given,
    columns: (name, args) => columns(args[name]),
  });
}

type ColumnKind = "number" | "any";
const nameType = (kind: ColumnKind, of = "C"): string => (kind === "number" ? `NumberName<${of}>` : `Name<${of}>`);
/** Names among what a script gives, before it has been checked. */
const listed = (v: unknown): readonly string[] =>
  (Array.isArray(v) ? (v as unknown[]) : [v]).filter((n): n is string => typeof n === "string");

/** The name of a column. */
export const column = (kind: ColumnKind = "number"): Parameter<string> => plain(z.string(), nameType(kind), listed);
/** A list of names of columns. */
export const columns = (kind: ColumnKind = "number"): Parameter<string[]> =>
  plain(z.array(z.string()), `${nameType(kind)}[]`, listed);
/** One name of a column, or a list of them. */
export const oneOrMoreColumns = (kind: ColumnKind = "number"): Parameter<string[]> =>
  plain(z.array(z.string()), nameType(kind), listed, "list");
/** Names of columns, as many as are given, one by one or in lists. */
export const columnsGiven = (kind: ColumnKind = "number"): Parameter<string[]> =>
  plain(z.array(z.string()), nameType(kind), listed).rest();
/** The name of a column of the other table. */
export const otherColumn = (): Parameter<string> => plain(z.string(), nameType("number", "D"));
/** A name that the verb gives to a column. */
export const newName = (): Parameter<string> => plain(z.string(), "string");
export const text = (type = "string"): Parameter<string> => plain(z.string(), type);
export const flag = (): Parameter<boolean> => plain(z.boolean(), "boolean");
export const number = (schema: z.ZodNumber = z.number()): Parameter<number> => plain(schema, "number");
export const numberList = (schema: z.ZodType<number[]>): Parameter<number[]> => plain(schema, "number[]");
/** One of several numbers that are known by name in the declarations, such as `2 | 4 | 6 | 8`. */
export const numberOf = (type: string): Parameter<number> => plain(z.number(), type);
export const choice = <const W extends string>(...words: readonly [W, ...W[]]): Parameter<W> =>
  plain(z.enum(words) as unknown as z.ZodType<W>, words.map((w) => JSON.stringify(w)).join(" | "));
/** Choices out of a list that has a name in the declarations. */
export const choices = <W extends string>(words: readonly [W, ...W[]], type: string): Parameter<W[]> =>
  plain(z.array(z.enum(words)) as unknown as z.ZodType<W[]>, `${type}[]`);
export const choiceOf = <W extends string>(words: readonly [W, ...W[]], type: string): Parameter<W> =>
  plain(z.enum(words) as unknown as z.ZodType<W>, type);
/** New names of columns by their old ones. */
export const renames = (): Parameter<Record<string, string>> =>
  new Parameter<Record<string, string>>({
    kind: "plain",
    shape: (name) => ({ [name]: dictionary(z.string()) }),
    type: "{ [K in Names<C>]?: string }",
    resolve: given,
    columns: () => undefined,
  });

type WeightsArg = "axis" | "none" | { by: string };
/** How values count in a mean. */
export const weights = (): Parameter<WeightsArg> =>
  plain<WeightsArg>(z.union([z.enum(["axis", "none"]), z.strictObject({ by: z.string() })]), "Weights<C>", (v) =>
    listed((v as { by?: unknown } | null | undefined)?.by),
  );

/** In what unit a bare number is meant, and into what unit an amount is brought. */
export type UnitOf = (s: Scope) => UnitSymbol;
/** The unit of the column that another parameter names. */
export const ofColumn =
  (parameter: string): UnitOf =>
  (s) =>
    numbers(s.table, given(parameter, s)).unit;
/** The unit of the axis, or of the column that a parameter names in its place. */
export const ofAxis =
  (parameter?: string): UnitOf =>
  (s) =>
    axisOf(s.table, parameter === undefined ? undefined : given(parameter, s)).unit;
/** One over the unit of the axis. */
export const ofFrequency = (): UnitOf => (s) => {
  const { unit } = axisOf(s.table);
  return unit === null ? null : powerUnit(parseUnit(unit), -1).symbol;
};

export const converted = (b: Bound, name: string, s: Scope, unit: UnitSymbol, step: boolean): number =>
  boundIn(b, unit, `${s.verb}: ${name}`, step);

/**
 * A quantity, its text, or a bare number: what `execute` gets is a number in the right unit.
 *
 * @param step a length or difference: offsets of temperatures are left out
 */
export const amount = (unitOf: UnitOf, step = false): Parameter<number> =>
  new Parameter<number>({
    kind: "amount",
    shape: (name) => ({ [name]: boundArg }),
    type: "Amount",
    resolve: (name, s) =>
      (s.args[name] === undefined ? undefined : converted(given(name, s), name, s, unitOf(s), step)) as number,
    columns: none,
  });
/** An amount, or one of some words. */
export const amountOr = <const W extends string>(
  unitOf: UnitOf,
  ...words: readonly [W, ...W[]]
): Parameter<number | W> => amountAmong(unitOf, words, false);
/** A length or difference, or one of some words. */
export const stepOr = <const W extends string>(unitOf: UnitOf, ...words: readonly [W, ...W[]]): Parameter<number | W> =>
  amountAmong(unitOf, words, true);
const amountAmong = <const W extends string>(
  unitOf: UnitOf,
  words: readonly [W, ...W[]],
  step: boolean,
): Parameter<number | W> =>
  new Parameter<number | W>({
    kind: "amount",
    words,
    shape: (name) => ({ [name]: z.union([boundArg, z.enum(words)]) }),
    type: ["Amount", ...words.map((w) => JSON.stringify(w))].join(" | "),
    resolve: (name, s) => {
      const v = given<Bound | W>(name, s);
      if (v === undefined || typeof v === "string") return v as W;
      return converted(v, name, s, unitOf(s), step);
    },
    columns: none,
  });
/** How far values may be apart: an amount, or a part of the value. */
export type Tolerance = { readonly amount: number } | { readonly relative: number };
const toleranceArg = z.union([z.object({ amount: boundArg }), z.object({ relative: boundArg })]);
export const tolerance = (unitOf: UnitOf): Parameter<Tolerance> =>
  new Parameter<Tolerance>({
    kind: "tolerance",
    shape: (name) => ({ [name]: toleranceArg }),
    type: "Amount | { relative: Amount }",
    resolve: (name, s) => {
      const v = given<z.infer<typeof toleranceArg> | undefined>(name, s);
      if (v === undefined) return undefined as unknown as Tolerance;
      return "amount" in v
        ? { amount: converted(v.amount, name, s, unitOf(s), true) }
        : { relative: converted(v.relative, name, s, "1", false) };
    },
    columns: none,
  });
/** Amounts by name, each in the unit that it is given in. */
export const boundsByName = (type: string): Parameter<Readonly<Record<string, Bound>>> =>
  new Parameter<Readonly<Record<string, Bound>>>({
    kind: "amounts by name",
    shape: (name) => ({ [name]: dictionary(boundArg) }),
    type,
    resolve: given,
    columns: none,
  });
const manyAmounts = <T extends readonly number[]>(schema: z.ZodType, type: string, unitOf: UnitOf): Parameter<T> =>
  new Parameter<T>({
    kind: "amounts",
    shape: (name) => ({ [name]: schema }),
    type,
    resolve: (name, s) =>
      given<Bound[] | undefined>(name, s)?.map((b) => converted(b, name, s, unitOf(s), false)) as unknown as T,
    columns: none,
  });
/** From one amount to another. */
export const range = (unitOf: UnitOf): Parameter<readonly [number, number]> =>
  manyAmounts(z.tuple([boundArg, boundArg]), "[Amount, Amount]", unitOf);
export const amounts = (unitOf: UnitOf): Parameter<number[]> => manyAmounts(z.array(boundArg), "Amount[]", unitOf);

const spacingArg = z.union([
  z.object({ step: boundArg, from: boundArg.optional(), to: boundArg.optional() }),
  z.object({ at: z.array(boundArg) }),
  z.object({ count: z.number() }),
]);
/** Places on an axis: by steps, one by one, or so many. */
export const spacing = (unitOf: UnitOf): Parameter<Spacing> =>
  new Parameter<Spacing>({
    kind: "amounts by name",
    shape: (name) => ({ [name]: spacingArg }),
    type: "{ step: Amount; from?: Amount; to?: Amount } | { at: Amount[] } | { count: number }",
    resolve: (name, s) => {
      const v = given<z.infer<typeof spacingArg>>(name, s);
      const at = (b: Bound, step = false): number => converted(b, name, s, unitOf(s), step);
      if ("at" in v) return { at: v.at.map((b) => at(b)) };
      if ("count" in v) return v;
      return {
        step: at(v.step, true),
        ...(v.from !== undefined && { from: at(v.from) }),
        ...(v.to !== undefined && { to: at(v.to) }),
      };
    },
    columns: none,
  });

/** A row by values of some of its columns, as in `{ fan: 75 }`. */
export const key = (): Parameter<Record<string, string | number>> =>
  new Parameter<Record<string, string | number>>({
    kind: "key",
    shape: (name) => ({ [name]: dictionary(z.union([boundArg, z.string()])) }),
    type: "{ [K in Names<C>]?: number | string | Quantity }",
    resolve: (name, s) => baselineKey(s.table, given(name, s)),
    columns: (name, args) => Object.keys((args[name] as object | undefined) ?? {}),
  });

const namesIn = (f: unknown): readonly string[] | undefined => {
  const { tree } = (f ?? {}) as { tree?: FormulaTree };
  return tree && formulaNames(tree);
};

/** A formula of columns. */
export const formula = (): Parameter<{ readonly text: string; readonly tree: FormulaTree }> =>
  new Parameter<{ readonly text: string; readonly tree: FormulaTree }>({
    kind: "plain",
    shape: (name) => ({ [name]: formulaArg }),
    type: "string",
    resolve: (name, s) => {
      const f = given<z.infer<typeof formulaArg>>(name, s);
      return { text: f.text, tree: treeOf(f) };
    },
    columns: (name, args) => namesIn(args[name]),
  });

export type Constants = Record<string, { value: number; unit: UnitSymbol }>;
/** Quantities by name that a formula may use; whether they are known or not. */
export const constants = (): Parameter<Constants> =>
  new Parameter<Constants>(
    {
      kind: "constants",
      shape: () => ({ constants: constantsArg }),
      type: "{ [name: string]: Amount }",
      resolve: (name, s) => constantsOf(given(name, s), s.inputs),
      columns: none,
    },
    { place: "position", isOptional: true },
  );

const equalArg = z.record(
  z.string(),
  z.union([boundArg, z.string(), z.array(z.union([boundArg, z.string()])), z.null()]),
);
type Equal = Record<string, string | number | null | (string | number | null)[]>;
/** Which rows: by a formula, or by values of columns. */
export type RowCondition =
  | { readonly formula: { readonly text: string; readonly tree: FormulaTree } }
  | { readonly equal: Equal };

export const condition = (): Parameter<RowCondition> =>
  new Parameter<RowCondition>({
    kind: "condition",
    shape: () => ({ formula: formulaArg.optional(), equal: equalArg.optional() }),
    type: "string | { [K in Names<C>]?: number | string | Quantity | (number | string)[] }",
    resolve: (_, s) => {
      const { formula, equal } = s.args as { formula?: z.infer<typeof formulaArg>; equal?: z.infer<typeof equalArg> };
      if (formula !== undefined) return { formula: { text: formula.text, tree: treeOf(formula) } };
      const plainIn = (wanted: Bound | string | null, name: string): string | number | null => {
        const c = columnOf(s.table, name);
        return c.kind === "text" || wanted === null || typeof wanted === "string"
          ? (wanted as string | number | null)
          : boundIn(wanted, c.unit, `${s.verb}: ${name}`);
      };
      return {
        equal: Object.fromEntries(
          Object.entries(equal ?? {}).map(([name, wanted]) => [
            name,
            Array.isArray(wanted) ? wanted.map((w) => plainIn(w, name)) : plainIn(wanted, name),
          ]),
        ),
      };
    },
    columns: (_, args) =>
      args["formula"] === undefined ? Object.keys((args["equal"] as object) ?? {}) : namesIn(args["formula"]),
  });
