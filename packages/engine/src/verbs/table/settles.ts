import { settles } from "@oxtrum/core/statistics";
import { amount, column, ofColumn } from "../parameters/kinds.js";
import { tableVerb } from "../parameters/table-verb.js";

export const settlesVerb = tableVerb({
  name: "settles",
  version: 2,
  doc: "When a column stays within a band about its last (or a given) value, to the end.",
  examples: ['t.settles("T_mean", { within: "0.5 K" })'],
  parameters: {
    name: column(),
    within: amount(ofColumn("name"), true).option(),
    to: amount(ofColumn("name")).option().optional(),
  },
  gives: "quantity",
  needs: "named",
  execute: (table, { name, within, to }) => settles(table, name, { within, ...(to !== undefined && { to }) }),
  proof: [{ on: "history", given: ["T", { within: "0.5 K" }], digest: "66324e9cf369b512" }],
});
