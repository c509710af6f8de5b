import { z } from "zod";
import { against, type Agreement, type AgainstOptions } from "@oxtrum/core/statistics";
import { axisOf, numbers, type NumberColumn, type Table, type UnitSymbol } from "@oxtrum/core/tables";
import { tableOf } from "../arguments.js";
import { operation } from "../operation.js";
import { asked, resolved, shapeOf, type AskedOperation, type MethodDefinition } from "../parameters/method.js";
import type { Outcome, Value } from "../values.js";
import { agreementParameters } from "./agreement-parameters.js";

const request = z.object(shapeOf(agreementParameters));

/** What a script asks for, in the units of the table. */
function optionsOf(args: unknown, inputs: readonly Outcome[]): AgainstOptions {
  const table = tableOf(inputs[0]);
  const given = resolved(agreementParameters, {
    verb: "against",
    table,
    args: args as Record<string, unknown>,
    inputs,
  });
  return Object.fromEntries(Object.entries(given).filter(([, v]) => v !== undefined)) as unknown as AgainstOptions;
}

/** Names and units of both sides, before there are rows. */
export interface Sides {
  readonly table: Table;
  readonly y: string;
  readonly unit: UnitSymbol;
  readonly axis: NumberColumn;
}

function sidesOf(args: unknown, inputs: readonly Outcome[]): Sides {
  const [table, reference] = [tableOf(inputs[0]), tableOf(inputs[1])];
  const options = optionsOf(args, inputs);
  numbers(reference, options.reference ?? options.y);
  return { table, y: options.y, unit: numbers(table, options.y).unit, axis: axisOf(table, options.on) };
}

interface AgreementOperation<F extends z.ZodRawShape> {
  readonly name: string;
  /** Raised whenever the same inputs give another result. */
  readonly version: number;
  readonly gives: "table" | "quantity";
  /** What its methods fix. */
  readonly fixed: F;
  readonly methods: readonly MethodDefinition[];
  execute(found: Agreement, fixed: z.infer<z.ZodObject<F>>): Value;
  /** What comes of tables without rows. */
  foresee(sides: Sides, fixed: z.infer<z.ZodObject<F>>): Value;
}

/**
 * Makes an operation on how a column agrees with a reference, from its one description.
 *
 * @example agreementOperation({ name: "against.side", version: 2, gives: "table", fixed: {}, methods: […], … })
 */
export function agreementOperation<F extends z.ZodRawShape>(d: AgreementOperation<F>): AskedOperation {
  type Args = z.infer<z.ZodObject<F>>;
  const made = operation({
    name: d.name,
    version: d.version,
    args: request.extend(d.fixed) as z.ZodType,
    run: (args, inputs) =>
      d.execute(against(tableOf(inputs[0]), tableOf(inputs[1]), optionsOf(args, inputs)), args as Args),
    infer: (args, inputs) => d.foresee(sidesOf(args, inputs), args as Args),
  });
  return asked(made, d.gives, {}, d.methods);
}
