import { skewness } from "@oxtrum/core/statistics";
import { column } from "../parameters/kinds.js";
import { tableVerb } from "../parameters/table-verb.js";

export const skewnessVerb = tableVerb({
  name: "skewness",
  version: 2,
  doc: "How lopsided the values are (adjusted Fisher–Pearson G₁, unweighted).",
  examples: ['t.skewness("T_mean")'],
  parameters: {
    name: column(),
  },
  gives: "quantity",
  needs: "named",
  execute: (table, { name }) => skewness(table, name),
  proof: [{ on: "history", given: ["T"], digest: "7ce50a7cc2fb6228" }],
});
