import { compareTo } from "@oxtrum/core/statistics";
import { column as columnOf, makeTable, own, sliceRows } from "@oxtrum/core/tables";
import { columns, key } from "../parameters/kinds.js";
import { tableVerb } from "../parameters/table-verb.js";

export const compareToVerb = tableVerb({
  name: "compareTo",
  version: 3,
  doc: "Each number column's change against a baseline row: `name.diff`, `name.percent`.",
  examples: ['peaks.compareTo({ fan: 75 }, { match: ["open"] })'],
  parameters: {
    baseline: key(),
    match: columns("any").option().otherwise([]),
  },
  gives: "table",
  returns: "Table<C & Columns>",
  needs: "any",
  execute: (table, { baseline, match }, { inputs: [input] }) => {
    // The baseline may be among the runs that are out: then there is nothing to compare with, but no mistake.
    const absent = input?.kind === "table" && (input.left?.length ?? 0) > 0 ? "blank" : "error";
    return compareTo(table, baseline, { match, absent });
  },
  foresee: (table, { baseline, match }) => {
    // One row that is its own baseline shows which columns come out.
    match.forEach((m) => columnOf(table, m));
    const row = makeTable(
      table.columns.map((c) =>
        c.kind === "number"
          ? { ...c, values: Float64Array.of(Number(own(baseline, c.name) ?? 1)) }
          : { ...c, values: [String(own(baseline, c.name) ?? "")] },
      ),
      { axis: table.axis },
    );
    return { ...sliceRows(compareTo(row, baseline, { match }), 0, 0), notes: [] };
  },
  proof: [{ on: "rows", given: [{ fan: { quantity: "75 %" } }], digest: "c37637a389b8f4f6" }],
});
