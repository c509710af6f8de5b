import { rms } from "@oxtrum/core/statistics";
import { column, weights } from "../parameters/kinds.js";
import { tableVerb } from "../parameters/table-verb.js";

export const rmsVerb = tableVerb({
  name: "rms",
  version: 3,
  doc: "The root of the mean square, weighted like `mean`.",
  examples: ['t.rms("coil_duty")'],
  parameters: {
    name: column(),
    weights: weights().option().otherwise("axis"),
  },
  gives: "quantity",
  needs: "named",
  execute: (table, { name, weights }) => rms(table, name, weights),
  proof: [{ on: "history", given: ["q"], digest: "9d8de763d9b5422a" }],
});
