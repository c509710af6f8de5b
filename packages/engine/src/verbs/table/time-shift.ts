import { timeShift } from "@oxtrum/core/statistics";
import { otherTable } from "../parameters/input-kinds.js";
import { amount, column, ofAxis, otherColumn } from "../parameters/kinds.js";
import { tableVerb } from "../parameters/table-verb.js";

export const timeShiftVerb = tableVerb({
  name: "timeShift",
  version: 3,
  doc:
    "How much later the other history shows what this one shows: where their correlation is largest, " +
    "between steps by a parabola. A constant difference and another scale do not matter.",
  examples: ['t.timeShift("T_mean", air.get("100_080_none"), { maxLag: "120 s" })'],
  parameters: {
    name: column(),
    table: otherTable().called("other"),
    other: otherColumn().option().optional(),
    maxLag: amount(ofAxis(), true).option().optional(),
  },
  gives: "quantity",
  needs: "named",
  execute: (table, { name, table: later, other, maxLag }) => timeShift(table, name, later, { other, maxLag }),
  proof: [{ on: "waves,waves", given: ["p", { maxLag: "2 s" }], digest: "7806bdc38550a441" }],
});
