import { z } from "zod";
import type { Given as LawValue } from "@oxtrum/core/statistics";
import type { Quantity, Table } from "@oxtrum/core/tables";
import { dictionary } from "../../dictionary.js";
import { boundArg, quantityArg, quantityOf, tableOf } from "../arguments.js";
import { Mistake } from "../values.js";
import { converted, given, none, type UnitOf } from "./kinds.js";
import { Parameter, type Scope } from "./parameter.js";

/** Another table, of the script's own choice. */
export const otherTable = (): Parameter<Table> =>
  new Parameter<Table>({
    kind: "table",
    shape: () => ({}),
    type: "Table<D>",
    resolve: (_, s) => tableOf(s.inputs[1]),
    columns: none,
  });
/** Further tables, as many as are given. */
export const otherTables = (): Parameter<Table[]> =>
  new Parameter<Table[]>(
    {
      kind: "tables",
      shape: () => ({}),
      type: "Table<any>[]",
      resolve: (_, s) => s.inputs.slice(1).map(tableOf),
      columns: none,
    },
    { place: "rest", isOptional: false },
  );
/** A quantity that another verb gives, or its text. */
export const quantity = (): Parameter<Quantity> =>
  new Parameter<Quantity>({
    kind: "quantity",
    shape: () => ({}),
    type: "Quantity | string",
    resolve: (_, s) => quantityOf(s.inputs[1]),
    columns: none,
  });

const givenArg = z.union([quantityArg, z.object({ input: z.number() })]);
const lawInputsArg = dictionary(z.union([z.string(), givenArg]));

const valueOf = (v: unknown, s: Scope): LawValue => {
  const q = "input" in (v as object) ? quantityOf(s.inputs[(v as { input: number }).input]) : (v as Quantity);
  return { value: q.value, unit: q.unit };
};

/** A quantity with its unit, known or computed. */
export const givenQuantity = (): Parameter<LawValue> =>
  new Parameter<LawValue>({
    kind: "given",
    shape: (name) => ({ [name]: givenArg }),
    type: "Quantity | string",
    resolve: (name, s) => {
      const v = s.args[name];
      if (v === undefined) return undefined as unknown as LawValue;
      if (typeof v !== "object") throw new Mistake(`${s.verb}: ${name} has to be a quantity`);
      return valueOf(v, s);
    },
    columns: none,
  });
/** Inputs of a law: names of columns, or quantities. */
export const lawInputs = (): Parameter<Record<string, string | LawValue>> =>
  new Parameter<Record<string, string | LawValue>>({
    kind: "law inputs",
    shape: (name) => ({ [name]: lawInputsArg }),
    type: "{ [input: string]: NumberName<C> | Quantity | number }",
    resolve: (name, s) =>
      Object.fromEntries(
        Object.entries(given<Record<string, unknown>>(name, s)).map(([n, v]) => [
          n,
          typeof v === "string" ? v : valueOf(v, s),
        ]),
      ),
    columns: (name, args) =>
      Object.values((args[name] as Record<string, unknown> | undefined) ?? {}).filter(
        (v): v is string => typeof v === "string",
      ),
  });
/** Inputs of a law where no column can be meant: text with a unit are quantities. */
export const lawQuantities = (): Parameter<Record<string, LawValue>> =>
  new Parameter<Record<string, LawValue>>({
    kind: "quantities by name",
    shape: (name) => ({ [name]: lawInputsArg }),
    type: "{ [input: string]: Amount }",
    resolve: (name, s) => fixedInputs(given(name, s), s),
    columns: none,
  });
/** One input of a law from one value to another, the others fixed. */
export interface Stretch {
  readonly over: string;
  readonly from: LawValue;
  readonly to: LawValue;
  readonly inputs: Record<string, LawValue>;
}
export const stretch = (): Parameter<Stretch> =>
  new Parameter<Stretch>({
    kind: "stretch",
    shape: () => ({ over: z.string(), from: givenArg, to: givenArg, inputs: lawInputsArg }),
    type: "{ [input: string]: Amount | [Amount, Amount] }",
    resolve: (_, s) => ({
      over: given("over", s),
      from: valueOf(s.args["from"], s),
      to: valueOf(s.args["to"], s),
      inputs: fixedInputs(given("inputs", s), s),
    }),
    columns: none,
  });
function fixedInputs(inputs: Record<string, unknown>, s: Scope): Record<string, LawValue> {
  return Object.fromEntries(
    Object.entries(inputs).map(([name, v]) => {
      if (typeof v === "string")
        throw new Mistake(`law: ${name} is the name of a column, but no table is given; give a quantity`);
      return [name, valueOf(v, s)];
    }),
  );
}

/** Tables by name: the names stand among the arguments, the tables are inputs. */
export const tablesByName = (): Parameter<Record<string, Table>> =>
  new Parameter<Record<string, Table>>({
    kind: "tables by name",
    shape: () => ({ names: z.array(z.string()) }),
    type: "{ [name: string]: Table<any> }",
    resolve: (_, s) => Object.fromEntries((s.args["names"] as string[]).map((n, k) => [n, tableOf(s.inputs[k])])),
    columns: none,
  });

const commonAxisArg = z.union([z.enum(["union", "intersection"]), z.object({ step: boundArg })]);
/** The axis that several tables are brought to. */
export type CommonAxis = "union" | "intersection" | { readonly step: number };
export const commonAxis = (unitOf: UnitOf): Parameter<CommonAxis> =>
  new Parameter<CommonAxis>({
    kind: "amounts by name",
    words: ["union", "intersection"],
    shape: (name) => ({ [name]: commonAxisArg }),
    type: '"union" | "intersection" | { step: Amount }',
    resolve: (name, s) => {
      const v = given<z.infer<typeof commonAxisArg> | undefined>(name, s);
      if (v === undefined || typeof v === "string") return v as CommonAxis;
      return { step: converted(v.step, name, s, unitOf(s), true) };
    },
    columns: none,
  });
