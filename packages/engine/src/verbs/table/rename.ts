import { rename } from "@oxtrum/core/tables";
import { renames } from "../parameters/kinds.js";
import { tableVerb } from "../parameters/table-verb.js";

export const renameVerb = tableVerb({
  name: "rename",
  version: 1,
  doc: "Other names, old to new.",
  examples: ['t.rename({ T_mean: "T" })'],
  parameters: {
    names: renames().generic("M"),
  },
  gives: "table",
  returns: "Table<Omit<C, Extract<keyof M, string>> & { [K in Extract<M[keyof M], string>]: Numbers }>",
  needs: "any",
  execute: (table, { names }) => rename(table, names),
  proof: [{ on: "history", given: [{ T: "air" }], digest: "d9fed2af29fb63c4" }],
});
