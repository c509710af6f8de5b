import { moveAxis } from "@oxtrum/core/statistics";
import { axisOf, displayUnit, formatNumber, risingAlong, type Table, windowRows } from "@oxtrum/core/tables";
import { boundIn } from "../arguments.js";
import { quantity } from "../parameters/input-kinds.js";
import { amount, ofAxis } from "../parameters/kinds.js";
import { tableVerb } from "../parameters/table-verb.js";
import { Mistake } from "../values.js";

export const sinceVerb = tableVerb({
  name: "since",
  version: 2,
  doc: "The rows after an event, the axis counted from it; `for` so much of them.",
  examples: ['t.since(t.max("T_mean").at, { for: "10 min" })'],
  parameters: {
    event: quantity(),
    length: amount(ofAxis(), true).option().optional().called("for"),
  },
  gives: "table",
  needs: "passed on",
  execute: (table, { event, length }) => {
    if (event.reason !== undefined || event.value !== event.value)
      throw new Mistake(`since: the event has no place: ${event.reason ?? "it is missing"}`);
    const axis = axisOf(risingAlong(table));
    const at = boundIn({ value: event.value, unit: event.unit }, axis.unit, "since");
    const move = (rows: Table): Table =>
      moveAxis(rows, -at, `counted from ${formatNumber(at)} ${displayUnit(axis.unit)}`.trimEnd());
    if (table.rows === 0) return move(table);
    // The window is taken on the axis as it is: near zero, nothing tells rounding from a step.
    const last = Math.max(at, axis.values[table.rows - 1]!);
    return move(windowRows(table, axis.name, [at, length === undefined ? last : at + length]));
  },
  foresee: (table) => {
    axisOf(table);
    return table;
  },
  proof: [{ on: "history", given: ["10 s", { for: "5 s" }], digest: "7f2af8495645230c" }],
});
