import { orientationOf } from "../mesh/orientation.js";
import type { Condition } from "../tables/condition.js";
import { formatNumber } from "../tables/number-format.js";
import { convert, multiplyUnits, displayUnit, parseUnit, sameDimensions, stepOf } from "../tables/units.js";
import {
  makeTable,
  numbers,
  numbersOf,
  TableError,
  type Column,
  type Table,
  type UnitSymbol,
} from "../tables/table.js";
import { notesOf, wantedOf, type FieldAtTime } from "./columns.js";
import { componentNames } from "./field-set.js";
import { blocksOfSite } from "./blocks-of-site.js";
import { columnLevel, particleLevel } from "./level.js";
import * as over from "./over-pieces.js";
import { namesNeeded, type Load, type Reduction, type Reductions } from "./reductions.js";
import { cornersOf, integrated } from "./cell-rows.js";
import { meshBounds, sampleSite, settled, type SampleOptions } from "./sample.js";
import type { Part } from "./part.js";
import { nodePieces } from "./pieces.js";
import type { Place } from "./places.js";
import { kindOf, piecesOf, placesOf, stationColumn, type Site } from "./sites/index.js";

/** A number with its unit; `part` is x, y or z where a reduction gives three. */
interface Reduced {
  readonly part?: "x" | "y" | "z";
  readonly value: number;
  readonly unit: UnitSymbol;
}

/**
 * Numbers from a site: a table of one row, or of one row per station. Sums run in a fixed order over the pieces, so the
 * result does not depend on threads; linear fields come out exact. Along lines values count as linear between the
 * places; of single places each counts alike.
 *
 * @throws TableError where a reduction does not go with the site, NoSuchColumn for a name that is not there
 * @example reduceSite(field, { kind: "plane", point: [1, 0, 0], normal: [1, 0, 0] }, { T: { mean: "T" }, q: { flux: "U"
 * } })
 */
export function reduceSite(all: FieldAtTime, given: Site, reductions: Reductions, options: SampleOptions = {}): Table {
  const { field: f, notes: aside } = blocksOfSite(all, given, options.method !== undefined);
  const site = settled(f, given);
  const vector = (name: string): string[] => {
    const field = f.fields.find((x) => x.name === name);
    if (field && field.components !== 3) throw new TableError(`"${name}" is not a vector: this needs one`);
    return field ? componentNames(name, 3) : ["x", "y", "z"].map((c) => `${name}.${c}`);
  };
  const levels = Object.values(reductions).filter((r) => "level" in r);
  if (levels.length > 0 && given.kind !== "column")
    throw new TableError("a level is that of a column: at.column([x, y])");
  const names = [...new Set(Object.values(reductions).flatMap((r) => ("level" in r ? [] : namesNeeded(r, vector))))];
  const notes = new Set<string>([...aside, ...notesOf(f, names)]);
  const groups = partsOf(f, site, names, levels.length === Object.keys(reductions).length, options, notes);
  // What is nowhere in the mesh has no size of 0: it has none. An iso-surface that is nowhere is one of no size.
  const nowhere = groups.map(({ parts }) => site.kind !== "iso" && !(over.totalSize(parts) > 0));
  if (nowhere.includes(true) && levels.length < Object.keys(reductions).length) notes.add(missed(f, site, nowhere));
  const gaps = new Map<string, { missing: number; total: number }>();
  const rows = groups.map((group, g) =>
    Object.entries(reductions).map(([name, r]): Reduced[] => {
      if ("level" in r && given.kind === "column")
        return [r.level === true ? particleLevel(f, given, r) : columnLevel(f, given, r.level, r, notes)];
      const { parts, missing, total } = over.present(
        "min" in r || "max" in r ? group.nodes() : group.parts,
        namesNeeded(r, vector),
      );
      if (missing > 0) {
        const gap = gaps.get(name) ?? { missing: 0, total: 0 };
        gaps.set(name, { missing: gap.missing + missing, total: gap.total + total });
      }
      const none = nowhere[g] || (missing > 0 && missing === total);
      return reduceOne(f, r, parts, vector).map((one) => (none ? { ...one, value: Number.NaN } : one));
    }),
  );
  if (Object.values(reductions).some((r) => "flux" in r || "force" in r || "moment" in r))
    for (const n of orientationNotes(f, site)) notes.add(n);
  const measure = groups[0]?.parts[0] ? (["", "length", "area", "volume"][groups[0].parts[0].dimension] ?? "") : "";
  const conditions = gapConditions(gaps, measure === "" ? "places" : measure);
  const byShare = Object.entries(reductions)
    .filter(
      ([, r]) =>
        ("mean" in r && (r.weights ?? "size") === "size") || "std" in r || "percentile" in r || "uniformity" in r,
    )
    .map(([n]) => n);
  if (byShare.length > 0)
    notes.add(measure === "" ? "places count alike" : `${byShare.join(", ")}: weighted by ${measure}`);
  const axis = groups[0]?.at === undefined ? undefined : stationColumn(site);
  const table = makeTable(
    [
      ...(axis === undefined ? [] : [numbersOf(groups, axis, f.lengthUnit, (g) => g.at!)]),
      ...Object.keys(reductions).flatMap((name, k): Column[] =>
        (rows[0]?.[k] ?? []).map((one, j) =>
          numbersOf(rows, one.part === undefined ? name : `${name}.${one.part}`, one.unit, (r) => r[k]![j]!.value),
        ),
      ),
    ],
    { ...(axis !== undefined && { axis }), notes: [...notes] },
  );
  return conditions.length > 0 ? { ...table, conditions } : table;
}

