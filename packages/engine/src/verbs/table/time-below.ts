import { exceedance } from "@oxtrum/core/statistics";
import { amount, column, ofColumn } from "../parameters/kinds.js";
import { tableVerb } from "../parameters/table-verb.js";

export const timeBelowVerb = tableVerb({
  name: "timeBelow",
  version: 2,
  doc: "For how much of the axis a column lies below a level.",
  examples: ['t.timeBelow("T_mean", "274 K")'],
  parameters: {
    name: column(),
    level: amount(ofColumn("name")),
  },
  gives: "quantity",
  needs: "named",
  execute: (table, { name, level }) => exceedance(table, name, level, "below"),
  proof: [{ on: "history", given: ["T", "283 K"], digest: "61f94b17108fd193" }],
});
