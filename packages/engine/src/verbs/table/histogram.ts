import { histogram } from "@oxtrum/core/statistics";
import { sliceRows } from "@oxtrum/core/tables";
import { amount, amounts, column, number, ofColumn } from "../parameters/kinds.js";
import { tableVerb } from "../parameters/table-verb.js";

export const histogramVerb = tableVerb({
  name: "histogram",
  version: 3,
  doc:
    "How often values lie where: `from`, `to`, middle, `count`, `fraction`, `density`. Bins by " +
    "count, width or edges; without, their width is Freedman and Diaconis's.",
  examples: ['t.histogram("T_mean", { count: 20 })'],
  parameters: {
    name: column().generic("N"),
    count: number().option().optional(),
    width: amount(ofColumn("name"), true).option().optional(),
    edges: amounts(ofColumn("name")).option().optional(),
  },
  gives: "table",
  returns: 'Table<{ [K in N | "from" | "to" | "count" | "fraction" | "density"]: Numbers }>',
  needs: "named",
  execute: (table, { name, count, width, edges }) => histogram(table, name, { count, width, edges }),
  foresee: (table, { name, count, width }) => ({
    ...histogram(sliceRows(table, 0, 0), name, { count, width }),
    notes: [],
  }),
  proof: [{ on: "history", given: ["T", { count: 5 }], digest: "9d0efc51c9be6b0c" }],
});
