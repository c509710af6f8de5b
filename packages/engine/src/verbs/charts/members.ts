import type { Series } from "@oxtrum/core/charts";
import { displayUnit, formatNumber, type Table, type UnitSymbol } from "@oxtrum/core/tables";
import * as t from "@oxtrum/core/tables";
import { Mistake } from "../values.js";
import type { LayerOptions } from "./layer-options.js";

type Scalar = number | string | null;
export type Params = Readonly<Record<string, Scalar>>;

/** What is drawn as one: a run's table, or the rows of a table that are alike in what sets colour, dash or panel. */
export interface Member {
  readonly run: string | undefined;
  readonly table: Table;
  readonly params: Params;
  /** Units of the parameters that are numbers. */
  readonly units?: Readonly<Record<string, UnitSymbol>>;
}

/** A parameter with its value and unit, for legends. @example sayParameter(member, "fan") // "fan 50 %" */
export function sayParameter(m: Member, name: string): string {
  const value = t.own(m.params, name);
  const unit = typeof value === "number" && m.units ? (t.own(m.units, name) ?? null) : null;
  const shown = unit === null || unit === "1" ? "" : ` ${displayUnit(unit)}`;
  return `${name} ${sayValue(value)}${shown}`;
}

export const sayValue = (v: Scalar | undefined): string => (typeof v === "number" ? formatNumber(v) : (v ?? "–"));

/** The names by which a layer tells its members apart. */
export const tellers = (o: LayerOptions, panels: string | undefined): string[] => [
  ...new Set([o.color, o.dash, o.marker, panels === "quantities" ? undefined : panels].filter((n) => n !== undefined)),
];

/** A table as members: one, or one for each combination of the columns that set colour, dash, marker or panel. */
export function splitTable(table: Table, names: readonly string[]): Member[] {
  if (names.length === 0) return [{ run: undefined, table, params: {} }];
  const columns = names.map((n) => t.column(table, n));
  const groups = new Map<string, { params: Record<string, Scalar>; rows: number[] }>();
  for (let i = 0; i < table.rows; i++) {
    const values = columns.map((c): Scalar =>
      c.kind === "text" ? c.values[i]! : Number.isNaN(c.values[i]!) ? null : c.values[i]!,
    );
    const key = JSON.stringify(values);
    let g = groups.get(key);
    if (!g) groups.set(key, (g = { params: Object.fromEntries(names.map((n, k) => [n, values[k]!])), rows: [] }));
    g.rows.push(i);
  }
  if (groups.size > 200)
    throw new Mistake(
      `chart: ${names.map((n) => `"${n}"`).join(" and ")} have ${groups.size} combinations; 200 are the most that a chart tells apart`,
    );
  const units = Object.fromEntries(columns.flatMap((c) => (c.kind === "number" ? [[c.name, c.unit] as const] : [])));
  return [...groups.values()].map((g) => ({
    run: undefined,
    table: t.takeRows(table, g.rows),
    params: g.params,
    units,
  }));
}

/** Refuses a name that no member has. */
export function knownParameter(members: readonly Member[], parameter: string | undefined, use: string): void {
  if (parameter === undefined || members.length === 0) return;
  if (members.some((m) => Object.hasOwn(m.params, parameter))) return;
  const names = Object.keys(members[0]!.params);
  throw new Mistake(
    `chart: ${use}: the runs have no parameter "${parameter}"; there ` +
      `${names.length === 1 ? "is" : "are"} ${names.map((p) => `"${p}"`).join(", ") || "none"}`,
  );
}

/** The distinct values of a parameter in order: numbers rising, then words. */
export function distinct(members: readonly Member[], parameter: string): Scalar[] {
  const all = [...new Set(members.map((m) => t.own(m.params, parameter) ?? null))];
  const rank = (v: Scalar): number => (typeof v === "number" ? 0 : v === null ? 2 : 1);
  return all.sort(
    (a, b) =>
      rank(a) - rank(b) || (typeof a === "number" && typeof b === "number" ? a - b : String(a) < String(b) ? -1 : 1),
  );
}

/**
 * Colours by the distinct values of a parameter: a ramp for numbers and distinct ones for words, unless asked
 * otherwise.
 */
export function colorsBy(
  members: readonly Member[],
  parameter: string | undefined,
  offset: number,
  asked?: "sequential" | "categorical",
): (m: Member, k: number) => Series["color"] {
  if (parameter === undefined) {
    const ramp = asked === "sequential" || (asked === undefined && members.length > 8);
    return ramp ? (_, k) => ({ ramp: k / Math.max(1, members.length - 1) }) : (_, k) => ({ palette: offset + k });
  }
  knownParameter(members, parameter, "color");
  const values = distinct(members, parameter);
  const ramp = asked === "sequential" || (asked === undefined && values.every((v) => typeof v === "number"));
  const place = (m: Member): number => values.indexOf(t.own(m.params, parameter) ?? null);
  return ramp
    ? (m) => ({ ramp: values.length < 2 ? 0.5 : place(m) / (values.length - 1) })
    : (m) => ({ palette: offset + place(m) });
}
