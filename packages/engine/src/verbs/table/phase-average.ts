import { z } from "zod";
import { phaseAverage } from "@oxtrum/core/statistics";
import { amount, column, number, ofAxis } from "../parameters/kinds.js";
import { tableVerb } from "../parameters/table-verb.js";

export const phaseAverageVerb = tableVerb({
  name: "phaseAverage",
  version: 1,
  doc: "The mean of all whole periods: `phase` in degrees, `name.mean`, `name.std`.",
  examples: ['t.phaseAverage("T_mean", { period: "5 min", points: 36 })'],
  parameters: {
    name: column().generic("N"),
    period: amount(ofAxis(), true).option(),
    from: amount(ofAxis()).option().optional(),
    points: number(z.number().int()).option().optional(),
  },
  gives: "table",
  returns: 'Table<{ [K in "phase" | `${N}.mean` | `${N}.std`]: Numbers }>',
  needs: "named",
  execute: (table, { name, period, from, points }) => phaseAverage(table, name, { period, from, points }),
  proof: [{ on: "waves", given: ["p", { period: "3 s", points: 4 }], digest: "9a4eebb225eca92f" }],
});
