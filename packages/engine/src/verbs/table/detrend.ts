import { detrend } from "@oxtrum/core/statistics";
import { column, number } from "../parameters/kinds.js";
import { tableVerb } from "../parameters/table-verb.js";

export const detrendVerb = tableVerb({
  name: "detrend",
  version: 2,
  doc:
    "Adds `name.detrended`: less its polynomial trend by least squares, a straight line unless said otherwise; " +
    "degree 0 takes the mean away.",
  examples: ['t.detrend("frost_mass", { degree: 2 })'],
  parameters: {
    name: column().generic("N"),
    degree: number().option().optional(),
  },
  gives: "table",
  adds: ["{name}.detrended"],
  needs: "passed on",
  execute: (table, { name, degree }) => detrend(table, name, degree),
  proof: [{ on: "history", given: ["T"], digest: "ca14cb342ef511c6" }],
});
