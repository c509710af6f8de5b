import { max } from "@oxtrum/core/statistics";
import { column } from "../parameters/kinds.js";
import { tableVerb } from "../parameters/table-verb.js";

export const maxVerb = tableVerb({
  name: "max",
  version: 2,
  doc: "The largest value; `.at` is where it lies.",
  examples: ['t.max("T_mean")'],
  parameters: {
    name: column(),
  },
  gives: "quantity",
  needs: "named",
  execute: (table, { name }) => max(table, name),
  proof: [{ on: "history", given: ["T"], digest: "ef7f36d4ae3b58ee" }],
});
