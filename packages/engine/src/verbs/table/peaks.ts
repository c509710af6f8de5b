import { peaks } from "@oxtrum/core/statistics";
import { amount, column, ofAxis, ofColumn } from "../parameters/kinds.js";
import { tableVerb } from "../parameters/table-verb.js";

export const peaksVerb = tableVerb({
  name: "peaks",
  version: 1,
  doc:
    "The peaks along the axis: where, how high, how far each stands out (`name.prominence`) and how " +
    "wide it is at half of that (`name.width`).",
  examples: ['t.peaks("coil_duty", { prominence: "1 kW", apart: "60 s" })'],
  parameters: {
    name: column().generic("N"),
    above: amount(ofColumn("name")).option().optional(),
    prominence: amount(ofColumn("name"), true).option().optional(),
    apart: amount(ofAxis(), true).option().optional(),
  },
  gives: "table",
  returns: "Table<{ [K in N | `${N}.prominence` | `${N}.width`]: Numbers } & Columns>",
  needs: "named",
  execute: (table, { name, above, prominence, apart }) => peaks(table, name, { above, prominence, apart }),
  proof: [{ on: "waves", given: ["p", { prominence: "1 Pa" }], digest: "526b805a132f09c9" }],
});
