import { rowValue } from "@oxtrum/core/tables";
import { column } from "../parameters/kinds.js";
import { tableVerb } from "../parameters/table-verb.js";

export const firstVerb = tableVerb({
  name: "first",
  version: 1,
  doc: "The value of the first row, as the rows are listed.",
  examples: ['t.first("T_mean")'],
  parameters: {
    name: column(),
  },
  gives: "quantity",
  needs: "named",
  execute: (table, { name }) => rowValue(table, name, "first"),
  proof: [{ on: "history", given: ["T"], digest: "3e31f15884a216a4" }],
});
