import { correlationLength } from "@oxtrum/core/statistics";
import { numbers } from "@oxtrum/core/tables";
import { column } from "../parameters/kinds.js";
import { tableVerb } from "../parameters/table-verb.js";

export const correlationLengthVerb = tableVerb({
  name: "correlationLength",
  version: 1,
  doc: "The length along the axis over which values are correlated.",
  examples: ['t.detrend("T_mean", { degree: 5 }).correlationLength("T_mean.detrended")'],
  parameters: {
    name: column(),
  },
  gives: "quantity",
  needs: "named",
  execute: (table, { name }) => {
    numbers(table, name);
    return correlationLength(table, name);
  },
  proof: [{ on: "waves", given: ["p"], digest: "55276aa32e7b6040" }],
});
