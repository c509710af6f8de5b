import { max, min } from "@oxtrum/core/statistics";
import { numbers, sliceRows, takeRows } from "@oxtrum/core/tables";
import { choice, column } from "../parameters/kinds.js";
import { tableVerb } from "../parameters/table-verb.js";

export const governingVerb = tableVerb({
  name: "governing",
  version: 1,
  doc: "The row with the largest (or smallest) value.",
  examples: ['peaks.governing("peak")'],
  parameters: {
    name: column(),
    which: choice("max", "min").otherwise("max"),
  },
  gives: "table",
  needs: "passed on",
  execute: (table, { name, which }) => {
    const c = numbers(table, name);
    const { value } = { max, min }[which](table, name);
    const row = c.values.indexOf(value);
    return row < 0
      ? sliceRows(table, 0, 0)
      : takeRows(
          table,
          [row],
          [`the row with the ${which === "max" ? "largest" : "smallest"} "${name}" of ${table.rows}`],
        );
  },
  proof: [{ on: "history", given: ["q"], digest: "c2feb44b7f1ce925" }],
});
