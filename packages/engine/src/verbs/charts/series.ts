import type { Series } from "@oxtrum/core/charts";
import type { Column, Table, UnitSymbol } from "@oxtrum/core/tables";
import * as t from "@oxtrum/core/tables";
import type { AxesFrame } from "./axes-frame.js";
import { many, type LayerOptions } from "./layer-options.js";
import { colorsBy, distinct, knownParameter, sayParameter, type Member } from "./members.js";

/** The columns that a layer draws: as asked for, or the first numbers beside the axis. */
export function drawnColumns(
  table: Table,
  o: LayerOptions,
  xName: string,
): { name: string; side: "left" | "right" | undefined }[] {
  const asked = [
    ...many(o.y).map((name) => ({ name, side: undefined })),
    ...many(o.right).map((name) => ({ name, side: "right" as const })),
  ];
  if (asked.length > 0) return asked;
  return table.columns
    .filter((c) => c.kind === "number" && c.name !== xName)
    .slice(0, 1)
    .map((c) => ({ name: c.name, side: undefined }));
}

export const xOf = (table: Table, o: LayerOptions): string => o.x ?? table.axis ?? table.columns[0]?.name ?? "";

export const labelOf = (c: Column): string => c.label ?? c.name;

/**
 * Series of lines, points, steps, bars or error bars: one a member and column.
 *
 * @param ends what else there is at each point, such as the ends of error bars
 */
export function lineSeries(
  kind: string,
  members: readonly Member[],
  o: LayerOptions,
  frame: AxesFrame,
  offset: number,
  ends?: (table: Table, y: Float64Array, side: "left" | "right") => Partial<Series>,
): Series[] {
  const first = members[0]?.table;
  if (!first) return [];
  const names = drawnColumns(first, o, xOf(first, o));
  const perMember = members.length > 1 || members[0]!.run !== undefined || Object.keys(members[0]!.params).length > 0;
  const colorOf = colorsBy(members, perMember ? o.color : undefined, offset, o.colors);
  for (const use of ["dash", "marker"] as const) knownParameter(members, o[use], use);
  const dashes = o.dash === undefined ? [] : distinct(members, o.dash);
  const marks = o.marker === undefined ? [] : distinct(members, o.marker);
  const single = names.length === 1;
  const out: Series[] = [];
  /** Of several columns of several runs the colour is the run and the dash is the column. */
  const dashOf = (m: Member, k: number, j: number): number => {
    if (o.dash !== undefined) return dashes.indexOf(t.own(m.params, o.dash) ?? null) * (single ? 1 : names.length) + j;
    if (!perMember) return offset + j;
    return !single || o.color !== undefined || members.length > 8 ? j : k;
  };
  members.forEach((m, k) => {
    names.forEach(({ name, side: asked }, j) => {
      const column = t.numbers(m.table, name);
      const side = frame.sideOf(column, asked);
      const x = frame.values("x", t.column(m.table, xOf(m.table, o)));
      const y = frame.values(side, column);
      frame.draws(side, labelOf(column));
      const own = single ? labelOf(column) : withUnit(column, frame[side]?.unit ?? null);
      // A name of the layer stands for its only series, and before those that it has several of.
      const what = o.name === undefined ? own : single ? o.name : `${o.name} · ${own}`;
      const groups = [o.color, o.dash, o.marker]
        .filter((p, i, all) => p !== undefined && all.indexOf(p) === i)
        .map((p) => sayParameter(m, p!));
      const alone = groups.length > 0 ? groups.join(", ") : (m.run ?? what);
      const who = single && perMember && o.name !== undefined && members.length > 1 ? `${o.name} · ${alone}` : alone;
      out.push({
        kind,
        x,
        y,
        axis: side,
        name: perMember ? (single ? (m.run ?? who) : `${m.run ?? who} ${what}`) : what,
        legend: perMember ? (single ? who : `${who} · ${what}`) : what,
        ...(m.run !== undefined && { run: m.run }),
        color: perMember && (members.length > 1 || single) ? colorOf(m, k) : { palette: offset + j },
        quantity: labelOf(column),
        dash: dashOf(m, k, j),
        ...(o.marker !== undefined && { marker: marks.indexOf(t.own(m.params, o.marker) ?? null) }),
        ...(o.faint === true && { faint: true }),
        ...ends?.(m.table, y, side),
      });
    });
  });
  return out;
}

/** A column's label with the unit in which it is drawn. */
function withUnit(c: Column, drawnIn: UnitSymbol): string {
  const unit = drawnIn !== null && drawnIn !== "1" ? t.displayUnit(drawnIn) : "";
  return unit === "" ? labelOf(c) : `${labelOf(c)} [${unit}]`;
}
