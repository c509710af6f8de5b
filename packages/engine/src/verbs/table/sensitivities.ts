import { sensitivities } from "@oxtrum/core/statistics";
import { column, columns } from "../parameters/kinds.js";
import { tableVerb } from "../parameters/table-verb.js";

export const sensitivitiesVerb = tableVerb({
  name: "sensitivities",
  version: 3,
  doc: "Standardised linear coefficients of parameters, strongest first, with 95 % intervals; R² in the notes.",
  examples: ['peaks.sensitivities("peak", ["fan", "open"])'],
  parameters: {
    output: column(),
    parameters: columns("any"),
  },
  gives: "table",
  returns: "Table<{ parameter: Text; sensitivity: Numbers; low: Numbers; high: Numbers }>",
  needs: "named",
  execute: (table, { output, parameters }) => sensitivities(table, output, parameters),
  proof: [{ on: "history", given: ["T", ["state", "q"]], digest: "931d5ed1bb2d8f7d" }],
});
