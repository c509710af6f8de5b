import { boundsOf } from "../mesh/mesh.js";
import { makeTable, numberColumn, textColumn, TableError, type Column, type Table } from "../tables/table.js";
import { sampleAt } from "./at-places.js";
import { blocksOfSite } from "./blocks-of-site.js";
import { cellRows } from "./cell-rows.js";
import { sampleNumbered } from "./by-number.js";
import { completed, coordinates, notesOf, wantedOf, type FieldAtTime, type Wanted } from "./columns.js";
import { orderedAlong, type DistanceAxis } from "./order-along.js";
import { sampleScattered } from "./scattered/sample.js";
import type { Method } from "./scattered/methods.js";
import { kindOf, piecesOf, placesOf, type Site } from "./sites/index.js";
import type { Places } from "./places.js";

/** How values are taken, and over what they are ordered. */
export interface SampleOptions {
  /** Inside cells by shape functions when not given. */
  readonly method?: Method | undefined;
  readonly axis?: DistanceAxis | undefined;
}

/** The box around all points of the mesh: low and high x, y, z; undefined where there are none. */
export function meshBounds(f: FieldAtTime): readonly number[] | undefined {
  const boxes = f.blocks.filter((b) => b.grid.points > 0).map((b) => boundsOf(b.mesh.points));
  if (boxes.length === 0) return undefined;
  return [0, 1, 2, 3, 4, 5].map((k) =>
    boxes.reduce((m, b) => (k % 2 === 0 ? Math.min : Math.max)(m, b[k]!), k % 2 === 0 ? Infinity : -Infinity),
  );
}

/** A site whose places are known: a column as the line from end to end of the mesh. */
export function settled(f: FieldAtTime, site: Site): Site {
  const { settled: settle } = kindOf(site);
  return settle ? (settle(site, meshBounds(f) ?? [0, 1, 0, 1, 0, 1]) as Site) : site;
}

/**
 * Samples fields at a site: a table with one row per point, or a row per piece for planes, patches and whole blocks.
 *
 * Lines and paths are ordered by `distance` from their start, which is the table's axis, unless `axis` says otherwise.
 * Places outside the mesh are blank and counted in a note. Stations of lines give the rows of each line, with the
 * station.
 *
 * @throws NoSuchColumn for a field that is not there, FormatError for a patch that is not
 * @example sampleSite(field, { kind: "line", from: [0, 0, 0], to: [1, 0, 0], count: 11 }, ["T"])
 */
export function sampleSite(
  whole: FieldAtTime,
  given: Site,
  names: readonly string[],
  options: SampleOptions = {},
): Table {
  const { field: f, notes } = blocksOfSite(whole, given, options.method !== undefined);
  const table = sampledAt(f, settled(f, given), names, options);
  const all = [...notes, ...notesOf(f, names)];
  return all.length === 0 ? table : { ...table, notes: [...new Set([...all, ...table.notes])] };
}

function sampledAt(f: FieldAtTime, site: Site, names: readonly string[], options: SampleOptions): Table {
  const wanted = wantedOf(f, names);
  const kind = kindOf(site);
  if (kind.numbered) return sampleNumbered(f, site as Site & { ids: readonly number[] }, kind.numbered, wanted);
  const places = placesOf(site);
  if (places) return sampledPlaces(f, places, wanted, options);
  const lines = kind.lines?.(site);
  if (lines)
    return stacked(
      lines.map((l) => {
        const t = sampledPlaces(f, placesOf(l.line)!, wanted, { ...options, axis: undefined });
        const column = numberColumn("station", f.lengthUnit, new Float64Array(t.rows).fill(l.at));
        return { ...t, columns: [column, ...t.columns] };
      }),
    );
  const notes = new Set<string>();
  const rows = piecesOf(f, site, notes).map((part) => {
    const t = cellRows(f, part, wanted);
    if (part.station === undefined) return t;
    const station = numberColumn("station", f.lengthUnit, new Float64Array(t.rows).fill(part.station.at));
    return { ...t, columns: [station, ...t.columns] };
  });
  const table = stacked(rows);
  return notes.size === 0 ? table : { ...table, notes: [...table.notes, ...notes] };
}

/** Tables of the same columns, one below the other; notes that several have are said once. */
function stacked(tables: readonly Table[]): Table {
  const [first] = tables;
  if (!first) return makeTable([]);
  const rows = tables.reduce((n, t) => n + t.rows, 0);
  const columns = first.columns.map((c, k): Column => {
    if (c.kind === "text")
      return { ...c, values: tables.flatMap((t) => Array.from(t.columns[k]!.values as readonly string[])) };
    const all = new Float64Array(rows);
    let at = 0;
    for (const t of tables) {
      all.set(t.columns[k]!.values as Float64Array, at);
      at += t.rows;
    }
    return { ...c, values: all };
  });
  return { ...makeTable(columns, { notes: [...new Set(tables.flatMap((t) => t.notes))] }), rows };
}

function sampledPlaces(f: FieldAtTime, places: Places, wanted: Wanted, options: SampleOptions): Table {
  const { method } = options;
  const { columns, outside, notes } = method
    ? sampleScattered(f.blocks, places.xyz, wanted.asked, method)
    : { notes: [], ...sampleAt(f.blocks, places.xyz, wanted.asked) };
  if (
    outside === places.xyz.length / 3 &&
    f.blocks.length > 0 &&
    !method &&
    f.blocks.every((b) => b.grid.dimension() === 0)
  )
    throw new TableError(
      `${f.file === "" ? "this" : f.file} is a cloud of points without cells: say how values are taken ` +
        `from it, as in { method: "nearest" } or { method: "inverse-distance" }`,
    );
  const own = wanted.asked.map((a, k) => numberColumn(a.column, a.field.unit, columns[k]!));
  const all = completed([...coordinates(places.xyz, f.lengthUnit), ...own], wanted, places.tangent);
  const kept = all.filter((c) => ["x", "y", "z", ...wanted.shown].includes(c.name));
  const why =
    method?.kind === "linear"
      ? "lie outside the points' hull"
      : method
        ? "have no points near them"
        : "lie outside the mesh";
  const lost = outside > 0 ? [`${outside} of ${places.xyz.length / 3} places ${why} and are blank`] : [];
  const table = makeTable(
    [
      ...(places.names ? [textColumn("place", places.names)] : []),
      ...(places.distance ? [numberColumn("distance", f.lengthUnit, places.distance)] : []),
      ...kept,
    ],
    { axis: places.distance ? "distance" : undefined, notes: [...notes, ...lost] },
  );
  return options.axis ? orderedAlong(table, options.axis, f.lengthUnit) : table;
}
