import { crossCorrelation } from "@oxtrum/core/statistics";
import { amount, column, ofAxis, otherColumn, otherTable } from "../parameters/kinds.js";
import { tableVerb } from "../parameters/table-verb.js";

export const crossCorrelationVerb = tableVerb({
  name: "crossCorrelation",
  version: 1,
  doc: "The correlation with another history against how much later that one is: `shift`, `correlation`.",
  examples: ['t.crossCorrelation("T_mean", air.get("100_080_none"), { most: "120 s" })'],
  parameters: {
    name: column(),
    table: otherTable().called("other"),
    other: otherColumn().option().optional(),
    most: amount(ofAxis(), true).option().optional(),
  },
  gives: "table",
  returns: "Table<{ shift: Numbers; correlation: Numbers }>",
  needs: "named",
  execute: (table, { name, table: later, other, most }) => crossCorrelation(table, name, later, { other, most }),
  proof: [{ on: "waves,waves", given: ["p", { most: "2 s" }], digest: "de72c03c7884cb37" }],
});
