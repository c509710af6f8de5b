import { meanError } from "@oxtrum/core/statistics";
import { column } from "../parameters/kinds.js";
import { tableVerb } from "../parameters/table-verb.js";

export const meanErrorVerb = tableVerb({
  name: "meanError",
  version: 2,
  doc: "The standard error of the mean, allowing for correlated neighbours (Sokal 1997). Needs even steps.",
  examples: ['t.detrend("T_mean", { degree: 5 }).meanError("T_mean.detrended")'],
  parameters: {
    name: column(),
  },
  gives: "quantity",
  needs: "named",
  execute: (table, { name }) => meanError(table, name),
  proof: [{ on: "waves", given: ["p"], digest: "9ae180fa0fdce292" }],
});
