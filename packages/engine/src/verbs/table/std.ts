import { std } from "@oxtrum/core/statistics";
import { column, flag, weights } from "../parameters/kinds.js";
import { tableVerb } from "../parameters/table-verb.js";

export const stdVerb = tableVerb({
  name: "std",
  version: 4,
  doc: 'The standard deviation, weighted like `mean`; with `weights: "none"` it has n−1 degrees of freedom, or n of a whole `population`.',
  examples: ['t.std("T_mean", { weights: "none" })'],
  parameters: {
    name: column(),
    weights: weights().option().otherwise("axis"),
    population: flag().option().optional(),
  },
  gives: "quantity",
  needs: "named",
  execute: (table, { name, weights, population }) => std(table, name, weights, population),
  proof: [{ on: "history", given: ["q", { weights: "none" }], digest: "b8d26e10ec8e6c10" }],
});
