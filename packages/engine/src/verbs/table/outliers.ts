import { z } from "zod";
import { outliers } from "@oxtrum/core/statistics";
import { choice, column, number } from "../parameters/kinds.js";
import { tableVerb } from "../parameters/table-verb.js";

export const outliersVerb = tableVerb({
  name: "outliers",
  version: 2,
  doc:
    "Adds `name.outlier`, `high` or `low` for values far from the others: beyond 1.5 interquartile " +
    "ranges (`quartiles`), modified z-score above 3.5 (`median`), or 3 deviations (`deviation`).",
  examples: ['peaks.outliers("peak", { rule: "median" })'],
  parameters: {
    name: column().generic("N"),
    rule: choice("quartiles", "median", "deviation").option().optional(),
    limit: number(z.number().positive()).option().optional(),
  },
  gives: "table",
  returns: "Table<C & { [K in `${N}.outlier`]: Text }>",
  adds: ["{name}.outlier"],
  needs: "passed on",
  execute: (table, { name, rule, limit }) => outliers(table, name, { rule, limit }),
  proof: [{ on: "history", given: ["T"], digest: "b7ea32d02b245222" }],
});
