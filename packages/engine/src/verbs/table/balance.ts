import { balance } from "@oxtrum/core/statistics";
import { columns, text } from "../parameters/kinds.js";
import { tableVerb } from "../parameters/table-verb.js";

export const balanceVerb = tableVerb({
  name: "balance",
  version: 1,
  doc: "How alike many columns are, row by row: `mean`, `least`, `most`, `spread`, `imbalance` (most/mean − 1), `governs` and `lags` (the columns that have most and least).",
  examples: ['run.table("load/cells_per_worker.csv").balance(["cells_0", "cells_1", "cells_2"])'],
  parameters: {
    names: columns(),
    as: text().option().optional(),
  },
  gives: "table",
  returns:
    'Table< C & { [K in "mean" | "least" | "most" | "spread" | "imbalance"]: Numbers } & { governs: Words; lags: Words } >',
  needs: "passed on",
  execute: (table, { names, as }) => balance(table, names, as),
  proof: [{ on: "twoFans", given: [["fan", "fan2"]], digest: "5a6c45a7217996d5" }],
});
