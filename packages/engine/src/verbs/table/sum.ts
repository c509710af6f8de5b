import { sum } from "@oxtrum/core/statistics";
import { column } from "../parameters/kinds.js";
import { tableVerb } from "../parameters/table-verb.js";

export const sumVerb = tableVerb({
  name: "sum",
  version: 1,
  doc: "The sum of the values.",
  examples: ['peaks.sum("open")'],
  parameters: {
    name: column(),
  },
  gives: "quantity",
  needs: "named",
  execute: (table, { name }) => sum(table, name),
  proof: [{ on: "history", given: ["q"], digest: "e63c99976bef4e4b" }],
});
