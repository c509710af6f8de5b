import { amplitudes, amplitudesShape } from "@oxtrum/core/statistics";
import { column } from "../parameters/kinds.js";
import { tableVerb } from "../parameters/table-verb.js";

export const amplitudesVerb = tableVerb({
  name: "amplitudes",
  version: 1,
  doc:
    "The amplitudes of all frequencies over all rows, in even steps, without a window: `frequency`, " +
    "`name.amplitude`, `name.phase` in degrees.",
  examples: ['t.pick("T_mean").amplitudes("T_mean")'],
  parameters: {
    name: column().generic("N"),
  },
  gives: "table",
  returns: 'Table<{ [K in "frequency" | `${N}.amplitude` | `${N}.phase`]: Numbers }>',
  needs: "named",
  execute: (table, { name }) => amplitudes(table, name),
  foresee: (table, { name }) => amplitudesShape(table, name),
  proof: [{ on: "waves", given: ["p"], digest: "6da6a38227ad5e46" }],
});
