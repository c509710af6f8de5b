import { kindOf, stationColumn, type Site } from "@oxtrum/core/sampling";
import {
  formatNumber,
  makeTable,
  mergeConditions,
  numbers,
  numbersOf,
  type Column,
  type Table,
} from "@oxtrum/core/tables";
import { Mistake } from "../values.js";
import { gapsOf, stepOf, withConditions, type FieldOperation } from "./field-operation.js";
import { stepsWithin } from "./field-source.js";

/** The same table with nothing in it. */
const blank = (like: Table): Table => ({
  ...like,
  notes: [],
  columns: like.columns.map((c) =>
    c.kind === "text" ? c : { ...c, values: new Float64Array(c.values.length).fill(Number.NaN) },
  ),
});

/** Columns over time: one a reduced number or place; places and stations are told by their names or numbers. */
function historyColumns(rows: readonly Table[], site: Site): Column[] {
  const [first] = rows;
  const along = stationColumn(site);
  const fixed = new Set(
    along !== undefined
      ? [along, "station", "x", "y", "z", "distance", "size"]
      : ["x", "y", "z", "distance", "place", "size", "point", "cell"],
  );
  const shown = first!.columns.filter((c) => c.kind === "number" && !fixed.has(c.name));
  const many = first!.rows > 1;
  if (first!.rows * shown.length > 20_000)
    throw new Mistake(
      `a history of ${first!.rows} places is ${first!.rows * shown.length} columns: reduce it, or take fewer places`,
    );
  const labels = first!.columns.find((c) => c.name === "place" && c.kind === "text");
  const { numbered } = kindOf(site);
  const ids = numbered && numbers(first!, numbered).values;
  const station =
    along !== undefined && first!.columns.some((c) => c.name === along) ? numbers(first!, along).values : undefined;
  return shown.flatMap((c) =>
    Array.from({ length: first!.rows }, (_, i): Column => {
      const label =
        labels?.kind === "text" ? labels.values[i]! : station ? formatNumber(station[i]!) : String(ids?.[i] ?? i + 1);
      const name = many || labels ? `${c.name}@${label}` : c.name;
      return numbersOf(rows, name, c.kind === "number" ? c.unit : null, (r) => numbers(r, c.name).values[i]!);
    }),
  );
}

/** Samples or reductions over all times, or those of a window: a column for each number. */
export const history: FieldOperation = {
  name: "field.history",
  version: 9,
  steps: stepsWithin,
  run: (a, source) => {
    const within = stepsWithin(a, source);
    const steps = within.map((k) => stepOf(a, source, k));
    const first = steps.find((s) => s.table)?.table;
    if (!first) throw new Mistake(`no ${source.axis} can be read: ${steps[0]!.reason!}`);
    const rows = steps.map((s) => s.table ?? blank(first));
    const axis = numbersOf(within, source.axis, source.unit, (k) => source.steps[k] ?? k);
    const table = makeTable([axis, ...historyColumns(rows, a.site as Site)], {
      axis: source.axis,
      notes: [...new Set(rows.flatMap((r) => r.notes))],
    });
    return withConditions(table, [...gapsOf(steps, source), ...mergeConditions(...rows.map((r) => r.conditions))]);
  },
};
