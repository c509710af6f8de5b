/**
 * Published laws of flow, heat transfer and matter: what can be asked of one. Quantities flow in, a quantity or a
 * curve flows out. The laws themselves are in core. May import parameters and core.
 */
import { z } from "zod";
import { lawAt, lawCurve, lawNamed } from "@oxtrum/core/statistics";
import { makeTable, numberColumn } from "@oxtrum/core/tables";
import { quantityValue, tableValue } from "../arguments.js";
import { operation } from "../operation.js";
import { lawQuantities, stretch } from "../parameters/input-kinds.js";
import { choice, number } from "../parameters/kinds.js";
import { asked, resolved, scopeWithoutTable, shapeOf, type AskedOperation } from "../parameters/method.js";
import { Mistake } from "../values.js";

const outside = choice("blank", "keep").option().optional();
const ofLaw = { law: z.string() };
const nameIn = (args: unknown): string => (args as { law: string }).law;

const atParameters = { inputs: lawQuantities(), outside };
const at = asked(
  operation({
    name: "law.at",
    version: 1,
    args: z.object({ ...ofLaw, ...shapeOf(atParameters) }) as z.ZodType,
    run: (args, inputs) => {
      const given = resolved(atParameters, scopeWithoutTable("law", args, inputs));
      return quantityValue(lawAt(nameIn(args), given.inputs, given.outside));
    },
    infer: (args) => quantityValue({ value: Number.NaN, unit: lawNamed(nameIn(args)).output.unit }),
  }),
  "quantity",
  atParameters,
  [
    {
      name: "at",
      doc: "What it gives.",
      examples: ['law("friction.smooth").at({ Re: 20000 })', 'law("air.density").at({ T: "-20 degC" })'],
      returns: "Quantity",
    },
  ],
);

const curveParameters = {
  inputs: stretch(),
  points: number(z.number().int().min(2).max(100_000)).option().otherwise(100),
  steps: choice("even", "log").option().otherwise("even"),
  outside,
};
const curve = asked(
  operation({
    name: "law.curve",
    version: 2,
    args: z.object({ ...ofLaw, ...shapeOf(curveParameters) }) as z.ZodType,
    run: (args, inputs) => {
      const given = resolved(curveParameters, scopeWithoutTable("law", args, inputs));
      const { over, from, to, inputs: others } = given.inputs;
      const range = { from, to };
      return tableValue(lawCurve(nameIn(args), over, range, others, given.points, given.steps, given.outside));
    },
    infer: (args) => {
      const law = lawNamed(nameIn(args));
      const { over } = args as { over: string };
      const input = Object.hasOwn(law.inputs, over) ? law.inputs[over]! : undefined;
      if (!input) throw new Mistake(`${law.name} takes ${Object.keys(law.inputs).join(", ")}; not "${over}"`);
      const columns = [numberColumn(over, input.unit, []), numberColumn(law.output.name, law.output.unit, [])];
      return tableValue(makeTable(columns, { axis: over }));
    },
  }),
  "table",
  curveParameters,
  [
    {
      name: "curve",
      doc: "The law over a stretch of one input, given as `[from, to]`.",
      examples: ['law("wall.composite").curve({ "y.plus": [1, 1000] }, { steps: "log", points: 60 })'],
      returns: "Table<Columns>",
    },
  ],
);

export const lawOperations: readonly AskedOperation[] = [at, curve];
