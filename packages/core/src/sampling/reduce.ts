import { multiplyUnits, parseUnit } from "../tables/units.js";
import { makeTable, numberColumn, TableError, type Column, type Table, type UnitSymbol } from "../tables/table.js";
import { componentNames } from "./field-set.js";
import { cornersOf, piecesOf, sampleSite, type FieldAtTime } from "./sample.js";
import { placesOf, type Site } from "./sites.js";

/** What is reckoned from a site: one number each. */
export type Reduction =
  /** The mean, weighted by area (planes, patches), volume (blocks) or length; `plain` counts every piece alike. */
  | { readonly mean: string; readonly weights?: "size" | "plain" | undefined }
  | { readonly min: string }
  | { readonly max: string }
  /** The standard deviation about the mean, weighted likewise. */
  | { readonly std: string }
  /** The integral over area, volume or length. */
  | { readonly integral: string }
  /** The flow of a vector field through a plane (along its normal) or a patch (along its faces' normals). */
  | { readonly flux: string }
  | { readonly size: true };

export type Reductions = Readonly<Record<string, Reduction>>;

const fieldOf = (r: Reduction): string | undefined =>
  "mean" in r ? r.mean : "min" in r ? r.min : "max" in r ? r.max : "std" in r ? r.std : "integral" in r ? r.integral : "flux" in r ? r.flux : undefined; // prettier-ignore

/**
 * Numbers from a site: a table of one row, or of one row a station. Sums run in a fixed order over the pieces, so the
 * result does not depend on threads; linear fields come out exact.
 */
export function reduceSite(f: FieldAtTime, site: Site, reductions: Reductions): Table {
  if (placesOf(site)) return reducePlaces(f, site, reductions);
  const parts = piecesOf(f, site);
  const stations = site.kind === "stations" ? [...new Set(parts.map((p) => p.station!))] : [undefined];
  const names = [...new Set(Object.values(reductions).flatMap((r) => neededFor(f, r)))];
  const rows = stations.map((station) => {
    const own = parts.filter((p) => p.station === station);
    const sums = own.map((part) => ({ part, columns: cornersOf(f, part, names) }));
    return Object.values(reductions).map((r) => reduceOne(f, r, sums));
  });
  const corners = parts[0]?.pieces.corners;
  const measure = corners === 2 ? "length" : corners === 3 ? "area" : "volume";
  const weighted = Object.entries(reductions)
    .filter(([, r]) => ("mean" in r && r.weights !== "plain") || "std" in r)
    .map(([n]) => n);
  const notes = weighted.length > 0 ? [`${weighted.join(", ")}: weighted by ${measure}`] : [];
  return makeTable(
    [
      ...(site.kind === "stations" ? [numberColumn(site.along, f.lengthUnit, stations as number[])] : []),
      ...Object.keys(reductions).map((name, k): Column =>
        numberColumn(
          name,
          rows[0]?.[k]?.unit ?? null,
          rows.map((r) => r[k]!.value),
        ),
      ),
    ],
    { ...(site.kind === "stations" && { axis: site.along }), notes },
  );
}

function neededFor(f: FieldAtTime, r: Reduction): string[] {
  const name = fieldOf(r);
  if (name === undefined) return [];
  if (!("flux" in r)) return [name];
  const field = f.fields.find((x) => x.name === name);
  if (field && field.components !== 3) throw new TableError(`"${name}" is no vector: a flux needs one`);
  return field ? componentNames(name, 3) : [name];
}

type Columns = ReturnType<typeof cornersOf>;
interface Sum {
  readonly part: ReturnType<typeof piecesOf>[number];
  readonly columns: Columns;
}

