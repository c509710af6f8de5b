import { makeTable, numberColumn, numbers, TableError, type Column, type Table } from "../tables/table.js";
import { interpolate } from "../tables/resample.js";
import { commonPlaces, membersOf, sameValues, type CommonAxis } from "./across.js";

/**
 * Several tables on one axis, for formulas over all of them: columns are `name.column` by the names given here, between
 * rows by straight lines, blank where a table does not reach. The axis is the union of the tables' places unless said
 * otherwise.
 *
 * @throws TableError when axes do not overlap (but for the union) or their units do not agree
 * @example together({ measured, simulated }, { on: "time" }) // measured.T, simulated.T
 */
export function together(
  tables: Readonly<Record<string, Table>>,
  options: { on?: string | undefined; axis?: CommonAxis | undefined } = {},
): Table {
  const names = Object.keys(tables);
  if (names.length === 0) throw new TableError("together: no table is given");
  const { members, axis } = membersOf(Object.values(tables), options.on);
  const empty = members.some((m) => m.axis.length === 0);
  const { places, note } = empty
    ? { places: new Float64Array(0), note: "" }
    : commonPlaces(members, options.axis ?? "union");
  const columns: Column[] = [numberColumn(axis.name, axis.unit, places)];
  members.forEach((m, k) => {
    for (const c of m.table.columns) {
      if (c.kind !== "number" || c.name === axis.name) continue;
      const v = numbers(m.table, c.name).values;
      const values = empty ? places : sameValues(m.axis, places) ? v : interpolate(m.axis, v, places);
      columns.push({ ...c, name: `${names[k]!}.${c.name}`, values });
    }
  });
  const notes = Object.values(tables).flatMap((t) => t.notes);
  return makeTable(columns, { axis: axis.name, notes: [...notes, ...(note ? [`${names.join(", ")}: ${note}`] : [])] });
}
