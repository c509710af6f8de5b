import { rowValue, valueAt } from "@oxtrum/core/tables";
import { amountOr, choice, column, ofAxis } from "../parameters/kinds.js";
import { tableVerb } from "../parameters/table-verb.js";

export const atVerb = tableVerb({
  name: "at",
  version: 2,
  doc: "The value at a position on the axis.",
  examples: ['t.at("T_mean", "10 min")'],
  parameters: {
    name: column(),
    place: amountOr(ofAxis("along"), "first", "last"),
    pick: choice("exact", "nearest", "linear").option().otherwise("linear"),
    along: column().option().optional(),
  },
  gives: "quantity",
  needs: "named",
  execute: (table, { name, place, pick, along }) =>
    typeof place === "string" ? rowValue(table, name, place) : valueAt(table, name, place, pick, along),
  proof: [{ on: "history", given: ["T", "7.5 s"], digest: "de5adfc3f87864b4" }],
});
