import { convertColumns } from "@oxtrum/core/tables";
import { oneOrMoreColumns, text } from "../parameters/kinds.js";
import { tableVerb } from "../parameters/table-verb.js";

export const toVerb = tableVerb({
  name: "to",
  version: 1,
  doc: "Columns in another unit.",
  examples: ['t.to("T_mean", "degC")'],
  parameters: {
    names: oneOrMoreColumns(),
    unit: text(),
  },
  gives: "table",
  needs: "passed on",
  execute: (table, { names, unit }) => convertColumns(table, names, unit),
  proof: [{ on: "history", given: ["T", "degC"], digest: "c210ec83b2b208b5" }],
});
