import { effects } from "@oxtrum/core/statistics";
import { column, columns } from "../parameters/kinds.js";
import { tableVerb } from "../parameters/table-verb.js";

export const effectsVerb = tableVerb({
  name: "effects",
  version: 3,
  doc:
    "Main effects of parameters: for each level the mean, its `effect` against the mean of all, and " +
    "`etaSquared`, the part of the variance that the parameter explains.",
  examples: ['peaks.effects("peak", ["fan", "open"])'],
  parameters: {
    output: column(),
    parameters: columns("any"),
  },
  gives: "table",
  returns: "Table<{ parameter: Text; level: Text; n: Numbers; mean: Numbers; effect: Numbers; etaSquared: Numbers }>",
  needs: "named",
  execute: (table, { output, parameters }) => effects(table, output, parameters),
  proof: [{ on: "history", given: ["T", ["state"]], digest: "619afac034eeafe4" }],
});
