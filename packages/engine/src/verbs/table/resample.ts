import { makeTable, resample } from "@oxtrum/core/tables";
import { column, ofColumn, spacing } from "../parameters/kinds.js";
import { tableVerb } from "../parameters/table-verb.js";

export const resampleVerb = tableVerb({
  name: "resample",
  version: 1,
  doc: "Other positions on the axis, linear between rows.",
  examples: ['t.resample("time", { step: "10 s" })'],
  parameters: {
    axis: column(),
    spacing: spacing(ofColumn("axis")),
  },
  gives: "table",
  needs: "any",
  execute: (table, { axis, spacing }) => resample(table, spacing, axis),
  foresee: (table, { axis }) =>
    makeTable(
      table.columns.filter((c) => c.kind === "number"),
      { axis },
    ),
  proof: [{ on: "history", given: ["time", { step: "2.5 s" }], digest: "7a05652bd35547d3" }],
});
