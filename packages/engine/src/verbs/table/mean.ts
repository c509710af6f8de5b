import { mean } from "@oxtrum/core/statistics";
import { column, weights } from "../parameters/kinds.js";
import { tableVerb } from "../parameters/table-verb.js";

export const meanVerb = tableVerb({
  name: "mean",
  version: 3,
  doc:
    'The mean, weighted along the axis (trapezoidal) unless `weights: "none"`, or by another column. ' +
    "Only what is an axis by its name, by being a time, or by rising or falling all the way is " +
    "weighted along.",
  examples: ['t.mean("coil_duty")', 'peaks.mean("peak", { weights: { by: "open" } })'],
  parameters: {
    name: column(),
    weights: weights().option().otherwise("axis"),
  },
  gives: "quantity",
  needs: "named",
  execute: (table, { name, weights }) => mean(table, name, weights),
  proof: [{ on: "history", given: ["T"], digest: "850d7727fd4d62e5" }],
});
