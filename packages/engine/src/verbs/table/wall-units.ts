import { wallUnits } from "@oxtrum/core/statistics";
import { givenQuantity } from "../parameters/input-kinds.js";
import { column } from "../parameters/kinds.js";
import { tableVerb } from "../parameters/table-verb.js";

export const wallUnitsVerb = tableVerb({
  name: "wallUnits",
  version: 1,
  doc: "A profile in wall units: adds `y.plus` and `u.plus` with the friction velocity √(shear/rho); `y` and `u` name the columns.",
  examples: [
    'study("plate-cooler").runs.map((run) => run.table("profiles/x150mm.csv").wallUnits({ y: "y", u: ' +
      '"u", shear: "1 Pa", nu: run.params.nu, rho: run.params.rho ' +
      '})).get("turbulent_Re10000_g40_fine_resolved")',
  ],
  parameters: {
    y: column().generic("Y").option(),
    u: column().generic("U").option(),
    shear: givenQuantity().option(),
    nu: givenQuantity().option(),
    rho: givenQuantity().option(),
    wall: givenQuantity().option().optional(),
  },
  gives: "table",
  adds: ["{y}.plus", "{u}.plus"],
  needs: "passed on",
  execute: (table, { y, u, shear, nu, rho, wall }) => wallUnits(table, { y, u, shear, nu, rho, wall }),
  proof: [
    {
      on: "profile",
      given: [{ y: "y", u: "u", shear: "1 Pa", nu: "1e-6 m^2/s", rho: "1000 kg/m^3" }],
      digest: "aeac83c1496faddd",
    },
  ],
});
