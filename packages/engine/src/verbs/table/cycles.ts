import { cycles } from "@oxtrum/core/statistics";
import { amount, column, ofAxis } from "../parameters/kinds.js";
import { tableVerb } from "../parameters/table-verb.js";

export const cyclesVerb = tableVerb({
  name: "cycles",
  version: 1,
  doc: "A row a whole period: where it begins, `name.mean` (weighted along the axis), `.min`, `.max`, `.amplitude`.",
  examples: ['t.cycles("T_mean", { period: "5 min" })'],
  parameters: {
    name: column().generic("N"),
    period: amount(ofAxis(), true).option(),
    from: amount(ofAxis()).option().optional(),
  },
  gives: "table",
  returns: 'Table<{ [K in "cycle" | `${N}.${"mean" | "min" | "max" | "amplitude"}`]: Numbers } & Columns>',
  needs: "named",
  execute: (table, { name, period, from }) => cycles(table, name, { period, from }),
  proof: [{ on: "waves", given: ["p", { period: "3 s" }], digest: "587b97147807b729" }],
});
