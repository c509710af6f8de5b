import { convergenceTable } from "@oxtrum/core/statistics";
import { column } from "../parameters/kinds.js";
import { tableVerb } from "../parameters/table-verb.js";

export const convergeVerb = tableVerb({
  name: "converge",
  version: 3,
  doc:
    "Mesh convergence of a column over the cells' sizes, from the three finest rows: observed order, " +
    "extrapolated value, relative differences, the grid convergence index (Celik et al. 2008), and " +
    "whether it is monotonic, oscillating, diverging or level.",
  examples: ['peaks.where({ open: 80 }).converge("peak", { size: "fan" })'],
  parameters: {
    name: column(),
    size: column().option(),
  },
  gives: "table",
  returns: 'Table<{ [K in "order" | "extrapolated" | "difference" | "error" | "gci"]: Numbers } & { kind: Text }>',
  needs: "named",
  execute: (table, { name, size }) => convergenceTable(table, name, size),
  proof: [{ on: "levels", given: ["p", { size: "time" }], digest: "7953b1a60a721988" }],
});
