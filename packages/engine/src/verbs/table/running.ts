import { running } from "@oxtrum/core/statistics";
import { choice, column } from "../parameters/kinds.js";
import { tableVerb } from "../parameters/table-verb.js";

export const runningVerb = tableVerb({
  name: "running",
  version: 1,
  doc: "Adds `name.running`, the largest (or smallest) value so far.",
  examples: ['t.running("T_max", "max")'],
  parameters: {
    name: column().generic("N"),
    what: choice("max", "min").otherwise("max"),
  },
  gives: "table",
  adds: ["{name}.running"],
  needs: "passed on",
  execute: (table, { name, what }) => running(table, name, what),
  proof: [{ on: "history", given: ["q"], digest: "6b793fcf9d5bc551" }],
});
