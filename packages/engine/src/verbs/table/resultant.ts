import { derive, parseFormula } from "@oxtrum/core/tables";
import { columns, newName, text } from "../parameters/kinds.js";
import { tableVerb } from "../parameters/table-verb.js";

export const resultantVerb = tableVerb({
  name: "resultant",
  version: 1,
  doc: "A column that is the length of several components: √(a² + b² + …).",
  examples: ['hit.resultant("A1.shear", ["A1.Fx", "A1.Fy"])'],
  parameters: {
    name: newName().generic("N"),
    parts: columns(),
    unit: text().option().optional(),
  },
  gives: "table",
  adds: ["{name}"],
  needs: "passed on",
  execute: (table, { name, parts, unit }) =>
    derive(table, name, parseFormula(`hypot(${parts.map((p) => `col(${JSON.stringify(p)})`).join(", ")})`), { unit }),
  proof: [{ on: "waves", given: ["r", ["p", "p"], { unit: "kPa" }], digest: "ed50a3ab157732d9" }],
});
