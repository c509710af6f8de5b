import { boundaryFaces } from "../mesh/boundary.js";
import { openEdges, Surface, surfaceOf } from "../mesh/outer-surface.js";
import { makeTable, numberColumn, TableError, type Table } from "../tables/table.js";
import { ByteCache } from "./byte-cache.js";
import { blocksOfSite } from "./blocks-of-site.js";
import { sampleAt } from "./at-places.js";
import { wantedOf, type FieldAtTime } from "./columns.js";
import { askedColumns, type Block } from "./field-set.js";
import type { Pieces } from "./pieces.js";
import { cornersOf } from "./cell-rows.js";
import { kindOf, piecesOf, type Site } from "./sites/index.js";

/** What is to be seen of a site. */
export interface ViewOptions {
  /** The field that colours it; without one only its outline is seen. */
  readonly color?: string | undefined;
  /** A vector field for arrows and streamlines within a plane. */
  readonly vectors?: string | undefined;
  /** The edges of the whole mesh round it. */
  readonly outline?: boolean | undefined;
}

/** What a row of a view is: a corner of a triangle, an end of an edge, or a place of the grid of vectors. */
export const viewPart = { triangle: 0, edge: 1, rim: 2, grid: 3 } as const;

const MOST_TRIANGLES = 4_000_000;
const GRID = 160;

/**
 * What a picture of a site needs: a table whose rows are corners of triangles with their value, ends of edges, and a
 * grid of vectors; see {@link viewPart}. Length in the mesh's unit; `value` in the field's.
 *
 * @throws TableError for a site that is not a surface, or one with more than four million triangles
 * @example viewOf(field, { kind: "plane", point: [0, 4, 0], normal: [0, 1, 0] }, { color: "T" })
 */
export function viewOf(whole: FieldAtTime, site: Site, o: ViewOptions): Table {
  const { field: f, notes } = blocksOfSite(whole, site);
  const noted = new Set<string>(notes);
  const { picture } = kindOf(site);
  if (!picture)
    throw new TableError(
      `a picture shows planes, patches, surfaces of equal value or the whole mesh, not a ${site.kind}`,
    );
  const rows = new Rows();
  let unit: string | null = null;
  const parts = picture.skin
    ? f.blocks.map((block) => ({ block, pieces: skin(block), station: undefined }))
    : piecesOf(f, site, noted);
  for (const part of parts) {
    const { pieces } = part;
    if (pieces.corners !== 3) {
      rows.add(viewPart.rim, openEdges(pieces));
      continue;
    }
    if (pieces.cell.length > MOST_TRIANGLES)
      throw new TableError(
        `a picture of ${pieces.cell.length} triangles; ${MOST_TRIANGLES} are the most: bound the plane, or take one patch`,
      );
    const found = o.color === undefined ? undefined : cornersOf(f, part, [o.color]);
    const column = found && (found.get(o.color!) ?? [...found.values()].at(-1));
    if (found && found.size > 1 && !found.has(o.color!))
      throw new TableError(`"${o.color}" is a vector: name one of its components, as in "${o.color}.mag"`);
    unit ??= column?.unit ?? null;
    rows.add(viewPart.triangle, pieces.places, column?.values);
    if (picture.rim) rows.add(viewPart.rim, openEdges(pieces));
  }
  if (o.outline ?? picture.outline ?? true) for (const b of f.blocks) rows.add(viewPart.edge, outlineOf(b));
  if (o.vectors !== undefined) addGrid(f, site, o.vectors, parts, rows);
  const vectorUnit = o.vectors === undefined ? null : (f.fields.find((x) => x.name === o.vectors)?.unit ?? null);
  const table = rows.table(f.lengthUnit, o.color, unit, o.vectors === undefined ? undefined : vectorUnit);
  return { ...table, notes: [...table.notes, ...noted] };
}

