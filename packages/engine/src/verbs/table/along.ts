import { along } from "@oxtrum/core/tables";
import { column } from "../parameters/kinds.js";
import { tableVerb } from "../parameters/table-verb.js";

export const alongVerb = tableVerb({
  name: "along",
  version: 1,
  doc: "The axis for look-ups, weights and integrals from here on.",
  examples: ['log.along("iteration")'],
  parameters: {
    axis: column(),
  },
  gives: "table",
  needs: "passed on",
  execute: (table, { axis }) => along(table, axis),
  proof: [{ on: "history", given: ["q"], digest: "c1c1d8af1fdbb96c" }],
});
