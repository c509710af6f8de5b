import { sortBy } from "@oxtrum/core/tables";
import { choice, column } from "../parameters/kinds.js";
import { tableVerb } from "../parameters/table-verb.js";

export const sortByVerb = tableVerb({
  name: "sortBy",
  version: 1,
  doc: "Rows in order of a column.",
  examples: ['peaks.sortBy("peak", "falling")'],
  parameters: {
    name: column("any"),
    order: choice("rising", "falling").otherwise("rising"),
  },
  gives: "table",
  needs: "passed on",
  execute: (table, { name, order }) => sortBy(table, name, order),
  proof: [{ on: "history", given: ["q", "falling"], digest: "9e91b093ce0f1f6a" }],
});
