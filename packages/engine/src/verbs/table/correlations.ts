import { correlations } from "@oxtrum/core/statistics";
import { columnsGiven } from "../parameters/kinds.js";
import { tableVerb } from "../parameters/table-verb.js";

export const correlationsVerb = tableVerb({
  name: "correlations",
  version: 2,
  doc: "A row for each pair of columns: `pearson`, `spearman`, `n`, and the `pValue` of r under no dependence.",
  examples: ['peaks.correlations("fan", "open", "peak")'],
  parameters: {
    names: columnsGiven(),
  },
  gives: "table",
  returns: "Table<{ first: Text; second: Text; n: Numbers; pearson: Numbers; spearman: Numbers; pValue: Numbers }>",
  needs: "any",
  execute: (table, { names }) => correlations(table, names),
  proof: [{ on: "history", given: ["T", "q"], digest: "74b4ec94f7af7034" }],
});
