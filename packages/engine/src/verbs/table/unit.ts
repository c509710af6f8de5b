import { declareUnit } from "@oxtrum/core/tables";
import { column, text } from "../parameters/kinds.js";
import { tableVerb } from "../parameters/table-verb.js";

export const unitVerb = tableVerb({
  name: "unit",
  version: 1,
  doc: "Says what a column's unit is, where the file does not. The numbers stay.",
  examples: ['t.drop("frost_mass").unit("humidity", "g/kg")'],
  parameters: {
    name: column(),
    unit: text(),
  },
  gives: "table",
  needs: "passed on",
  execute: (table, { name, unit }) => declareUnit(table, name, unit),
  proof: [{ on: "history", given: ["q", "kW"], digest: "ce0697d8a330e04c" }],
});
