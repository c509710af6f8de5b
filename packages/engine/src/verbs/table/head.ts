import { z } from "zod";
import { sliceRows } from "@oxtrum/core/tables";
import { number } from "../parameters/kinds.js";
import { tableVerb } from "../parameters/table-verb.js";

export const headVerb = tableVerb({
  name: "head",
  version: 1,
  doc: "The first rows, as they are listed.",
  examples: ["t.head(10)"],
  parameters: {
    count: number(z.number().int().min(0)),
  },
  gives: "table",
  needs: "passed on",
  execute: (table, { count }) => sliceRows(table, 0, Math.min(count, table.rows)),
  proof: [{ on: "history", given: [3], digest: "531d0bd7ab26c036" }],
});
