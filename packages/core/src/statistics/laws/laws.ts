import { makeTable, numberColumn, TableError, withColumns, type Table, type UnitSymbol } from "../../tables/table.js";
import { nearestNames, numbers } from "../../tables/table.js";
import { missing, type Quantity } from "../../tables/quantity.js";
import { applyConversion, conversion, displayUnit, parseUnit } from "../../tables/units.js";
import { formatNumber } from "../../tables/number-format.js";
import { friction } from "./friction.js";
import { heat } from "./heat.js";
import type { Law } from "./law.js";
import { profiles } from "./profiles.js";
import { properties } from "./properties.js";

/** All laws by name. */
export const laws: ReadonlyMap<string, Law> = new Map(
  [...profiles, ...friction, ...heat, ...properties].map((l) => [l.name, l]),
);

/** A number in a unit, for one of a law's inputs. */
export interface Given {
  readonly value: number;
  readonly unit: UnitSymbol;
}

/** @throws TableError with the nearest right names */
export function lawNamed(name: string): Law {
  const law = laws.get(name);
  if (law) return law;
  const near = nearestNames(name, [...laws.keys()], 3);
  throw new TableError(
    `there is no law "${name}"; ` +
      `${near.length > 0 ? `the nearest are ${near.map((n) => `"${n}"`).join(", ")}` : `there are ${[...laws.keys()].join(", ")}`}`,
  );
}

function inUnit(value: number, unit: UnitSymbol, wanted: string, what: string): number {
  if (unit === wanted) return value;
  if (unit === null) throw new TableError(`${what}: its unit is unknown; say it with .unit()`);
  return applyConversion(value, conversion(parseUnit(unit), parseUnit(wanted)));
}

/** The inputs of a law in its units; those that have a usual value may be missing. */
function known(law: Law, given: Readonly<Record<string, Given>>, but: readonly string[] = []): Record<string, number> {
  for (const name of [...Object.keys(given), ...but])
    if (!Object.hasOwn(law.inputs, name))
      throw new TableError(`${law.name} takes ${Object.keys(law.inputs).join(", ")}; not "${name}"`);
  const out: Record<string, number> = {};
  for (const [name, input] of Object.entries(law.inputs)) {
    if (but.includes(name)) continue;
    const g = given[name];
    if (g !== undefined) out[name] = inUnit(g.value, g.unit, input.unit, `${law.name}: ${name}`);
    else if (input.usual !== undefined) out[name] = input.usual;
    else
      throw new TableError(
        `${law.name} needs ${name} (${input.what}${input.unit === "1" ? "" : `, in ${displayUnit(input.unit)}`})`,
      );
  }
  return out;
}

/** Why a law says nothing of these inputs; undefined when it does. */
function outOfRange(law: Law, x: Readonly<Record<string, number>>): string | undefined {
  for (const [name, { range, unit }] of Object.entries(law.inputs))
    if (range && !(x[name]! >= range[0] && x[name]! <= range[1]))
      return (
        `${name} = ${formatNumber(x[name]!)} lies outside the range of ${law.name}, ` +
        `${formatNumber(range[0])} to ` +
        `${formatNumber(range[1])}${unit === "1" ? "" : ` ${displayUnit(unit)}`}`
      );
  return undefined;
}

const method = (law: Law): string => `${law.what} (${law.source})`;

/**
 * What a law gives; missing with the reason outside the range in which it holds, unless `outside` is `keep`.
 *
 * @throws TableError for an input that is not the law's, is not given, or has a unit of another kind
 * @example lawAt("friction.smooth", { Re: { value: 1e4, unit: "1" } }).value // 0.0316
 */
export function lawAt(
  name: string,
  given: Readonly<Record<string, Given>>,
  outside: "blank" | "keep" = "blank",
): Quantity {
  const law = lawNamed(name);
  const x = known(law, given);
  const why = outside === "keep" ? undefined : outOfRange(law, x);
  if (why !== undefined) return missing(why, law.output.unit);
  const value = law.of(x);
  return value === value
    ? { value, unit: law.output.unit, method: method(law) }
    : missing(
        `${law.name} gives nothing for ${Object.entries(x)
          .map(([k, v]) => `${k} = ${formatNumber(v)}`)
          .join(", ")}`,
        law.output.unit,
      );
}

/**
 * Adds a column by a law, whose inputs are columns or quantities. Rows outside the law's range are blank and counted in
 * the notes.
 *
 * @example lawColumn(numbers, "f.smooth", "friction.smooth", { Re: "Re" })
 */