/** Rows of a view, grown part by part. */
class Rows {
  readonly #chunks: {
    part: number;
    places: ArrayLike<number>;
    values: ArrayLike<number> | undefined;
    vectors: Float64Array | undefined;
    nx: number;
  }[] = [];
  add(part: number, places: ArrayLike<number>, values?: ArrayLike<number>, vectors?: Float64Array, nx = 0): void {
    if (places.length > 0) this.#chunks.push({ part, places, values, vectors, nx });
  }
  table(
    lengthUnit: string | null,
    label: string | undefined,
    unit: string | null,
    vectorUnit: string | null | undefined,
  ): Table {
    const n = this.#chunks.reduce((s, c) => s + c.places.length / 3, 0);
    const column = (): Float64Array => new Float64Array(n).fill(Number.NaN);
    const [part, x, y, z, value, ux, uy, uz, i, j] = Array.from({ length: 10 }, column) as [
      Float64Array,
      Float64Array,
      Float64Array,
      Float64Array,
      Float64Array,
      Float64Array,
      Float64Array,
      Float64Array,
      Float64Array,
      Float64Array,
    ];
    let at = 0;
    for (const c of this.#chunks)
      for (let k = 0; k < c.places.length / 3; k++, at++) {
        part[at] = c.part;
        x[at] = c.places[3 * k]!;
        y[at] = c.places[3 * k + 1]!;
        z[at] = c.places[3 * k + 2]!;
        if (c.values) value[at] = c.values[k]!;
        if (!c.vectors) continue;
        ux[at] = c.vectors[3 * k]!;
        uy[at] = c.vectors[3 * k + 1]!;
        uz[at] = c.vectors[3 * k + 2]!;
        i[at] = k % c.nx;
        j[at] = Math.floor(k / c.nx);
      }
    const length = (name: string, v: Float64Array): ReturnType<typeof numberColumn> =>
      numberColumn(name, lengthUnit, v);
    return makeTable([
      numberColumn("part", "1", part),
      length("x", x),
      length("y", y),
      length("z", z),
      numberColumn("value", unit, value, { label }),
      ...(vectorUnit !== undefined
        ? [
            numberColumn("ux", vectorUnit, ux),
            numberColumn("uy", vectorUnit, uy),
            numberColumn("uz", vectorUnit, uz),
            numberColumn("i", "1", i),
            numberColumn("j", "1", j),
          ]
        : []),
    ]);
  }
}

const skins = new ByteCache<Pieces>();
const outlines = new ByteCache<Float32Array>();

function kept<T>(store: ByteCache<T>, key: string, make: () => T, bytes: (made: T) => number): T {
  const known = store.get(key);
  if (known) return known;
  const made = make();
  store.set(key, made, bytes(made));
  return made;
}

/** The outer faces of a block as triangles; kept for the next run or time on the same mesh. */
function skin(block: Block): Pieces {
  const { mesh } = block;
  if (mesh.dimension !== 3) return piecesOf({ blocks: [block] } as unknown as FieldAtTime, { kind: "all" })[0]!.pieces;
  return kept(
    skins,
    block.digest,
    () => {
      const b = boundaryFaces(mesh);
      const nodes: number[] = [];
      const cell: number[] = [];
      for (let f = 0; f < b.cell.length; f++)
        for (let k = b.offsets[f]! + 1; k + 1 < b.offsets[f + 1]!; k++) {
          nodes.push(b.nodes[b.offsets[f]!]!, b.nodes[k]!, b.nodes[k + 1]!);
          cell.push(b.cell[f]!);
        }
      const from = Int32Array.from(nodes);
      const places = new Float64Array(3 * from.length);
      for (let i = 0; i < from.length; i++)
        for (let d = 0; d < 3; d++) places[3 * i + d] = mesh.points[3 * from[i]! + d]!;
      return {
        corners: 3,
        from,
        to: from,
        part: new Float64Array(from.length),
        cell: Int32Array.from(cell),
        size: new Float64Array(cell.length),
        places,
        normals: undefined,
      };
    },
    (made) => made.size.length * 168,
  );
}