/** How much of what a site measures has no value, by reduction. */
function gapConditions(
  gaps: ReadonlyMap<string, { readonly missing: number; readonly total: number }>,
  measure: string,
): Condition[] {
  return [...gaps].map(([name, { missing, total }]) => {
    const share = formatNumber((100 * missing) / total, 3);
    return {
      kind: "gap",
      file: "",
      text: `${share} % of the ${measure} has no value for "${name}" and does not count`,
    };
  });
}

/** What is to be known of the directions in which the faces of surfaces are listed. */
function orientationNotes(f: FieldAtTime, site: Site): string[] {
  if (!kindOf(site).hasFaces) return [];
  const count = { turned: 0, faces: 0, conflicts: 0 };
  for (const b of f.blocks) {
    if (b.mesh.dimension !== 2) continue;
    const o = orientationOf(b.mesh);
    count.turned += o.count;
    count.conflicts += o.conflicts;
    count.faces += b.mesh.cellCount;
  }
  const notes: string[] = [];
  if (count.turned > 0)
    notes.push(`${count.turned} of ${count.faces} faces were turned to agree with their neighbours`);
  if (count.conflicts > 0)
    notes.push(
      `faces cannot be made to agree at ${count.conflicts} edges: flux and force depend on the direction in which the file lists them`,
    );
  return notes;
}

/** The note for a site without a value: how much of it misses the mesh, and where the mesh is. */
function missed(f: FieldAtTime, site: Site, nowhere: readonly boolean[]): string {
  const kind = kindOf(site);
  if (kind.hasFaces) return "the site has no cells: there is no value";
  const count = nowhere.filter(Boolean).length;
  const what =
    nowhere.length > 1
      ? `${count} of ${nowhere.length} stations miss the mesh and are blank`
      : `the ${kind.called ?? site.kind} misses the mesh: there is no value`;
  const box = meshBounds(f);
  if (!box) return `${what}; it has no points`;
  const corner = (first: 0 | 1): string => `(${[0, 2, 4].map((k) => formatNumber(box[first + k]!)).join(", ")})`;
  const extent = `the mesh extends from ${corner(0)} to ${corner(1)} ${displayUnit(f.lengthUnit)}`.trimEnd();
  return `${what}; ${extent}${count === nowhere.length ? ". Are both in the same unit, m or mm?" : ""}`;
}

interface Group {
  /** The station's place on its axis. */
  readonly at: number | undefined;
  readonly parts: readonly over.Part[];
  /** The same by the corners of pieces: where extremes are looked for. */
  nodes(): readonly over.Part[];
}

