import { bins, groupStatistics } from "@oxtrum/core/statistics";
import { amount, amounts, choices, column, columns, number, ofColumn } from "../parameters/kinds.js";
import { tableVerb } from "../parameters/table-verb.js";

export const binsVerb = tableVerb({
  name: "bins",
  version: 2,
  doc: "The rows sorted into bins of a column; see `histogram` for the bins, `groupBy` for what is shown.",
  examples: ['t.bins("time", { width: "5 min", columns: ["T_mean"], show: ["min", "max"] })'],
  parameters: {
    name: column(),
    count: number().option().optional(),
    width: amount(ofColumn("name"), true).option().optional(),
    edges: amounts(ofColumn("name")).option().optional(),
    columns: columns().option().optional(),
    show: choices(groupStatistics, "GroupStatistic").option().optional(),
  },
  gives: "table",
  returns:
    "Table<{ from: Numbers; to: Numbers; n: Numbers } & { [K in `${NumberNames<C>}.${GroupStatistic}`]: Numbers }>",
  needs: "any",
  execute: (table, { name, ...options }) => bins(table, name, options),
  foresee: (table, { name, columns, show }) => ({ ...bins(table, name, { columns, show }), notes: [] }),
  proof: [
    { on: "history", given: ["time", { width: "10 s", columns: ["q"], show: ["max"] }], digest: "a2cd262f068a9322" },
  ],
});
