import { z } from "zod";
import { sliceRows } from "@oxtrum/core/tables";
import { number } from "../parameters/kinds.js";
import { tableVerb } from "../parameters/table-verb.js";

export const tailVerb = tableVerb({
  name: "tail",
  version: 1,
  doc: "The last rows, as they are listed.",
  examples: ["t.tail(10)"],
  parameters: {
    count: number(z.number().int().min(0)),
  },
  gives: "table",
  needs: "passed on",
  execute: (table, { count }) => sliceRows(table, Math.max(0, table.rows - count), table.rows),
  proof: [{ on: "history", given: [3], digest: "5dd160c2cc3bf24f" }],
});