/** What is reduced, once or for every station. */
function partsOf(
  f: FieldAtTime,
  site: Site,
  names: readonly string[],
  levelsOnly: boolean,
  options: SampleOptions,
  notes: Set<string>,
): Group[] {
  const kind = kindOf(site);
  const lines = kind.lines?.(site);
  if (lines) return lines.map((l) => alone(l.at, placed(f, l.line, names, options, notes)));
  if (levelsOnly) return [alone(undefined, [])];
  if (placesOf(site) || kind.numbered) return [alone(undefined, placed(f, site, names, options, notes))];
  const all = piecesOf(f, site, notes);
  const stations = kind.stations?.(site).at ?? [undefined];
  return stations.map((at) => {
    const own = all.filter((p) => p.station?.at === at);
    let nodes: readonly over.Part[] | undefined;
    return {
      at,
      parts: own.flatMap((p) => integrated(f, p, names, f.blocks.indexOf(p.block))),
      nodes: () => (nodes ??= own.map((p) => atNodes(f, p, names))),
    };
  });
}

/** A part by its corners: the nodes of whole cells, each once where no field is held in cells. */
function atNodes(f: FieldAtTime, part: Part, names: readonly string[]): over.Part {
  const inCells = wantedOf(f, names).asked.some((a) => part.block.locationOf(a.field) === "cell");
  const pieces = part.whole ? nodePieces(part.block.mesh, inCells) : part.pieces;
  const { corners, size, places, normals } = pieces;
  const dimension = part.whole ? part.block.mesh.dimension : corners - 1;
  return { corners, dimension, size, places, normals, columns: cornersOf(f, { block: part.block, pieces }, names) };
}

const alone = (at: number | undefined, parts: readonly over.Part[]): Group => ({ at, parts, nodes: () => parts });

/**
 * Places as pieces: single ones, or the stretches between neighbours on a line; blank ones are left out and counted.
 */
function placed(
  f: FieldAtTime,
  site: Site,
  names: readonly string[],
  options: SampleOptions,
  notes: Set<string>,
): over.Part[] {
  const table = sampleSite(f, site, names, { method: options.method });
  for (const n of table.notes) if (options.method) notes.add(n);
  const of = (name: string): Float64Array => numbers(table, name).values;
  const known = names.filter((n) => table.columns.some((c) => c.name === n));
  const xyz = [of("x"), of("y"), of("z")];
  const whole = Array.from({ length: table.rows }, (_, i) => known.every((n) => !Number.isNaN(of(n)[i]!)));
  const line = table.columns.some((c) => c.name === "distance");
  const rows: number[] = [];
  for (let i = 0; i + (line ? 1 : 0) < table.rows; i++)
    if (whole[i] && (!line || whole[i + 1])) rows.push(...(line ? [i, i + 1] : [i]));
  const corners = line ? 2 : 1;
  const lost = table.rows - (line ? 1 : 0) - rows.length / corners;
  if (lost > 0)
    notes.add(
      `${lost} of ${table.rows - (line ? 1 : 0)} ${line ? "stretches between places" : "places"} are blank and left out`,
    );
  const size = Float64Array.from({ length: rows.length / corners }, (_, t) =>
    line ? of("distance")[rows[2 * t + 1]!]! - of("distance")[rows[2 * t]!]! : 1,
  );
  return [
    {
      corners,
      dimension: corners - 1,
      size,
      places: Float64Array.from(rows.flatMap((i) => xyz.map((v) => v[i]!))),
      normals: undefined,
      columns: new Map(
        known.map((n) => [n, { values: Float64Array.from(rows, (i) => of(n)[i]!), unit: numbers(table, n).unit }]),
      ),
    },
  ];
}

