import type { Series } from "@oxtrum/core/charts";
import type { Column, Table } from "@oxtrum/core/tables";
import * as t from "@oxtrum/core/tables";
import type { AxesFrame } from "./axes-frame.js";
import type { LayerOptions } from "./chart-arguments.js";
import { colorsBy, distinct, knownParameter, sayParameter, type Member } from "./members.js";

export const many = (x: string | string[] | undefined): string[] => (x === undefined ? [] : Array.isArray(x) ? x : [x]);

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

const labelOf = (c: Column): string => c.label ?? c.name;

/** Series of lines, points, steps, bars or error bars: one a member and column. */
export function lineSeries(
  kind: "lines" | "points" | "both" | "steps" | "bars" | "errors",
  members: readonly Member[],
  o: LayerOptions,
  frame: AxesFrame,
  offset: number,
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
      const own = single ? labelOf(column) : withUnit(column);
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
        ...(kind === "bars" && o.stacked === true && { stack: side }),
        ...(kind === "errors" && errorEnds(m.table, o, y, frame, side)),
      });
    });
  });
  return out;
}

/** A column's label with its unit. */
function withUnit(c: Column): string {
  const unit = c.kind === "number" && c.unit !== null && c.unit !== "1" ? t.displayUnit(c.unit) : "";
  return unit === "" ? labelOf(c) : `${labelOf(c)} [${unit}]`;
}

/** The ends of error bars: half a length about the value, or two columns. */
function errorEnds(
  table: Table,
  o: LayerOptions,
  y: Float64Array,
  frame: AxesFrame,
  side: "left" | "right",
): { low: Float64Array; high: Float64Array } {
  if (o.error !== undefined) {
    const e = t.numbers(table, o.error);
    const unit = frame[side]!.unit;
    const scale = e.unit === null || unit === null ? 1 : t.stepScale(e.unit, unit);
    return { low: y.map((v, i) => v - e.values[i]! * scale), high: y.map((v, i) => v + e.values[i]! * scale) };
  }
  const end = (name: string | undefined): Float64Array =>
    name === undefined ? y : frame.values(side, t.numbers(table, name));
  return { low: end(o.low), high: end(o.high) };
}

/** A band: edges, the middle line and others of a table of statistics across runs. */
export function bandSeries(table: Table, o: LayerOptions, frame: AxesFrame, offset: number): Series[] {
  const along = o.x ?? o.along ?? t.axisOf(table).name;
  const means = table.columns.filter((c) => c.name.endsWith(".mean")).map((c) => c.name.replace(/\.mean$/, ""));
  const names = many(o.y).length > 0 ? many(o.y) : means.slice(0, 1);
  return names.flatMap((name, j) => {
    const show = o.show ?? ["mean", "min", "max"];
    const get = (suffix: string): Column => t.column(table, `${name}.${suffix}`);
    const x = frame.values("x", t.column(table, along));
    const edges = show.filter((s) => s !== "mean" && s !== "p50" && s !== "std");
    const color = { palette: offset + j };
    const several = names.length > 1 ? `${labelOf(get(show[0] ?? "mean")).replace(/, \w+$/, "")} ` : "";
    const out: Series[] = [];
    const model = get(show[0] ?? "mean");
    frame.left ??= {
      title: labelOf(model).replace(/, \w+$/, ""),
      unit: model.kind === "number" ? model.unit : null,
    };
    const band = (what: string, legend: string, y: Float64Array, high: Float64Array): void =>
      void out.push({
        kind: "band",
        name: `${name} ${what}`,
        legend: several + legend,
        quantity: name,
        x,
        y,
        high,
        color,
      });
    if (show.includes("std")) {
      const m = frame.values("left", get("mean"));
      const sd = t.numbers(table, `${name}.std`);
      // A spread of temperatures is in K: in steps of the axis it has another size.
      const own = frame.left!.unit;
      const scale = own === null || sd.unit === null ? 1 : t.stepScale(sd.unit, own);
      band(
        "± std",
        "mean ± std",
        m.map((v, i) => v - sd.values[i]! * scale),
        m.map((v, i) => v + sd.values[i]! * scale),
      );
    }
    for (let k = 0; k + 1 < edges.length; k += 2)
      band(
        `${edges[k]} to ${edges[k + 1]}`,
        `${edges[k]} to ${edges[k + 1]}`,
        frame.values("left", get(edges[k]!)),
        frame.values("left", get(edges[k + 1]!)),
      );
    for (const s of show.filter((v) => v === "mean" || v === "p50"))
      out.push({
        kind: "lines",
        name: `${name} ${s}`,
        legend: several + (o.name ?? s),
        quantity: name,
        x,
        y: frame.values("left", get(s)),
        color,
        dash: 0,
      });
    return out;
  });
}
