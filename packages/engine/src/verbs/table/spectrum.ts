import { spectrum, spectrumShape } from "@oxtrum/core/statistics";
import { column, number } from "../parameters/kinds.js";
import { tableVerb } from "../parameters/table-verb.js";

export const spectrumVerb = tableVerb({
  name: "spectrum",
  version: 3,
  doc:
    "The power spectral density over the axis, in even steps (Welch 1967: half-overlapping segments " +
    "about their mean, Hann window): `frequency` and `name.psd`, whose integral is the variance. " +
    "`length` is the rows of a segment, a power of two.",
  examples: ['t.pick("T_mean").spectrum("T_mean", { length: 64 })'],
  parameters: {
    name: column().generic("N"),
    length: number().option().optional(),
  },
  gives: "table",
  returns: 'Table<{ [K in "frequency" | `${N}.psd`]: Numbers }>',
  needs: "named",
  execute: (table, { name, length }) => spectrum(table, name, { length }),
  foresee: (table, { name }) => spectrumShape(table, name),
  proof: [{ on: "waves", given: ["p", { length: 16 }], digest: "3bb71b9efea40079" }],
});