function reduceOne(
  f: FieldAtTime,
  r: Reduction,
  parts: readonly over.Part[],
  vector: (name: string) => string[],
): Reduced[] {
  const total = over.totalSize(parts);
  const dimension = parts[0]?.dimension ?? 0;
  const measure = raised(f.lengthUnit, dimension);
  if ("size" in r) return [{ value: total, unit: measure }];
  const three = (values: Place, unit: UnitSymbol): Reduced[] =>
    values.map((value, k) => ({ part: (["x", "y", "z"] as const)[k]!, value, unit }));
  if ("centre" in r) {
    const name = r.centre === true ? undefined : r.centre;
    if (name !== undefined) over.unitOf(parts, name);
    const { moment, weight } = over.firstMoment(parts, name);
    return three(moment.map((m) => m / weight) as unknown as Place, f.lengthUnit);
  }
  if ("force" in r || "moment" in r) return loads(f, r, parts, vector, measure, three);
  if ("flux" in r) {
    if (dimension === 0) throw new TableError("places have no area: a flux needs a plane or a patch");
    const names = vector(r.flux);
    const unit = over.unitOf(parts, names[0]!);
    return [{ value: throughflowOf(parts, names), unit: product(unit, measure) }];
  }
  if ("level" in r) throw new TableError("a level is that of a column");
  const name = namesNeeded(r, vector)[0]!;
  const unit = over.unitOf(parts, name);
  if ("integral" in r) {
    if (dimension === 0)
      throw new TableError("single places have no length: an integral needs a line, plane, patch or block");
    return [{ value: over.integral(parts, name), unit: product(unit, measure) }];
  }
  if ("min" in r || "max" in r) {
    const { value, place } = over.extreme(parts, name, "min" in r ? "min" : "max");
    return [{ value, unit }, ...(r.place ? three(place, f.lengthUnit) : [])];
  }
  if ("percentile" in r) return [{ value: over.percentile(parts, name, r.percentile), unit }];
  const mean = total > 0 ? over.integral(parts, name) / total : Number.NaN;
  if ("std" in r)
    return [
      {
        value: total > 0 ? Math.sqrt(over.squares(parts, name, mean) / total) * stepOf(unit).factor : Number.NaN,
        unit: stepOf(unit).unit,
      },
    ];
  if ("uniformity" in r)
    return [{ value: 1 - over.spread(parts, name, mean) / (2 * Math.abs(mean) * total), unit: "1" }];
  const w = r.weights ?? "size";
  if (w === "size") return [{ value: mean, unit }];
  if (w === "plain") return [{ value: over.plainMean(parts, name), unit }];
  const { sum, weight } =
    "by" in w
      ? over.weighted(parts, name, (p) => p.columns.get(w.by)!.values)
      : over.weighted(parts, name, (p) => over.throughflow(p, vector(w.flow), w.density));
  return [{ value: sum / weight, unit }];
}

/** The integral over a surface of a vector along its normals. */
function throughflowOf(parts: readonly over.Part[], names: readonly string[]): number {
  let sum = 0;
  for (const p of parts) {
    const flow = over.throughflow(p, names);
    for (let t = 0; t < p.size.length; t++) {
      let m = 0;
      for (let k = 0; k < p.corners; k++) m += flow[p.corners * t + k]!;
      sum += (p.size[t]! * m) / p.corners;
    }
  }
  return sum;
}

function loads(
  f: FieldAtTime,
  r: { force: Load } | { moment: Load; about: Place },
  parts: readonly over.Part[],
  vector: (name: string) => string[],
  measure: UnitSymbol,
  three: (values: Place, unit: UnitSymbol) => Reduced[],
): Reduced[] {
  const l = "force" in r ? r.force : r.moment;
  const shear = l.shear === undefined ? undefined : vector(l.shear);
  if (l.pressure === undefined && !shear) throw new TableError("a force comes from a pressure, a shear, or both");
  const unit = over.unitOf(parts, l.pressure ?? shear![0]!);
  if (l.pressure !== undefined && shear && parts.length > 0) {
    const other = over.unitOf(parts, shear[0]!);
    if (other !== unit && product(other, "1") !== product(unit, "1"))
      throw new TableError(
        `the pressure is in ${unit ?? "an unknown unit"} and the shear in ${other ?? "an unknown one"}: they have to agree`,
      );
  }
  const { force, moment } = over.load(parts, l.pressure, l.reference ?? 0, shear, "about" in r ? r.about : [0, 0, 0]);
  const n = product(unit, measure);
  return "force" in r ? three(force, plain(n, "N")) : three(moment, plain(product(n, f.lengthUnit), "N m"));
}

const product = (a: UnitSymbol, b: UnitSymbol): UnitSymbol =>
  a === null || b === null ? null : multiplyUnits(parseUnit(a), parseUnit(b)).symbol;
/** A unit by its usual name, where it is that one. */
const plain = (unit: UnitSymbol, usual: string): UnitSymbol =>
  unit !== null && sameDimensions(parseUnit(unit), parseUnit(usual)) && convert(1, unit, usual) === 1 ? usual : unit;
const raised = (unit: UnitSymbol, power: number): UnitSymbol => {
  let out: UnitSymbol = "1";
  for (let k = 0; k < power; k++) out = product(out, unit);
  return out;
};
