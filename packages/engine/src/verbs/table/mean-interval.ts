import { meanInterval } from "@oxtrum/core/statistics";
import { column, number } from "../parameters/kinds.js";
import { tableVerb } from "../parameters/table-verb.js";

export const meanIntervalVerb = tableVerb({
  name: "meanInterval",
  version: 1,
  doc: "The confidence interval of the mean of independent values (Student's t), 95 % unless said otherwise.",
  examples: ['peaks.meanInterval("peak", { confidence: 0.9 }).upper'],
  parameters: {
    name: column(),
    confidence: number().option().otherwise(0.95),
  },
  gives: "quantity",
  returns: "{ lower: Quantity; upper: Quantity }",
  parts: ["lower", "upper"],
  needs: "named",
  execute: (table, { name, confidence }, { part }) => meanInterval(table, name, confidence, part as "lower" | "upper"),
  proof: [{ on: "history", given: ["T"], digest: "d1e71b118773342c d7d7960363fd7462" }],
});
