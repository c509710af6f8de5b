import { evaluateFormula } from "../tables/formula.js";
import { formulaNames, type FormulaTree } from "../tables/formula-tree.js";
import { makeTable, numberColumn, textColumn, type Column, type Table, type UnitSymbol } from "../tables/table.js";
import { sampleAt } from "./at-places.js";
import { askedColumns, Block, blocksNamed, type Asked, type NamedField } from "./field-set.js";
import { blockPieces, cornerValues, planePieces, type Pieces } from "./pieces.js";
import { directions, placesOf, stationsOf, type Places, type Site } from "./sites.js";

/** A column by formula, made after sampling. */
export interface DerivedField {
  readonly name: string;
  readonly formula: FormulaTree;
  readonly unit?: string | undefined;
  readonly constants: Parameters<typeof evaluateFormula>[2];
}

/** One time of a field with what is known of its names and units. */
export interface FieldAtTime {
  readonly file: string;
  readonly blocks: readonly Block[];
  readonly fields: readonly NamedField[];
  readonly lengthUnit: UnitSymbol;
  readonly derived: readonly DerivedField[];
}

/** The columns that are wanted: those of the file, and those made by formula with what they need. */
function wantedOf(
  f: FieldAtTime,
  names: readonly string[],
): { asked: Asked[]; derived: DerivedField[]; shown: string[] } {
  const derived: DerivedField[] = [];
  const needed: string[] = [];
  const visit = (name: string, depth = 0): void => {
    const d = f.derived.find((x) => x.name === name);
    if (!d || depth > 20) {
      if (!needed.includes(name)) needed.push(name);
      return;
    }
    for (const used of formulaNames(d.formula))
      if (!Object.hasOwn(d.constants ?? {}, used) && !["x", "y", "z"].includes(used)) visit(used, depth + 1);
    if (!derived.includes(d)) derived.push(d);
  };
  for (const n of names) visit(n);
  const asked = askedColumns(f.fields, needed);
  const shown = names.flatMap((n) =>
    f.derived.some((d) => d.name === n) ? [n] : askedColumns(f.fields, [n]).map((a) => a.column),
  );
  return { asked, derived, shown: [...new Set(shown)] };
}

function withDerived(columns: readonly Column[], derived: readonly DerivedField[]): Column[] {
  const out = [...columns];
  for (const d of derived) {
    const table = makeTable(out);
    const { values, unit } = evaluateFormula(d.formula, table, d.constants);
    out.push(numberColumn(d.name, d.unit ?? unit, values));
  }
  return out;
}

const coordinates = (xyz: Float64Array, unit: UnitSymbol): Column[] =>
  (["x", "y", "z"] as const).map((name, d) => numberColumn(name, unit, Float64Array.from({ length: xyz.length / 3 }, (_, i) => xyz[3 * i + d]!))); // prettier-ignore

/**
 * Samples fields at a site: a table with a row a place, or a row a piece for planes, patches and whole blocks.
 *
 * Lines and paths are ordered by `distance` from their start, which is the table's axis. Places outside the mesh are
 * blank and counted in a note.
 *
 * @throws NoSuchColumn for a field that is not there, FormatError for a patch that is not
 */
export function sampleSite(f: FieldAtTime, site: Site, names: readonly string[]): Table {
  const { asked, derived, shown } = wantedOf(f, names);
  const places = placesOf(site);
  if (places) return sampledPlaces(f, places, asked, derived, shown);
  const parts = piecesOf(f, site);
  const head: Column[][] = [];
  for (const { block, pieces, station } of parts) {
    const middles = middlesOf(pieces);
    const values = cornerValues(block, pieces, asked);
    const own: Column[] = asked.map((a, k) =>
      numberColumn(a.column, a.field.unit, meansOf(values[k]!, pieces.corners)),
    );
    const columns = withDerived([...coordinates(middles, f.lengthUnit), ...own], derived);
    head.push([
      ...(station === undefined
        ? []
        : [numberColumn("station", f.lengthUnit, new Float64Array(pieces.size.length).fill(station))]),
      ...columns.filter((c) => ["x", "y", "z", ...shown].includes(c.name)),
      numberColumn("size", null, pieces.size),
    ]);
  }
  if (head.length === 0) return makeTable([]);
  const columns = head[0]!.map((c, k): Column => {
    const list = head.map((h) => h[k]!.values as Float64Array);
    const all = new Float64Array(list.reduce((n, v) => n + v.length, 0));
    let at = 0;
    for (const v of list) {
      all.set(v, at);
      at += v.length;
    }
    return { ...c, values: all } as Column;
  });
  return { ...makeTable(columns), rows: columns[0]!.values.length };
}

