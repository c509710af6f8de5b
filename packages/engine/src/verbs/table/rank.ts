import { rank } from "@oxtrum/core/statistics";
import { choice, column } from "../parameters/kinds.js";
import { tableVerb } from "../parameters/table-verb.js";

export const rankVerb = tableVerb({
  name: "rank",
  version: 1,
  doc: "In order of a column, with the rank in `name.rank`; equal values share a rank.",
  examples: ['peaks.rank("peak")'],
  parameters: {
    name: column().generic("N"),
    order: choice("rising", "falling").otherwise("falling"),
  },
  gives: "table",
  adds: ["{name}.rank"],
  needs: "passed on",
  execute: (table, { name, order }) => rank(table, name, order),
  proof: [{ on: "rows", given: ["peak"], digest: "2d4d6a223c7aa36b" }],
});
