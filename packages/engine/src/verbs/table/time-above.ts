import { exceedance } from "@oxtrum/core/statistics";
import { amount, column, ofColumn } from "../parameters/kinds.js";
import { tableVerb } from "../parameters/table-verb.js";

export const timeAboveVerb = tableVerb({
  name: "timeAbove",
  version: 2,
  doc: "For how much of the axis a column lies above a level, straight lines between rows.",
  examples: ['t.timeAbove("T_mean", "274 K")'],
  parameters: {
    name: column(),
    level: amount(ofColumn("name")),
  },
  gives: "quantity",
  needs: "named",
  execute: (table, { name, level }) => exceedance(table, name, level, "above"),
  proof: [{ on: "history", given: ["T", "283 K"], digest: "6134c8486b764338" }],
});
