import { column as columnOf, withColumns } from "@oxtrum/core/tables";
import { column, text } from "../parameters/kinds.js";
import { tableVerb } from "../parameters/table-verb.js";

export const labelVerb = tableVerb({
  name: "label",
  version: 1,
  doc: "The text that charts and tables show for a column; `_{…}` and `^{…}` lower and raise.",
  examples: ['t.label("T_mean", "T_{mean}")'],
  parameters: {
    name: column("any"),
    label: text(),
  },
  gives: "table",
  needs: "passed on",
  execute: (table, { name, label }) => {
    columnOf(table, name);
    return withColumns(
      table,
      table.columns.map((c) => (c.name === name ? { ...c, label } : c)),
    );
  },
  proof: [{ on: "history", given: ["q", "heat"], digest: "a9108aa7986b9376" }],
});
