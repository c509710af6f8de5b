import { groupBy, groupStatistics } from "@oxtrum/core/statistics";
import { choices, columns, oneOrMoreColumns } from "../parameters/kinds.js";
import { tableVerb } from "../parameters/table-verb.js";

export const groupByVerb = tableVerb({
  name: "groupBy",
  version: 2,
  doc:
    "A row for each combination of values of the columns named: `n`, and of the others (or those in " +
    "`columns`) mean, std, min and max, or what to `show`. Unweighted.",
  examples: ['peaks.groupBy("fan", { columns: ["peak"], show: ["mean", "max"] })'],
  parameters: {
    by: oneOrMoreColumns("any").generic("N"),
    columns: columns().option().optional(),
    show: choices(groupStatistics, "GroupStatistic").option().optional(),
  },
  gives: "table",
  returns:
    "Table<Pick<C, Extract<N, keyof C>> & { n: Numbers } & { [K in `${NumberNames<C>}.${GroupStatistic}`]: Numbers }>",
  needs: "any",
  execute: (table, { by, columns, show }) => groupBy(table, by, { columns, show }),
  proof: [{ on: "history", given: ["state", { columns: ["q"] }], digest: "a0ff61ea3bbd817a" }],
});
