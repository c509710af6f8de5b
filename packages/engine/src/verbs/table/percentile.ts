import { percentile } from "@oxtrum/core/statistics";
import { column, number } from "../parameters/kinds.js";
import { tableVerb } from "../parameters/table-verb.js";

export const percentileVerb = tableVerb({
  name: "percentile",
  version: 2,
  doc: "A percentile, unweighted, linear between order statistics (Hyndman & Fan 1996, definition 7).",
  examples: ['t.percentile("T_mean", 95)'],
  parameters: {
    name: column(),
    percent: number(),
  },
  gives: "quantity",
  needs: "named",
  execute: (table, { name, percent }) => percentile(table, name, percent),
  proof: [{ on: "history", given: ["T", 90], digest: "2759241b849b61fc" }],
});
