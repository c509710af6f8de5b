import { count } from "@oxtrum/core/statistics";
import { column } from "../parameters/kinds.js";
import { tableVerb } from "../parameters/table-verb.js";

export const countVerb = tableVerb({
  name: "count",
  version: 1,
  doc: "How many values are present.",
  examples: ['t.count("T_mean")'],
  parameters: {
    name: column(),
  },
  gives: "quantity",
  needs: "named",
  execute: (table, { name }) => count(table, name),
  proof: [{ on: "history", given: ["T"], digest: "61fe5b4d1baa37a1" }],
});
