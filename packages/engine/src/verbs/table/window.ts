import { windowRows } from "@oxtrum/core/tables";
import { choice, column, ofColumn, range } from "../parameters/kinds.js";
import { tableVerb } from "../parameters/table-verb.js";

export const windowVerb = tableVerb({
  name: "window",
  version: 3,
  doc:
    "Rows whose axis value lies in the range, ends included. A table that does not reach the ends is " +
    'noted, or with `cover: "need"` fails for its run.',
  examples: ['t.window("time", ["0 s", "30 min"])'],
  parameters: {
    axis: column(),
    range: range(ofColumn("axis")),
    cover: choice("warn", "need").option().optional(),
  },
  gives: "table",
  needs: "passed on",
  execute: (table, { axis, range, cover }) => windowRows(table, axis, range, cover === undefined ? {} : { cover }),
  foresee: (table) => table,
  proof: [{ on: "history", given: ["time", ["0.1 min", "20 s"]], digest: "3802b270b9562d9d" }],
});