/** The edges at which a block's outer surface bends or ends. */
const outlineOf = (block: Block): Float32Array =>
  kept(
    outlines,
    block.digest,
    () => {
      const s = new Surface();
      surfaceOf(block.mesh, s, 0);
      return Float32Array.from(s.edges.flatMap((p) => [s.points[3 * p]!, s.points[3 * p + 1]!, s.points[3 * p + 2]!]));
    },
    (made) => made.byteLength,
  );

/** Two directions within a plane: along the axes where it is square to one. */
export function directionsIn(normal: readonly number[]): readonly [readonly number[], readonly number[]] {
  const size = Math.hypot(normal[0]!, normal[1]!, normal[2]!);
  const n = normal.map((v) => v / size);
  const up = Math.abs(n[2]!) > 0.9 ? [0, 1, 0] : [0, 0, 1];
  const dot = up.reduce((s, v, k) => s + v * n[k]!, 0);
  const v = up.map((u, k) => u - dot * n[k]!);
  const length = Math.hypot(v[0]!, v[1]!, v[2]!);
  const w = v.map((c) => c / length);
  // To the right of `up`, so that x points to the right on planes along the axes.
  let u = [w[1]! * n[2]! - w[2]! * n[1]!, w[2]! * n[0]! - w[0]! * n[2]!, w[0]! * n[1]! - w[1]! * n[0]!];
  const main = u.reduce((best, c, k) => (Math.abs(c) > Math.abs(u[best]!) + 1e-12 ? k : best), 0);
  if (u[main]! < 0) u = u.map((c) => -c);
  return [u, w];
}

/** Vectors on a regular grid of places in a plane, for arrows and streamlines. */
function addGrid(f: FieldAtTime, site: Site, name: string, parts: readonly { pieces: Pieces }[], rows: Rows): void {
  if (site.kind !== "plane") throw new TableError("arrows and streamlines are drawn in planes");
  const field = f.fields.find((x) => x.name === name);
  if (field && field.components !== 3)
    throw new TableError(`"${name}" is not a vector: arrows and streamlines need one`);
  const wanted = wantedOf(
    f,
    askedColumns(f.fields, [`${name}.x`, `${name}.y`, `${name}.z`]).map((a) => a.column),
  );
  const [u, v] = directionsIn(site.normal);
  const b = [Infinity, -Infinity, Infinity, -Infinity];
  for (const { pieces } of parts)
    for (let k = 0; k < pieces.places.length; k += 3) {
      const [a, c] = [u, v].map(
        (w) => w[0]! * pieces.places[k]! + w[1]! * pieces.places[k + 1]! + w[2]! * pieces.places[k + 2]!,
      ) as [number, number];
      [b[0], b[1], b[2], b[3]] = [Math.min(b[0]!, a), Math.max(b[1]!, a), Math.min(b[2]!, c), Math.max(b[3]!, c)];
    }
  const [wide, tall] = [b[1]! - b[0]!, b[3]! - b[2]!];
  if (!(wide > 0) || !(tall > 0)) return;
  const step = Math.max(wide, tall) / GRID;
  const [nx, ny] = [Math.max(4, Math.round(wide / step)), Math.max(4, Math.round(tall / step))];
  const n = site.normal.map((c) => c / Math.hypot(...site.normal));
  const depth = n.reduce((s, c, k) => s + c * site.point[k]!, 0);
  const places = new Float64Array(3 * nx * ny);
  for (let j = 0; j < ny; j++)
    for (let i = 0; i < nx; i++) {
      const [a, c] = [b[0]! + ((i + 0.5) * wide) / nx, b[2]! + ((j + 0.5) * tall) / ny];
      for (let d = 0; d < 3; d++) places[3 * (j * nx + i) + d] = a * u[d]! + c * v[d]! + depth * n[d]!;
    }
  const { columns } = sampleAt(f.blocks, places, wanted.asked);
  const vectors = new Float64Array(places.length);
  for (let k = 0; k < nx * ny; k++) for (let d = 0; d < 3; d++) vectors[3 * k + d] = columns[d]![k]!;
  rows.add(viewPart.grid, places, undefined, vectors, nx);
}
