import { pairs } from "@oxtrum/core/statistics";
import { columns, key } from "../parameters/kinds.js";
import { tableVerb } from "../parameters/table-verb.js";

export const pairsVerb = tableVerb({
  name: "pairs",
  version: 2,
  doc: "Each row with the one that differs from it in one parameter alone, with the baseline's value there: `name.diff`, `name.percent`.",
  examples: ["peaks.pairs({ fan: 75, open: 80 })"],
  parameters: {
    baseline: key(),
    columns: columns().option().optional(),
  },
  gives: "table",
  returns: "Table<{ parameter: Text; from: Text; to: Text } & C & Columns>",
  needs: "any",
  execute: (table, { baseline, columns }) => pairs(table, baseline, columns),
  proof: [{ on: "rows", given: [{ fan: 50 }], digest: "fd9ad9df8f887d25" }],
});
