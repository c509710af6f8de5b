import { numbered } from "@oxtrum/core/statistics";
import { newName } from "../parameters/kinds.js";
import { tableVerb } from "../parameters/table-verb.js";

export const rowNumberVerb = tableVerb({
  name: "rowNumber",
  version: 1,
  doc: "Adds the number of each row, from 1, as `row` or another name.",
  examples: ['peaks.rowNumber("number")'],
  parameters: {
    as: newName().generic("N", '"row"').otherwise("row"),
  },
  gives: "table",
  returns: 'Table<C & { [K in N]: Numbers<"1"> }>',
  adds: ["{as}"],
  needs: "passed on",
  execute: (table, { as }) => numbered(table, as),
  proof: [{ on: "history", given: [], digest: "dac82fe836a0491e" }],
});