function reduceOne(f: FieldAtTime, r: Reduction, sums: readonly Sum[]): { value: number; unit: UnitSymbol } {
  const total = sums.reduce((n, s) => n + s.part.pieces.size.reduce((a, b) => a + b, 0), 0);
  const dimension = (sums[0]?.part.pieces.corners ?? 1) - 1;
  if ("size" in r) return { value: total, unit: raised(f.lengthUnit, dimension) };
  const name = fieldOf(r)!;
  if ("flux" in r) return flux(f, name, sums, dimension);
  const unit = sums[0]?.columns.get(name)?.unit ?? null;
  if (!sums.some((s) => s.columns.has(name)))
    throw new TableError(`"${name}" is a vector: name one of its components, as in "${name}.x" or "${name}.mag"`);
  const over = (g: (value: number, size: number) => number, plain = false): number => {
    let sum = 0;
    for (const { part, columns } of sums) {
      const { corners, size } = part.pieces;
      const values = columns.get(name)!.values;
      for (let t = 0; t < size.length; t++) {
        let m = 0;
        for (let k = 0; k < corners; k++) m += values[corners * t + k]!;
        sum += g(m / corners, plain ? 1 : size[t]!);
      }
    }
    return sum;
  };
  if ("mean" in r) {
    const plain = r.weights === "plain";
    const weight = plain ? sums.reduce((n, s) => n + s.part.pieces.size.length, 0) : total;
    return { value: weight > 0 ? over((v, s) => v * s, plain) / weight : Number.NaN, unit };
  }
  if ("std" in r) {
    const mean = over((v, s) => v * s) / total;
    return { value: total > 0 ? Math.sqrt(squares(sums, name, mean) / total) : Number.NaN, unit: difference(unit) };
  }
  if ("integral" in r) return { value: over((v, s) => v * s), unit: product(unit, raised(f.lengthUnit, dimension)) };
  let best = Number.NaN;
  for (const { columns } of sums)
    for (const v of columns.get(name)!.values) if (best !== best || ("max" in r ? v > best : v < best)) best = v;
  return { value: best, unit };
}

/** The integral of a linear field's squared distance from a value, exact over simplices: (Σu² + (Σu)²) / (k (k + 1)). */
function squares(sums: readonly Sum[], name: string, about: number): number {
  let sum = 0;
  for (const { part, columns } of sums) {
    const { corners: k, size } = part.pieces;
    const values = columns.get(name)!.values;
    for (let t = 0; t < size.length; t++) {
      let u = 0;
      let u2 = 0;
      for (let i = 0; i < k; i++) {
        const v = values[k * t + i]! - about;
        u += v;
        u2 += v * v;
      }
      sum += (size[t]! * (u2 + u * u)) / (k * (k + 1));
    }
  }
  return sum;
}

function flux(
  f: FieldAtTime,
  name: string,
  sums: readonly Sum[],
  dimension: number,
): { value: number; unit: UnitSymbol } {
  const parts = componentNames(name, 3);
  let sum = 0;
  for (const { part, columns } of sums) {
    const { corners, size, normals } = part.pieces;
    if (!normals) throw new TableError("a flux needs a plane or a patch");
    parts.forEach((p, d) => {
      const values = columns.get(p)?.values;
      if (!values) throw new TableError(`"${name}" is no vector: a flux needs one`);
      for (let t = 0; t < size.length; t++) {
        let m = 0;
        for (let k = 0; k < corners; k++) m += values[corners * t + k]!;
        sum += (m / corners) * normals[3 * t + d]! * size[t]!;
      }
    });
  }
  const unit = sums[0]?.columns.get(parts[0]!)?.unit ?? null;
  return { value: sum, unit: product(unit, raised(f.lengthUnit, dimension)) };
}

/** Reductions of single places: every place counts alike. */
function reducePlaces(f: FieldAtTime, site: Site, reductions: Reductions): Table {
  const columns = Object.entries(reductions).map(([name, r]): Column => {
    const field = fieldOf(r);
    if (field === undefined || "flux" in r || "integral" in r)
      throw new TableError("places have no area: use mean, min, max or std");
    const table = sampleSite(f, site, [field]);
    const c = table.columns.find((x) => x.name === field);
    if (c?.kind !== "number")
      throw new TableError(`"${field}" is a vector: name one of its components, as in "${field}.x" or "${field}.mag"`);
    const there = c.values.filter((v) => v === v);
    const mean = there.reduce((a, b) => a + b, 0) / there.length;
    const value = there.length === 0 ? Number.NaN : "mean" in r ? mean : "min" in r ? there.reduce((a, b) => Math.min(a, b)) : "max" in r ? there.reduce((a, b) => Math.max(a, b)) : Math.sqrt(there.reduce((a, b) => a + (b - mean) ** 2, 0) / there.length); // prettier-ignore
    return numberColumn(name, "std" in r ? difference(c.unit) : c.unit, [value]);
  });
  return makeTable(columns, { notes: ["places count alike"] });
}

const difference = (unit: UnitSymbol): UnitSymbol => (unit !== null && parseUnit(unit).offset !== 0 ? "K" : unit);
const product = (a: UnitSymbol, b: UnitSymbol): UnitSymbol =>
  a === null || b === null ? null : multiplyUnits(parseUnit(a), parseUnit(b)).symbol;
const raised = (unit: UnitSymbol, power: number): UnitSymbol => {
  let out: UnitSymbol = "1";
  for (let k = 0; k < power; k++) out = product(out, unit);
  return out;
};
