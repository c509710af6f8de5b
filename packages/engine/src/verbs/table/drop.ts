import { drop } from "@oxtrum/core/tables";
import { columnsGiven } from "../parameters/kinds.js";
import { tableVerb } from "../parameters/table-verb.js";

export const dropVerb = tableVerb({
  name: "drop",
  version: 1,
  doc: "All columns but these.",
  examples: ['t.drop("frost_mass")'],
  parameters: {
    names: columnsGiven("any").generic("N"),
  },
  gives: "table",
  returns: "Table<Omit<C, N>>",
  needs: "passed on",
  execute: (table, { names }) => drop(table, names),
  proof: [{ on: "history", given: ["q"], digest: "948c241a4f9ba0cc" }],
});
