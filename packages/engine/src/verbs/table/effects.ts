import { effects } from "@oxtrum/core/statistics";
import { column, columns } from "../parameters/kinds.js";
import { tableVerb } from "../parameters/table-verb.js";

export const effectsVerb = tableVerb({
  name: "effects",
  version: 2,
  doc: "Main effects of parameters: for each level the mean, its `effect` against the mean of all, and the `share` of the variation that the parameter accounts for.",
  examples: ['peaks.effects("peak", ["fan", "open"])'],
  parameters: {
    output: column(),
    parameters: columns("any"),
  },
  gives: "table",
  returns: "Table<{ parameter: Words; level: Words; n: Numbers; mean: Numbers; effect: Numbers; share: Numbers }>",
  needs: "named",
  execute: (table, { output, parameters }) => effects(table, output, parameters),
  proof: [{ on: "history", given: ["T", ["state"]], digest: "fa6a6561a05f817f" }],
});
