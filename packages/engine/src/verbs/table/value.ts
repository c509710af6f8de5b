import { reduceFormula } from "@oxtrum/core/statistics";
import { quantityIn } from "@oxtrum/core/tables";
import { constants, formula, text } from "../parameters/kinds.js";
import { tableVerb } from "../parameters/table-verb.js";

export const valueVerb = tableVerb({
  name: "value",
  version: 5,
  doc:
    "A number by a formula in which first, last, min, max, range, mean, rms, std, sum, integral and " +
    "count take a whole column or a formula of columns.",
  examples: [
    't.value("range(T_mean) / mean(abs(T_max - T_mean))")',
    't.value("max(T_max) - limit", { with: { limit: "280 K" } })',
  ],
  parameters: {
    formula: formula(),
    unit: text().option().optional(),
    constants: constants().option().called("with"),
  },
  gives: "quantity",
  needs: "named",
  execute: (table, { formula, unit, constants }) => {
    const q = reduceFormula(table, formula.tree, constants);
    return unit === undefined ? q : quantityIn(q, unit);
  },
  proof: [{ on: "history", given: ["range(T) + last(T) - T0", { with: { T0: "280 K" } }], digest: "3ccfc2687e46d9ec" }],
});
