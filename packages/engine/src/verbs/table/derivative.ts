import { derivative } from "@oxtrum/core/tables";
import { column } from "../parameters/kinds.js";
import { tableVerb } from "../parameters/table-verb.js";

export const derivativeVerb = tableVerb({
  name: "derivative",
  version: 2,
  doc: "Adds `name.rate`, the derivative along the axis: second order, uneven steps allowed (Fornberg 1988).",
  examples: ['t.derivative("T_mean")'],
  parameters: {
    name: column().generic("N"),
  },
  gives: "table",
  adds: ["{name}.rate"],
  needs: "passed on",
  execute: (table, { name }) => derivative(table, name),
  proof: [{ on: "history", given: ["T"], digest: "5afbe3d58eff681b" }],
});
