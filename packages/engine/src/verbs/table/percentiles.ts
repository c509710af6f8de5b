import { z } from "zod";
import { percentiles } from "@oxtrum/core/statistics";
import { sliceRows } from "@oxtrum/core/tables";
import { column, numberList } from "../parameters/kinds.js";
import { tableVerb } from "../parameters/table-verb.js";

export const percentilesVerb = tableVerb({
  name: "percentiles",
  version: 1,
  doc: "Several percentiles at once: a row each, `percent` and the column.",
  examples: ['t.percentiles("T_mean", [5, 50, 95])'],
  parameters: {
    name: column().generic("N"),
    percents: numberList(z.array(z.number()).min(1).max(1000)),
  },
  gives: "table",
  returns: 'Table<{ [K in "percent" | N]: Numbers }>',
  needs: "named",
  execute: (table, { name, percents }) => percentiles(table, name, percents),
  foresee: (table, { name, percents }) => percentiles(sliceRows(table, 0, 0), name, percents),
  proof: [{ on: "history", given: ["T", [5, 50]], digest: "e561cd025e7cd0bb" }],
});
