/**
 * Functions of the library that need no noun first: formulas of quantities, several tables on one axis. May import
 * parameters and core.
 */
import { z } from "zod";
import { together as bringTogether } from "@oxtrum/core/statistics";
import { axisOf, evaluateFormula, missing, quantityIn, type Quantity } from "@oxtrum/core/tables";
import { quantityValue, tableOf, tableValue } from "../arguments.js";
import { operation } from "../operation.js";
import { commonAxis, tablesByName } from "../parameters/input-kinds.js";
import { constants, formula, text, type UnitOf } from "../parameters/kinds.js";
import { asked, resolved, scopeWithoutTable, shapeOf, type AskedOperation } from "../parameters/method.js";

const calcParameters = {
  formula: formula(),
  constants: constants().called("values"),
  unit: text().option().optional(),
};
const calc = asked(
  operation({
    name: "quantity.formula",
    version: 1,
    args: z.object(shapeOf(calcParameters)),
    run: (args, inputs) => {
      const given = resolved(calcParameters, scopeWithoutTable("calc", args, inputs));
      const lost = Object.entries(given.constants ?? {}).find(([, c]) => (c as Quantity).reason !== undefined);
      const one = { columns: [], rows: 1, notes: [] };
      const { values, unit } = evaluateFormula(given.formula.tree, one, given.constants);
      const value = values[0]!;
      const none = value === value ? {} : { reason: `${given.formula.text} gives no number` };
      const found: Quantity = lost
        ? missing(`${lost[0]}: ${(lost[1] as Quantity).reason!}`, unit)
        : { value, unit, ...none };
      return quantityValue(given.unit === undefined ? found : quantityIn(found, given.unit));
    },
  }),
  "quantity",
  calcParameters,
  [
    {
      name: "calc",
      doc: "A number by a formula of quantities; units are computed and checked.",
      examples: ['calc("sqrt(4 * F / (pi * tau))", { F: "30 kN", tau: "140 MPa" }, { unit: "mm" })'],
      returns: "Quantity",
    },
  ],
);

/** The unit of the first table's axis. */
const ofFirstAxis: UnitOf = (s) => axisOf(tableOf(s.inputs[0]), s.args["on"] as string | undefined).unit;
const togetherParameters = {
  tables: tablesByName().generic("T"),
  on: text().option().optional(),
  axis: commonAxis(ofFirstAxis).option().optional(),
};
const together = asked(
  operation({
    name: "together",
    version: 1,
    args: z.object(shapeOf(togetherParameters)),
    run: (args, inputs) => {
      const { tables, on, axis } = resolved(togetherParameters, scopeWithoutTable("together", args, inputs));
      return tableValue(bringTogether(tables, { on, axis }));
    },
  }),
  "table",
  togetherParameters,
  [
    {
      name: "together",
      doc: "Several tables on one axis, for formulas over all of them: columns `name.column`.",
      examples: [
        'together({ slow: air.get("050_080_none").pick("T_mean"), fast: air.get("100_080_none").pick("T_mean") }, ' +
          '{ axis: "intersection" }).derive("gain", "slow.T_mean - fast.T_mean")',
      ],
      returns: "Table<Columns>",
    },
  ],
);

export const functionOperations: readonly AskedOperation[] = [together, calc];
