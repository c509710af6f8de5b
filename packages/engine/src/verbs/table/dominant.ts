import { dominantFrequency, spectrumShape } from "@oxtrum/core/statistics";
import { numbers } from "@oxtrum/core/tables";
import { column, number } from "../parameters/kinds.js";
import { tableVerb } from "../parameters/table-verb.js";

export const dominantVerb = tableVerb({
  name: "dominant",
  version: 2,
  doc: "The frequency at which the spectrum is largest, between its lines by a parabola.",
  examples: ['t.dominant("T_mean", { length: 64 })'],
  parameters: {
    name: column(),
    length: number().option().optional(),
  },
  gives: "quantity",
  needs: "named",
  execute: (table, { name, length }) => dominantFrequency(table, name, { length }),
  foresee: (table, { name }) => ({ value: Number.NaN, unit: numbers(spectrumShape(table, name), "frequency").unit }),
  proof: [{ on: "waves", given: ["p", { length: 16 }], digest: "d2bdbde03c6e1d30" }],
});
