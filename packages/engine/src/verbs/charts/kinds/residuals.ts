import type { Condition, Table } from "@oxtrum/core/tables";
import { Mistake } from "../../values.js";
import { many, type LayerOptions } from "../layer-options.js";
import { layerKind } from "../layer-kind.js";
import type { Member } from "../members.js";
import { lineSeries, xOf } from "../series.js";

/** Columns that can be told apart in one chart. */
const MOST = 24;

/** All numbers without unit of a solver's history; none where the script says which. */
function namesOf(table: Table, o: LayerOptions): string[] {
  const x = xOf(table, o);
  return table.columns
    .filter((c) => c.kind === "number" && c.name !== x && c.name !== "pass" && (c.unit === "1" || c.unit === null))
    .map((c) => c.name);
}

/** The columns to draw over the axis, for a logarithmic scale. */
function residualColumns(members: readonly Member[], o: LayerOptions): LayerOptions {
  const table = members[0]?.table;
  if (!table || many(o.y).length > 0) return o;
  const names = namesOf(table, o);
  if (names.length === 0) throw new Mistake("chart.residuals: the table has no column without unit; say which with y");
  return { ...o, y: names.slice(0, MOST) };
}

/** Columns beyond those that are drawn. */
function beyondMost(members: readonly Member[], o: LayerOptions): Condition[] {
  const table = members[0]?.table;
  const names = table && many(o.y).length === 0 ? namesOf(table, o) : [];
  if (names.length <= MOST) return [];
  const text = `${names.length - MOST} of ${names.length} columns are not drawn, from "${names[MOST]}" on; choose with y`;
  return [{ kind: "not drawn", file: "", text }];
}

export const residualsLayer = layerKind({
  name: "residuals",
  doc: "All columns without unit of a solver's history, over a logarithmic scale; those named in `y` when given.",
  examples: ['chart.residuals(t.derive("r", "exp(-time / tau)", { with: { tau: "60 s" } }), { y: "r" })'],
  takes: "runs and tables",
  options: "SeriesOptions<C, {by}>",
  yAxis: { title: "residual", scale: "log" },
  layer: (members, o, frame, offset) => ({
    series: lineSeries("lines", members, residualColumns(members, o), frame, offset),
  }),
  leftOut: beyondMost,
});
