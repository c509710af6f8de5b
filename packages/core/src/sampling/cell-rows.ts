import { makeTable, numberColumn, type Column, type Table } from "../tables/table.js";
import { completed, coordinates, wantedOf, type FieldAtTime, type Wanted } from "./columns.js";
import type { Block } from "./field-set.js";
import { integrationOfCut, wholeIntegration } from "./integration.js";
import type { Part as Measured } from "./over-pieces.js";
import { cornerValues } from "./pieces.js";
import { quadratureValues } from "./quadrature.js";
import type { Part } from "./part.js";

/** Columns at the corners of pieces or at points of integration. */
function columnsOf(
  f: FieldAtTime,
  values: readonly Float64Array[],
  wanted: Wanted,
  places: Float64Array,
  normals: Float64Array | undefined,
): Measured["columns"] {
  const own = wanted.asked.map((a, k) => numberColumn(a.column, a.field.unit, values[k]!));
  const more = wanted.derived.length + wanted.projections.length > 0;
  const columns: readonly Column[] = more
    ? completed([...coordinates(places, f.lengthUnit), ...own], wanted, normals)
    : own;
  return new Map(
    columns.flatMap((c) => (c.kind === "number" ? [[c.name, { values: c.values, unit: c.unit }] as const] : [])),
  );
}

/** Normals of pieces, repeated for each of their corners. */
function atCorners(normals: Float64Array | undefined, corners: number, count: number): Float64Array | undefined {
  if (!normals || corners === 1) return normals;
  const out = new Float64Array(3 * corners * count);
  for (let i = 0; i < corners * count; i++)
    for (let d = 0; d < 3; d++) out[3 * i + d] = normals[3 * Math.floor(i / corners) + d]!;
  return out;
}

/** Pieces with wanted columns at their corners. */
export function cornersOf(
  f: FieldAtTime,
  { block, pieces }: Pick<Part, "block" | "pieces">,
  names: readonly string[],
): Measured["columns"] {
  const wanted = wantedOf(f, names);
  const normals = atCorners(pieces.normals, pieces.corners, pieces.size.length);
  return columnsOf(f, cornerValues(block, pieces, wanted.asked), wanted, pieces.places, normals);
}

/** What a part of a site is integrated over: simplices by their corners, other cells by points of integration. */
export function integrated(f: FieldAtTime, part: Part, names: readonly string[], of = 0): Measured[] {
  const { simple, points } = part.whole ? wholeIntegration(part.block) : integrationOfCut(part.block, part.pieces);
  const out: Measured[] = [];
  if (simple.size.length > 0 || !points) {
    const { corners, cell, size, places, normals } = simple;
    out.push({
      corners,
      dimension: corners - 1,
      cell: merges(part) ? cell : undefined,
      of,
      size,
      places,
      normals,
      columns: cornersOf(f, { block: part.block, pieces: simple }, names),
    });
  }
  if (points) {
    const { dimension, cell, size, places, normals } = points;
    const wanted = wantedOf(f, names);
    const columns = columnsOf(f, quadratureValues(part.block, points, wanted.asked), wanted, places, normals);
    out.push({ corners: 1, dimension, cell, of, size, places, normals, columns });
  }
  return out;
}

/** Whether pieces of one cell are one row: not the points of a cloud and the stretches of a line. */
const merges = ({ block, whole }: Part): boolean => block.mesh.dimension > 1 || (!whole && block.mesh.dimension === 1);

/** One cell's sums over its pieces. */
interface CellSums {
  readonly cell: number;
  size: number;
  readonly place: number[];
  readonly normal: number[];
  readonly values: number[];
}

/**
 * A row for each cell of a part of a site: its number in the file, its middle, the mean of each field over it, and its
 * size there. Points of a cloud and stretches of lines are rows each.
 */
export function cellRows(f: FieldAtTime, part: Part, wanted: Wanted): Table {
  const plain = [...new Set(wanted.asked.map((a) => a.column))];
  const merged = merges(part);
  const cells = new Map<number, CellSums>();
  for (const m of integrated({ ...f, derived: [] }, part, plain)) {
    const columns = plain.map((n) => m.columns.get(n)!.values);
    const numbers = m.cell ?? part.pieces.cell;
    for (let t = 0; t < m.size.length; t++) add(m, t, columns, cells, merged ? numbers[t]! : t, numbers[t]!);
  }
  const rows = [...cells].sort(([a], [b]) => a - b).map(([, c]) => c);
  const places = Float64Array.from(rows.flatMap((r) => r.place.map((v) => v / r.size)));
  const normals =
    rows.some((r) => r.normal.some((v) => v !== 0)) || part.block.mesh.dimension === (part.whole ? 2 : 3)
      ? Float64Array.from(
          rows.flatMap((r) => {
            const n = Math.hypot(...r.normal) || 1;
            return r.normal.map((v) => v / n);
          }),
        )
      : undefined;
  const own = wanted.asked.map((a) =>
    numberColumn(
      a.column,
      a.field.unit,
      Float64Array.from(rows, (r) => r.values[plain.indexOf(a.column)]! / r.size),
    ),
  );
  const columns = completed([...coordinates(places, f.lengthUnit), ...own], wanted, normals);
  return makeTable([
    numberColumn(
      "cell",
      "1",
      Float64Array.from(rows, (r) => inFile(part.block, r.cell)),
    ),
    ...columns.filter((c) => ["x", "y", "z", ...wanted.shown].includes(c.name)),
    numberColumn(
      "size",
      null,
      Float64Array.from(rows, (r) => r.size),
    ),
  ]);
}

const inFile = (block: Block, cell: number): number => block.grid.cellNumbers?.[cell] ?? cell;

function add(
  m: Measured,
  t: number,
  columns: readonly Float64Array[],
  cells: Map<number, CellSums>,
  key: number,
  cell: number,
): void {
  const k = m.corners;
  const size = m.size[t]!;
  let c = cells.get(key);
  if (!c) cells.set(key, (c = { cell, size: 0, place: [0, 0, 0], normal: [0, 0, 0], values: columns.map(() => 0) }));
  c.size += size;
  for (let d = 0; d < 3; d++) {
    let x = 0;
    for (let i = k * t; i < k * (t + 1); i++) x += m.places[3 * i + d]!;
    c.place[d]! += (size * x) / k;
    if (m.normals) c.normal[d]! += size * m.normals[3 * t + d]!;
  }
  for (let v = 0; v < columns.length; v++) {
    let sum = 0;
    for (let i = k * t; i < k * (t + 1); i++) sum += columns[v]![i]!;
    c.values[v]! += (size * sum) / k;
  }
}
