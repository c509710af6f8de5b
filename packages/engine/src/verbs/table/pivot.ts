import { groupStatistics, pivot } from "@oxtrum/core/statistics";
import { choiceOf, column, oneOrMoreColumns } from "../parameters/kinds.js";
import { tableVerb } from "../parameters/table-verb.js";

export const pivotVerb = tableVerb({
  name: "pivot",
  version: 2,
  doc: "Turned about: a row for each value of `rows`, a column for each value of `columns` (`fan 50`).",
  examples: ['peaks.pivot({ rows: ["open"], columns: "fan", values: "peak" })'],
  parameters: {
    rows: oneOrMoreColumns("any").option(),
    columns: column("any").option(),
    values: column().option(),
    show: choiceOf(groupStatistics, "GroupStatistic").option().optional(),
  },
  gives: "table",
  returns: "Table<Columns>",
  needs: "named",
  execute: (table, options) => pivot(table, options),
  foresee: (table, options) => {
    // Which columns there will be stands in the rows.
    pivot(table, options);
    return undefined;
  },
  proof: [{ on: "rows", given: [{ rows: "run", columns: "fan", values: "peak" }], digest: "4abf35b5ef1c6ffd" }],
});
