import { lawColumn } from "@oxtrum/core/statistics";
import { lawInputs } from "../parameters/input-kinds.js";
import { choice, newName, text } from "../parameters/kinds.js";
import { tableVerb } from "../parameters/table-verb.js";

export const lawVerb = tableVerb({
  name: "law",
  version: 1,
  doc: 'A column by a published law, of columns or quantities. Rows outside its range are blank and counted, unless `outside: "keep"`.',
  examples: ['peaks.derive("Re", "open / 1 s * 100").law("f", "friction.smooth", { Re: "Re" })'],
  parameters: {
    as: newName().generic("N"),
    law: text("LawName").called("name"),
    inputs: lawInputs(),
    outside: choice("blank", "keep").option().optional(),
  },
  gives: "table",
  adds: ["{as}"],
  needs: "passed on",
  execute: (table, { as, law, inputs, outside }) => lawColumn(table, as, law, inputs, outside),
  proof: [
    { on: "history", given: ["rho", "air.density", { T: "T", p: { quantity: "1 bar" } }], digest: "b5b204116b157449" },
  ],
});
