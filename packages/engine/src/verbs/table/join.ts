import { join } from "@oxtrum/core/tables";
import { otherTable } from "../parameters/input-kinds.js";
import { column, text } from "../parameters/kinds.js";
import { tableVerb } from "../parameters/table-verb.js";

export const joinVerb = tableVerb({
  name: "join",
  version: 1,
  doc: "Another table's columns beside this one's, interpolated to its axis; equal names get the suffix `.2`.",
  examples: ['t.pick("T_mean").join(air.get("050_080_none").pick("T_mean"), { suffix: ".slow" })'],
  parameters: {
    other: otherTable(),
    on: column().option().optional(),
    suffix: text().option().optional(),
  },
  gives: "table",
  returns: "Table<C & D & Columns>",
  needs: "any",
  execute: (table, { other, on, suffix }) => join(table, other, { on, suffix }),
  proof: [{ on: "history,other", given: [], digest: "d31cd233d4f2ddad" }],
});
