import { moveAxis } from "@oxtrum/core/statistics";
import { axisOf, displayUnit, formatNumber } from "@oxtrum/core/tables";
import { boundIn } from "../arguments.js";
import { quantity } from "../parameters/input-kinds.js";
import { tableVerb } from "../parameters/table-verb.js";
import { Mistake } from "../values.js";

export const shiftAxisVerb = tableVerb({
  name: "shiftAxis",
  version: 1,
  doc: "The table moved along its axis.",
  examples: ['t.shiftAxis("-42 s")'],
  parameters: {
    by: quantity(),
  },
  gives: "table",
  needs: "passed on",
  execute: (table, { by }) => {
    if (by.reason !== undefined) throw new Mistake(`shiftAxis: the shift has no value: ${by.reason}`);
    const { unit } = axisOf(table);
    const d = boundIn({ value: by.value, unit: by.unit }, unit, "shiftAxis", true);
    return moveAxis(table, d, `moved by ${formatNumber(d)} ${displayUnit(unit)}`.trimEnd());
  },
  foresee: (table) => {
    axisOf(table);
    return table;
  },
  proof: [{ on: "history", given: ["-1 min"], digest: "1ceeed995daa4205" }],
});
