import { balance } from "@oxtrum/core/statistics";
import { columns, text } from "../parameters/kinds.js";
import { tableVerb } from "../parameters/table-verb.js";

export const balanceVerb = tableVerb({
  name: "balance",
  version: 2,
  doc:
    "How alike many columns are, row by row: `mean`, `min`, `max`, `spread`, `imbalance` (max/mean − " +
    "1), `maxColumn` and `minColumn` (the columns that have them).",
  examples: ['run.table("load/cells_per_worker.csv").balance(["cells_0", "cells_1", "cells_2"])'],
  parameters: {
    names: columns(),
    as: text().option().optional(),
  },
  gives: "table",
  returns:
    'Table< C & { [K in "mean" | "min" | "max" | "spread" | "imbalance"]: Numbers } & { maxColumn: Text; minColumn: Text } >',
  needs: "passed on",
  execute: (table, { names, as }) => balance(table, names, as),
  proof: [{ on: "twoFans", given: [["fan", "fan2"]], digest: "2cd06d85031d29c8" }],
});
