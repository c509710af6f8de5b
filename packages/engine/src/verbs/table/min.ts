import { min } from "@oxtrum/core/statistics";
import { column } from "../parameters/kinds.js";
import { tableVerb } from "../parameters/table-verb.js";

export const minVerb = tableVerb({
  name: "min",
  version: 2,
  doc: "The smallest value; `.at` is where it lies.",
  examples: ['t.min("T_mean")'],
  parameters: {
    name: column(),
  },
  gives: "quantity",
  needs: "named",
  execute: (table, { name }) => min(table, name),
  proof: [{ on: "history", given: ["T"], digest: "72a5cc0d46bf9987" }],
});
