import { integral } from "@oxtrum/core/tables";
import { column } from "../parameters/kinds.js";
import { tableVerb } from "../parameters/table-verb.js";

export const integralVerb = tableVerb({
  name: "integral",
  version: 3,
  doc: "The trapezoidal integral along the axis.",
  examples: ['t.integral("coil_duty")'],
  parameters: {
    name: column(),
    along: column().option().optional(),
  },
  gives: "quantity",
  needs: "named",
  execute: (table, { name, along }) => integral(table, name, along),
  proof: [{ on: "history", given: ["q"], digest: "6329d60559cd331a" }],
});
