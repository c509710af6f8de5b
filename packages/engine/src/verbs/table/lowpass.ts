import { lowpass } from "@oxtrum/core/statistics";
import { amount, column, numberOf, ofFrequency } from "../parameters/kinds.js";
import { tableVerb } from "../parameters/table-verb.js";

export const lowpassVerb = tableVerb({
  name: "lowpass",
  version: 2,
  doc:
    "Adds `name.lowpass`, what is slower than a frequency, without a shift in time: a Butterworth " +
    "low-pass run forwards and backwards. Needs even steps.",
  examples: ['t.lowpass("coil_duty", { below: "0.01 Hz" })'],
  parameters: {
    name: column().generic("N"),
    below: amount(ofFrequency()).option(),
    order: numberOf("2 | 4 | 6 | 8").option().optional(),
  },
  gives: "table",
  adds: ["{name}.lowpass"],
  needs: "passed on",
  execute: (table, { name, below, order }) => lowpass(table, name, { below, order }),
  proof: [{ on: "waves", given: ["p", { below: "0.5 Hz" }], digest: "78c3be6b237921b4" }],
});
