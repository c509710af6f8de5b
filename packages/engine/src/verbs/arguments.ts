import { z } from "zod";
import { dictionary } from "../dictionary.js";
import {
  applyConversion,
  column,
  conversion,
  displayUnit,
  FormulaError,
  parseFormula,
  parseUnit,
  stepScale,
  type FormulaTree,
  type Quantity,
  type Table,
  type UnitSymbol,
} from "@oxtrum/core/tables";
import { Mistake, type Outcome, type Value } from "./values.js";

export const quantityArg = z
  .object({ value: z.number(), unit: z.string().nullable(), reason: z.string().optional() })
  .loose();

/** A bare number in the column's unit, or a number with a unit of its own. */
export const boundArg = z.union([z.number(), quantityArg]);
export type Bound = z.infer<typeof boundArg>;

/** A bound as a number in the wanted unit. `difference` leaves temperature offsets out. */
export function boundIn(b: Bound, unit: UnitSymbol, what: string, difference = false): number {
  if (typeof b === "number") return b;
  if (unit === null) {
    if (b.unit === "1" || b.unit === null) return b.value;
    throw new Mistake(
      `${what}: ${b.value} ${displayUnit(b.unit)} is given, but the column's unit is unknown; say it with .unit()`,
    );
  }
  if (b.unit === null) return b.value;
  if (difference) return b.value * stepScale(b.unit, unit);
  return applyConversion(b.value, conversion(parseUnit(b.unit), parseUnit(unit)));
}

/** A baseline's values as they stand in the table's columns. */
export function baselineKey(table: Table, baseline: Record<string, Bound | string>): Record<string, string | number> {
  return Object.fromEntries(
    Object.entries(baseline).map(([k, v]) => {
      const c = column(table, k);
      return [k, typeof v === "string" || c.kind === "text" ? String(v) : boundIn(v, c.unit, `baseline ${k}`)];
    }),
  );
}

export function tableOf(input: Outcome | undefined): Table {
  if (input?.kind !== "table") throw new Mistake(`a table is needed here, not a ${input?.kind ?? "nothing"}`);
  return input.table;
}

export function quantityOf(input: Outcome | undefined): Quantity {
  if (input?.kind !== "quantity") throw new Mistake(`a quantity is needed here, not a ${input?.kind ?? "nothing"}`);
  return input.quantity;
}

/** What core knows of a table's worth goes beside it, where it travels on through every operation. */
export function tableValue(given: Table): Value {
  const { conditions, ...table } = given;
  return { kind: "table", table, ...(conditions && conditions.length > 0 && { conditions }) };
}
export function quantityValue(given: Quantity): Value {
  const { conditions, ...quantity } = given;
  return { kind: "quantity", quantity, ...(conditions && conditions.length > 0 && { conditions }) };
}

/** Constants of a formula: plain ones, and those that other nodes give. */
export const constantsArg = dictionary(z.union([quantityArg, z.object({ input: z.number() })])).default({});

export function constantsOf(
  args: z.infer<typeof constantsArg>,
  inputs: readonly Outcome[],
): Record<string, { value: number; unit: UnitSymbol }> {
  const out: Record<string, { value: number; unit: UnitSymbol }> = {};
  for (const [name, c] of Object.entries(args))
    out[name] = "input" in c ? quantityOf(inputs[c.input as number]) : (c as Quantity);
  return out;
}

/** A formula as it stands in the graph: its text for messages, its tree for work and keys. */
export const formulaArg = z.object({
  text: z.string(),
  tree: z.custom<FormulaTree>().optional(),
  error: z.string().optional(),
});

/** Parses a formula where it enters the graph; a mistake in it is told by the node that uses it. */
export function formulaArgument(text: string): z.infer<typeof formulaArg> {
  try {
    return { text, tree: parseFormula(text) };
  } catch (e) {
    return { text, error: (e as Error).message };
  }
}

export function treeOf(f: z.infer<typeof formulaArg>): FormulaTree {
  if (f.tree === undefined) throw new FormulaError(f.error ?? `formula "${f.text}" was not read`);
  return f.tree;
}
