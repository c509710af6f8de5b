import { covariance } from "@oxtrum/core/statistics";
import { column } from "../parameters/kinds.js";
import { tableVerb } from "../parameters/table-verb.js";

export const covarianceVerb = tableVerb({
  name: "covariance",
  version: 1,
  doc: "The covariance of two columns, n−1.",
  examples: ['peaks.covariance("fan", "peak")'],
  parameters: {
    name: column(),
    other: column(),
  },
  gives: "quantity",
  needs: "named",
  execute: (table, { name, other }) => covariance(table, name, other),
  proof: [{ on: "history", given: ["T", "q"], digest: "83f316937d6ffb24" }],
});
