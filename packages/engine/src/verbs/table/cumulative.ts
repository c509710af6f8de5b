import { cumulative } from "@oxtrum/core/tables";
import { column } from "../parameters/kinds.js";
import { tableVerb } from "../parameters/table-verb.js";

export const cumulativeVerb = tableVerb({
  name: "cumulative",
  version: 3,
  doc: "Adds `name.integral`, the running trapezoidal integral along the axis.",
  examples: ['t.cumulative("coil_duty")'],
  parameters: {
    name: column().generic("N"),
  },
  gives: "table",
  adds: ["{name}.integral"],
  needs: "passed on",
  execute: (table, { name }) => cumulative(table, name),
  proof: [{ on: "history", given: ["q"], digest: "807506fbccd4824c" }],
});
