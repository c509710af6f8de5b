import { histogram } from "@oxtrum/core/statistics";
import { sliceRows } from "@oxtrum/core/tables";
import { amount, amounts, column, number, ofColumn } from "../parameters/kinds.js";
import { tableVerb } from "../parameters/table-verb.js";

export const histogramVerb = tableVerb({
  name: "histogram",
  version: 2,
  doc: "How often values lie where: `from`, `to`, middle, `count`, `share`, `density`. Bins by count, width or edges; without, their width is Freedman and Diaconis's.",
  examples: ['t.histogram("T_mean", { count: 20 })'],
  parameters: {
    name: column().generic("N"),
    count: number().option().optional(),
    width: amount(ofColumn("name"), true).option().optional(),
    edges: amounts(ofColumn("name")).option().optional(),
  },
  gives: "table",
  returns: 'Table<{ [K in N | "from" | "to" | "count" | "share" | "density"]: Numbers }>',
  needs: "named",
  execute: (table, { name, count, width, edges }) => histogram(table, name, { count, width, edges }),
  foresee: (table, { name, count, width }) => ({
    ...histogram(sliceRows(table, 0, 0), name, { count, width }),
    notes: [],
  }),
  proof: [{ on: "history", given: ["T", { count: 5 }], digest: "2733842b6f9efbc9" }],
});
