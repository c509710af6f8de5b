import { pick } from "@oxtrum/core/tables";
import { columnsGiven } from "../parameters/kinds.js";
import { tableVerb } from "../parameters/table-verb.js";

export const pickVerb = tableVerb({
  name: "pick",
  version: 1,
  doc: "Only these columns (and the axis).",
  examples: ['t.pick("T_mean", "humidity")'],
  parameters: {
    names: columnsGiven("any").generic("N"),
  },
  gives: "table",
  returns: "Table<Pick<C, Extract<N, keyof C>>>",
  needs: "named",
  execute: (table, { names }) => pick(table, names),
  proof: [{ on: "history", given: ["T"], digest: "214d96e5f1526b1e" }],
});
