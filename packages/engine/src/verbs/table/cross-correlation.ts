import { crossCorrelation } from "@oxtrum/core/statistics";
import { otherTable } from "../parameters/input-kinds.js";
import { amount, column, ofAxis, otherColumn } from "../parameters/kinds.js";
import { tableVerb } from "../parameters/table-verb.js";

export const crossCorrelationVerb = tableVerb({
  name: "crossCorrelation",
  version: 1,
  doc: "The correlation with another history against how much later that one is: `shift`, `correlation`.",
  examples: ['t.crossCorrelation("T_mean", air.get("100_080_none"), { maxLag: "120 s" })'],
  parameters: {
    name: column(),
    table: otherTable().called("other"),
    other: otherColumn().option().optional(),
    maxLag: amount(ofAxis(), true).option().optional(),
  },
  gives: "table",
  returns: "Table<{ shift: Numbers; correlation: Numbers }>",
  needs: "named",
  execute: (table, { name, table: later, other, maxLag }) => crossCorrelation(table, name, later, { other, maxLag }),
  proof: [{ on: "waves,waves", given: ["p", { maxLag: "2 s" }], digest: "de72c03c7884cb37" }],
});