function sampledPlaces(
  f: FieldAtTime,
  places: Places,
  asked: readonly Asked[],
  derived: readonly DerivedField[],
  shown: readonly string[],
): Table {
  const { columns, outside } = sampleAt(f.blocks, places.xyz, asked);
  const own = asked.map((a, k) => numberColumn(a.column, a.field.unit, columns[k]!));
  const all = withDerived([...coordinates(places.xyz, f.lengthUnit), ...own], derived);
  const kept = all.filter((c) => ["x", "y", "z", ...shown].includes(c.name));
  const notes = outside > 0 ? [`${outside} of ${places.xyz.length / 3} places lie outside the mesh and are blank`] : [];
  return makeTable(
    [
      ...(places.names ? [textColumn("place", places.names)] : []),
      ...(places.distance ? [numberColumn("distance", f.lengthUnit, places.distance)] : []),
      ...kept,
    ],
    { axis: places.distance ? "distance" : undefined, notes },
  );
}

function middlesOf(p: Pieces): Float64Array {
  const out = new Float64Array(3 * p.size.length);
  for (let t = 0; t < p.size.length; t++)
    for (let k = 0; k < p.corners; k++)
      for (let d = 0; d < 3; d++) out[3 * t + d]! += p.places[3 * (p.corners * t + k) + d]! / p.corners;
  return out;
}

function meansOf(values: Float64Array, corners: number): Float64Array {
  const out = new Float64Array(values.length / corners);
  for (let t = 0; t < out.length; t++) {
    let sum = 0;
    for (let k = 0; k < corners; k++) sum += values[corners * t + k]!;
    out[t] = sum / corners;
  }
  return out;
}

interface Part {
  readonly block: Block;
  readonly pieces: Pieces;
  /** Where on its axis the plane of a station stands. */
  readonly station: number | undefined;
}

/** The pieces that a plane, patch, volume or the planes of stations are made of. */
export function piecesOf(f: FieldAtTime, site: Site): Part[] {
  switch (site.kind) {
    case "plane":
      return f.blocks.map((block) => ({
        block,
        pieces: planePieces(block, site.point, site.normal),
        station: undefined,
      }));
    case "patch":
      return blocksNamed(f.blocks, site.match, f.file).map((block) => ({
        block,
        pieces: blockPieces(block),
        station: undefined,
      }));
    case "all":
      return f.blocks.map((block) => ({ block, pieces: blockPieces(block), station: undefined }));
    case "stations": {
      const normal = directions[site.along];
      return stationsOf(site).flatMap((station) =>
        f.blocks.map((block) => ({
          block,
          pieces: planePieces(
            block,
            normal.map((n) => n * station),
            normal,
          ),
          station,
        })),
      );
    }
    default:
      throw new Error(`a ${site.kind} is not made of pieces`);
  }
}

/** Corner values of wanted columns, with those made by formula. */
export function cornersOf(
  f: FieldAtTime,
  { block, pieces }: Part,
  names: readonly string[],
): Map<string, { values: Float64Array; unit: UnitSymbol }> {
  const { asked, derived } = wantedOf(f, names);
  const values = cornerValues(block, pieces, asked);
  const own = asked.map((a, k) => numberColumn(a.column, a.field.unit, values[k]!));
  const columns =
    derived.length > 0 ? withDerived([...coordinates(pieces.places, f.lengthUnit), ...own], derived) : own;
  return new Map(
    columns.flatMap((c) => (c.kind === "number" ? [[c.name, { values: c.values, unit: c.unit }] as const] : [])),
  );
}