export function lawColumn(
  table: Table,
  as: string,
  name: string,
  inputs: Readonly<Record<string, string | Given>>,
  outside: "blank" | "keep" = "blank",
): Table {
  const law = lawNamed(name);
  const columns = Object.entries(inputs).flatMap(([k, v]) =>
    typeof v === "string" ? [[k, numbers(table, v)] as const] : [],
  );
  const fixed = known(
    law,
    Object.fromEntries(Object.entries(inputs).flatMap(([k, v]) => (typeof v === "string" ? [] : [[k, v]]))),
    columns.map(([k]) => k),
  );
  const read = columns.map(([k, c]) => {
    const to = law.inputs[k]!.unit;
    inUnit(0, c.unit, to, `${law.name}: ${k}`);
    return { k, values: c.values, change: conversion(parseUnit(c.unit!), parseUnit(to)) };
  });
  let blank = 0;
  let first: string | undefined;
  const values = Float64Array.from({ length: table.rows }, (_, i) => {
    const x = { ...fixed };
    for (const r of read) x[r.k] = applyConversion(r.values[i]!, r.change);
    if (Object.values(x).some((v) => v !== v)) return Number.NaN;
    const why = outside === "keep" ? undefined : outOfRange(law, x);
    if (why === undefined) return law.of(x);
    blank++;
    first ??= why;
    return Number.NaN;
  });
  const notes = [
    `"${as}": ${method(law)}${outside === "keep" ? ", also outside its range" : ""}`,
    ...(blank > 0 ? [`"${as}": ${blank} of ${table.rows} rows blank: ${first!}`] : []),
  ];
  const columnsNow = table.columns.filter((c) => c.name !== as);
  return withColumns(table, [...columnsNow, { kind: "number", name: as, unit: law.output.unit, values }], notes);
}

/** From where to where a curve is wanted, in the input's unit or another. */
export interface InputRange {
  readonly from: Given;
  readonly to: Given;
}

/**
 * A law over a stretch of one of its inputs: a table with that input and the law's output, in even or logarithmic
 * steps. Places outside the law's range are blank.
 *
 * @example lawCurve("wall.composite", "y.plus", { from: { value: 1, unit: "1" }, to: { value: 1000, unit: "1" } }, {},
 * 60, "log")
 */
export function lawCurve(
  name: string,
  over: string,
  stretch: InputRange,
  given: Readonly<Record<string, Given>>,
  points: number,
  steps: "even" | "log",
  outside: "blank" | "keep" = "blank",
): Table {
  const law = lawNamed(name);
  const fixed = known(law, given, [over]);
  const unit = law.inputs[over]!.unit;
  const [a, b] = [
    inUnit(stretch.from.value, stretch.from.unit, unit, over),
    inUnit(stretch.to.value, stretch.to.unit, unit, over),
  ];
  if (!(b > a)) throw new TableError(`${law.name}: the curve runs from ${a} to ${b}: the end has to be larger`);
  if (steps === "log" && !(a > 0))
    throw new TableError(`${law.name}: logarithmic steps have to begin above zero, not at ${a}`);
  const x = Float64Array.from({ length: points }, (_, k) =>
    k === points - 1 ? b : steps === "log" ? a * (b / a) ** (k / (points - 1)) : a + ((b - a) * k) / (points - 1),
  );
  const table = makeTable([numberColumn(over, unit, x)], { axis: over });
  const whole = lawColumn(
    table,
    law.output.name,
    name,
    {
      [over]: over,
      ...Object.fromEntries(Object.entries(fixed).map(([k, v]) => [k, { value: v, unit: law.inputs[k]!.unit }])),
    },
    outside,
  );
  return whole;
}

export interface WallUnitOptions {
  /** The columns of the distance and the velocity. */
  readonly y: string;
  readonly u: string;
  readonly shear: Given;
  readonly nu: Given;
  readonly rho: Given;
  /** Where the wall is on the distance's axis; 0 when not given. */
  readonly wall?: Given | undefined;
}

/**
 * Adds `y.plus` and `u.plus`: a profile in wall units, y⁺ = |y − wall| u_τ/ν and u⁺ = u/u_τ with the friction velocity
 * u_τ = √(τ/ρ) (S. Pope, Turbulent Flows, section 7.1.3). The names are those of the columns with `.plus`.
 *
 * @throws TableError when shear, viscosity or density are not above zero
 * @example wallUnits(profile, { y: "y", u: "u", shear, nu, rho })
 */
export function wallUnits(table: Table, o: WallUnitOptions): Table {
  const [y, u] = [numbers(table, o.y), numbers(table, o.u)];
  const shear = Math.abs(inUnit(o.shear.value, o.shear.unit, "Pa", "wall units: shear"));
  const nu = inUnit(o.nu.value, o.nu.unit, "m^2/s", "wall units: nu");
  const rho = inUnit(o.rho.value, o.rho.unit, "kg/m^3", "wall units: rho");
  const wall = o.wall === undefined ? 0 : inUnit(o.wall.value, o.wall.unit, "m", "wall units: wall");
  inUnit(0, y.unit, "m", `wall units: "${o.y}"`);
  inUnit(0, u.unit, "m/s", `wall units: "${o.u}"`);
  const filled = table.rows > 0;
  if (filled && !(shear > 0 && nu > 0 && rho > 0))
    throw new TableError(
      `wall units: shear, nu and rho have to be more than zero; they are ${shear}, ${nu} and ${rho}`,
    );
  const uTau = Math.sqrt(shear / rho);
  const yPlus = y.values.map((v) => (Math.abs(inUnit(v, y.unit, "m", o.y) - wall) * uTau) / nu);
  const uPlus = u.values.map((v) => inUnit(v, u.unit, "m/s", o.u) / uTau);
  const columns = [
    ...table.columns,
    { kind: "number" as const, name: `${o.y}.plus`, unit: "1", label: "y^{+}", values: yPlus },
    { kind: "number" as const, name: `${o.u}.plus`, unit: "1", label: "u^{+}", values: uPlus },
  ];
  return withColumns(
    table,
    columns,
    filled
      ? [`wall units: friction velocity ${formatNumber(uTau)} m/s, viscous length ${formatNumber(nu / uTau)} m`]
      : [],
  );
}
