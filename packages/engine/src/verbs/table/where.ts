import { column as columnOf, evaluateFormula, filterRows, type Table } from "@oxtrum/core/tables";
import { condition, constants, type Constants, type RowCondition } from "../parameters/kinds.js";
import { tableVerb } from "../parameters/table-verb.js";

/** Rows that fulfil a formula or equal given values, as 0 and 1. */
function rowsKept(table: Table, condition: RowCondition, constants: Constants): { keep: Float64Array; what: string } {
  if ("formula" in condition)
    return {
      keep: evaluateFormula(condition.formula.tree, table, constants).values,
      what: condition.formula.text,
    };
  const keep = new Float64Array(table.rows).fill(1);
  for (const [key, wanted] of Object.entries(condition.equal)) {
    const c = columnOf(table, key);
    const list: readonly unknown[] = Array.isArray(wanted) ? wanted : [wanted];
    for (let i = 0; i < keep.length; i++) if (!list.includes(c.values[i])) keep[i] = 0;
  }
  return { keep, what: Object.keys(condition.equal).join(", ") };
}

export const whereVerb = tableVerb({
  name: "where",
  version: 2,
  doc: "Rows that fulfil a formula, or have given values.",
  examples: ['t.where("T_mean > 275 K")', "hit.where({ step: 2 })"],
  parameters: {
    condition: condition(),
    constants: constants().called("values"),
  },
  gives: "table",
  needs: "passed on",
  execute: (table, given) => {
    const { keep, what } = rowsKept(table, given.condition, given.constants);
    return filterRows(table, keep, what);
  },
  proof: [{ on: "history", given: ["T > 283 K"], digest: "5828dac3e6b3ae5f" }],
});
