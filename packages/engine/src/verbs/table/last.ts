import { rowValue } from "@oxtrum/core/tables";
import { column } from "../parameters/kinds.js";
import { tableVerb } from "../parameters/table-verb.js";

export const lastVerb = tableVerb({
  name: "last",
  version: 1,
  doc: "The value of the last row, as the rows are listed.",
  examples: ['t.last("frost_mass")'],
  parameters: {
    name: column(),
  },
  gives: "quantity",
  needs: "named",
  execute: (table, { name }) => rowValue(table, name, "last"),
  proof: [{ on: "history", given: ["T"], digest: "321628953b05f53b" }],
});
