import { crossings } from "@oxtrum/core/statistics";
import { amount, choice, column, ofColumn } from "../parameters/kinds.js";
import { tableVerb } from "../parameters/table-verb.js";

export const crossingsVerb = tableVerb({
  name: "crossings",
  version: 2,
  doc: "Where a column passes a level: axis value and direction.",
  examples: ['t.crossings("T_mean", "274 K", { direction: "falling" })'],
  parameters: {
    name: column(),
    level: amount(ofColumn("name")),
    direction: choice("both", "rising", "falling").option().otherwise("both"),
  },
  gives: "table",
  returns: "Table<Columns>",
  needs: "named",
  execute: (table, { name, level, direction }) => crossings(table, name, level, direction),
  proof: [{ on: "history", given: ["T", "284 K"], digest: "060441bb8ee8bb92" }],
});
