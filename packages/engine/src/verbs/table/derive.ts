import { derive } from "@oxtrum/core/tables";
import { constants, formula, newName, text } from "../parameters/kinds.js";
import { tableVerb } from "../parameters/table-verb.js";

export const deriveVerb = tableVerb({
  name: "derive",
  version: 2,
  doc: 'A column by formula; units are computed and checked. Names with blanks are written `col("T mean")`, constants go in `with`.',
  examples: [
    'hit.derive("resultant", "sqrt(A1.Fx^2 + A1.Fy^2)")',
    't.derive("dT", "T_mean - Tref", { with: { Tref: "274 K" } })',
  ],
  parameters: {
    name: newName().generic("N"),
    formula: formula(),
    unit: text().option().optional(),
    constants: constants().option().called("with"),
  },
  gives: "table",
  adds: ["{name}"],
  needs: "passed on",
  execute: (table, { name, formula, unit, constants }) => derive(table, name, formula.tree, { unit, constants }),
  proof: [{ on: "history", given: ["d", "sqrt(T / T0) * q", { with: { T0: "280 K" } }], digest: "c268a2aae9f9b12f" }],
});
