import { kurtosis } from "@oxtrum/core/statistics";
import { column } from "../parameters/kinds.js";
import { tableVerb } from "../parameters/table-verb.js";

export const kurtosisVerb = tableVerb({
  name: "kurtosis",
  version: 2,
  doc: "How heavy the tails are: the excess G₂, 0 for a normal distribution, unweighted.",
  examples: ['t.kurtosis("T_mean")'],
  parameters: {
    name: column(),
  },
  gives: "quantity",
  needs: "named",
  execute: (table, { name }) => kurtosis(table, name),
  proof: [{ on: "history", given: ["T"], digest: "00779d84a123706d" }],
});
