import { concat } from "@oxtrum/core/tables";
import { otherTables } from "../parameters/input-kinds.js";
import { tableVerb } from "../parameters/table-verb.js";

export const concatVerb = tableVerb({
  name: "concat",
  version: 2,
  doc: "Tables one below the other, columns by name.",
  examples: ['t.concat(air.get("050_080_none"))'],
  parameters: {
    others: otherTables(),
  },
  gives: "table",
  needs: "any",
  execute: (table, { others }) => concat([table, ...others]),
  proof: [{ on: "history,other", given: [], digest: "d76fdc7770d7bbff" }],
});
