import { describeColumns } from "@oxtrum/core/statistics";
import { sliceRows } from "@oxtrum/core/tables";
import { columnsGiven } from "../parameters/kinds.js";
import { tableVerb } from "../parameters/table-verb.js";

export const describeVerb = tableVerb({
  name: "describe",
  version: 3,
  doc: "A row per column: count, mean, standard deviation (n−1), extremes, quartiles, skewness, excess kurtosis; unweighted.",
  examples: ['peaks.describe("peak")'],
  parameters: {
    names: columnsGiven(),
  },
  gives: "table",
  returns:
    'Table< { [K in "count" | "mean" | "std" | "min" | "p25" | "p50" | "p75" | "max" | "skewness" | ' +
    '"kurtosis"]: Numbers } & { column: Text; unit: Text; } >',
  needs: "any",
  execute: (table, { names }) => describeColumns(table, names),
  foresee: (table, { names }) => sliceRows(describeColumns(table, names), 0, 0),
  proof: [{ on: "history", given: [], digest: "397065f067cecf86" }],
});
