import { correlations } from "@oxtrum/core/statistics";
import { columnsGiven } from "../parameters/kinds.js";
import { tableVerb } from "../parameters/table-verb.js";

export const correlationsVerb = tableVerb({
  name: "correlations",
  version: 1,
  doc: "A row for each pair of columns: `pearson`, `spearman`, `n`, and the `chance` of as large an r without any dependence.",
  examples: ['peaks.correlations("fan", "open", "peak")'],
  parameters: {
    names: columnsGiven(),
  },
  gives: "table",
  returns: "Table<{ first: Words; second: Words; n: Numbers; pearson: Numbers; spearman: Numbers; chance: Numbers }>",
  needs: "any",
  execute: (table, { names }) => correlations(table, names),
  proof: [{ on: "history", given: ["T", "q"], digest: "47d4b289c391a65c" }],
});
