import { steadyFrom } from "@oxtrum/core/statistics";
import { column } from "../parameters/kinds.js";
import { tableVerb } from "../parameters/table-verb.js";

export const steadyFromVerb = tableVerb({
  name: "steadyFrom",
  version: 1,
  doc: "Where the steady part begins: the cut that makes the mean of the rest best known (White 1997).",
  examples: ['t.window("time", ["600 s", "1800 s"]).steadyFrom("humidity")'],
  parameters: {
    name: column(),
  },
  gives: "quantity",
  needs: "named",
  execute: (table, { name }) => steadyFrom(table, name),
  proof: [{ on: "history", given: ["T"], digest: "1e992b9c502a8b0a" }],
});
