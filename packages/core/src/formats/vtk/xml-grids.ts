import { FormatError, type ByteSource } from "../source.js";
import {
  checkCells,
  checkStructured,
  dimensionOf,
  structuredCells,
  structuredCounts,
  toIndices,
  vtkCell,
} from "../cell-building.js";
import {
  doubles,
  type CellArrays,
  type Extent,
  type FieldHead,
  type Grid,
  type PolyhedronFaces,
} from "../mesh-data.js";
import { takeRoom } from "../room.js";
import { DataArray, type Encoding } from "./data-array.js";
import type { XmlElement } from "./xml.js";

const child = (e: XmlElement, name: string): XmlElement | undefined => e.children.find((c) => c.name === name);

/** What a piece of any of the grid kinds is read from. */
interface Place {
  readonly source: ByteSource;
  readonly encoding: Encoding;
  readonly block: string;
}

function countOf(e: XmlElement, name: string, place: Place): number {
  const n = Number(e.attributes[name] ?? 0);
  if (!Number.isInteger(n) || n < 0 || n > 2 ** 31 - 2)
    throw new FormatError(place.source.name, `${name} is "${e.attributes[name]}"`, { offset: e.at });
  return n;
}

/** The fields of a piece and how to read them. */
function fieldsOf(
  piece: XmlElement,
  place: Place,
  counts: { points: number; cells: number },
): Pick<Grid, "fields" | "readField" | "readSome" | "readsParts"> {
  const arrays = new Map<string, DataArray>();
  const fields: FieldHead[] = [];
  for (const [part, on] of [
    ["PointData", "point"],
    ["CellData", "cell"],
  ] as const) {
    let unnamed = 0;
    for (const e of child(piece, part)?.children ?? []) {
      if (e.name !== "DataArray" || e.attributes["type"] === "String") continue;
      const a = new DataArray(place.source, e, place.encoding, on === "point" ? counts.points : counts.cells);
      const name = a.name || `unnamed ${++unnamed}`;
      if (arrays.has(`${on} ${name}`)) continue;
      arrays.set(`${on} ${name}`, a);
      const claimed = a.claimed && a.components === 1 ? { claimed: a.claimed } : {};
      fields.push({ name, on, components: a.components, type: a.type, ...claimed });
    }
  }
  const arrayOf = (on: string, name: string): DataArray => {
    const a = arrays.get(`${on} ${name}`);
    if (!a)
      throw new FormatError(
        place.source.name,
        `there is no ${on} field "${name}"; there is ${fields.map((f) => `"${f.name}"`).join(", ") || "none"}`,
      );
    return a;
  };
  return {
    fields,
    readField: (on, name) => doubles(arrayOf(on, name).read()),
    readSome: (on, name, indices) => arrayOf(on, name).some(indices),
    readsParts: (on, name) => arrayOf(on, name).plain,
  };
}

function arrayIn(
  e: XmlElement | undefined,
  place: Place,
  tuples: number | undefined,
  name?: string,
): DataArray | undefined {
  const found = e?.children.find(
    (c) => c.name === "DataArray" && (name === undefined || c.attributes["Name"]?.toLowerCase() === name),
  );
  return found && new DataArray(place.source, found, place.encoding, tuples);
}

function pointsOf(piece: XmlElement, place: Place, count: number): DataArray {
  const a = arrayIn(child(piece, "Points"), place, count);
  if (!a) throw new FormatError(place.source.name, "a piece has no points", { offset: piece.at });
  if (a.components !== 3)
    throw new FormatError(place.source.name, `points have ${a.components} coordinates`, { offset: piece.at });
  return a;
}

const asFloat = (a: DataArray): Float64Array => doubles(a.read());

/** A piece of an unstructured grid. */
export function unstructuredPiece(piece: XmlElement, place: Place): Grid {
  const counts = { points: countOf(piece, "NumberOfPoints", place), cells: countOf(piece, "NumberOfCells", place) };
  const cells = child(piece, "Cells");
  const part = (name: string, tuples?: number): DataArray => {
    const a = arrayIn(cells, place, tuples, name);
    if (!a) throw new FormatError(place.source.name, `a piece has no ${name} of its cells`, { offset: piece.at });
    return a;
  };
  const file = place.source.name;
  return {
    block: place.block,
    ...counts,
    ...fieldsOf(piece, place, counts),
    dimension: () => (counts.cells === 0 ? 0 : dimensionOf(part("types", counts.cells).read() as Uint8Array)),
    readPoints: () => (counts.points === 0 ? new Float64Array(0) : asFloat(pointsOf(piece, place, counts.points))),
    readCells: () => {
      if (counts.cells === 0) return { types: new Uint8Array(0), offsets: new Int32Array(1), nodes: new Int32Array(0) };
      const ends = toIndices(part("offsets", counts.cells).read(), file, "offsets");
      takeRoom(4 * counts.cells);
      const offsets = new Int32Array(counts.cells + 1);
      offsets.set(ends, 1);
      const nodes = toIndices(part("connectivity", ends[ends.length - 1]!).read(), file, "connectivity");
      const types = Uint8Array.from(part("types", counts.cells).read() as Uint8Array, Number);
      const polyhedra = types.includes(vtkCell.polyhedron) ? polyhedraOf(cells!, place, counts.cells) : undefined;
      return checkCells({ types, offsets, nodes, ...(polyhedra && { polyhedra }) }, counts.points, file);
    },
    readCorners: (some) => {
      const [points, ends, types] = [
        pointsOf(piece, place, counts.points),
        part("offsets", counts.cells),
        part("types", counts.cells),
      ];
      const list = part("connectivity");
      if (![points, ends, types, list].every((a) => a.plain)) return undefined;
      const before = ends.some(Int32Array.from(some, (c) => Math.max(0, c - 1)));
      const after = ends.some(some);
      const offsets = new Int32Array(some.length + 1);
      const at: number[] = [];
      for (let i = 0; i < some.length; i++) {
        const first = some[i] === 0 ? 0 : before[i]!;
        if (!(after[i]! >= first && after[i]! - first < 1000)) return undefined;
        for (let k = first; k < after[i]!; k++) at.push(k);
        offsets[i + 1] = at.length;
      }
      const nodes = Int32Array.from(list.some(at));
      if (nodes.some((v) => v < 0 || v >= counts.points)) return undefined;
      return { types: Uint8Array.from(types.some(some)), offsets, nodes, places: points.some(nodes) };
    },
    digestOf: (hash) => {
      if (counts.points > 0) pointsOf(piece, place, counts.points).digest(hash);
      if (counts.cells > 0)
        for (const e of cells?.children ?? []) new DataArray(place.source, e, place.encoding, undefined).digest(hash);
    },
  };
}

/** Faces of polyhedra, as files before and after version 2.3 of the format list them. */
function polyhedraOf(cells: XmlElement, place: Place, count: number): PolyhedronFaces {
  const file = place.source.name;
  const old = arrayIn(cells, place, undefined, "faces");
  const cellOffsets = new Int32Array(count + 1);
  if (old) {
    const faces = toIndices(old.read(), file, "faces");
    const ends = arrayIn(cells, place, count, "faceoffsets")?.read();
    if (!ends) throw new FormatError(file, "polyhedra have faces, but no offsets of them", { offset: cells.at });
    const faceOffsets = [0];
    const nodes: number[] = [];
    let at = 0;
    for (let c = 0; c < count; c++) {
      const end = Number(ends[c]!);
      if (end >= 0) {
        if (end > faces.length || at >= end)
          throw new FormatError(file, `cell ${c}: its faces end at ${end}, of ${faces.length}`);
        const many = faces[at++]!;
        for (let f = 0; f < many; f++) {
          const n = faces[at++] ?? Infinity;
          if (at + n > end) throw new FormatError(file, `cell ${c}: its face ${f} has ${n} nodes, more than are there`);
          for (let k = 0; k < n; k++) nodes.push(faces[at++]!);
          faceOffsets.push(nodes.length);
        }
        at = end;
      }
      cellOffsets[c + 1] = faceOffsets.length - 1;
    }
    return { cellOffsets, faceOffsets: Int32Array.from(faceOffsets), nodes: Int32Array.from(nodes) };
  }
  const read = (name: string): Int32Array | undefined => {
    const a = arrayIn(cells, place, undefined, name);
    return a && toIndices(a.read(), file, name);
  };
  const nodes = read("face_connectivity");
  const faceEnds = read("face_offsets");
  const ofCells = read("polyhedron_to_faces");
  const cellEnds = read("polyhedron_offsets");
  if (!nodes || !faceEnds || !ofCells || !cellEnds)
    throw new FormatError(file, "there are polyhedra, but their faces are not listed", { offset: cells.at });
  // Faces may be shared and in any order: here each cell has its own, one behind the other.
  const ordered: number[] = [];
  const faceOffsets = [0];
  const ends = cellEnds.length === count + 1 ? cellEnds.subarray(1) : cellEnds;
  for (let c = 0, at = 0; c < count; c++) {
    for (; at < ends[c]!; at++) {
      const f = ofCells[at]!;
      const start = faceEnds.length > 0 && faceEnds[0] === 0 ? faceEnds[f]! : f === 0 ? 0 : faceEnds[f - 1]!;
      const end = faceEnds[0] === 0 ? faceEnds[f + 1]! : faceEnds[f]!;
      if (!(end >= start && end <= nodes.length))
        throw new FormatError(file, `cell ${c} has face ${f}, which is not there`);
      for (let k = start; k < end; k++) ordered.push(nodes[k]!);
      faceOffsets.push(ordered.length);
    }
    cellOffsets[c + 1] = faceOffsets.length - 1;
  }
  return { cellOffsets, faceOffsets: Int32Array.from(faceOffsets), nodes: Int32Array.from(ordered) };
}

type PartName = "Verts" | "Lines" | "Polys" | "Strips";

/** The type of a cell of n nodes by the part of a piece that lists it. */
function typeIn(part: PartName, n: number): number {
  switch (part) {
    case "Verts":
      return n === 1 ? vtkCell.vertex : vtkCell.polyVertex;
    case "Lines":
      return n === 2 ? vtkCell.line : vtkCell.polyLine;
    case "Strips":
      return vtkCell.strip;
    case "Polys":
      return n === 3 ? vtkCell.triangle : n === 4 ? vtkCell.quad : vtkCell.polygon;
  }
}

/** The cells of a piece's parts, one part after the other. */
function polygonCells(
  piece: XmlElement,
  place: Place,
  parts: readonly (readonly [PartName, number])[],
  counts: { readonly points: number; readonly cells: number },
): CellArrays {
  const file = place.source.name;
  takeRoom(5 * counts.cells);
  const types = new Uint8Array(counts.cells);
  const offsets = new Int32Array(counts.cells + 1);
  const nodes: Int32Array[] = [];
  let cell = 0;
  let base = 0;
  for (const [name, count] of parts) {
    if (count === 0) continue;
    const e = child(piece, name);
    const ends = arrayIn(e, place, count, "offsets");
    if (!ends) throw new FormatError(file, `a piece has no offsets of its ${name.toLowerCase()}`, { offset: piece.at });
    const last = toIndices(ends.read(), file, "offsets");
    const connectivity = arrayIn(e, place, last[count - 1]!, "connectivity");
    if (!connectivity)
      throw new FormatError(file, `a piece has no connectivity of its ${name.toLowerCase()}`, { offset: piece.at });
    nodes.push(toIndices(connectivity.read(), file, "connectivity").subarray(0, last[count - 1]));
    for (let k = 0; k < count; k++) {
      types[cell] = typeIn(name, last[k]! - (k === 0 ? 0 : last[k - 1]!));
      offsets[++cell] = base + last[k]!;
    }
    base += last[count - 1]!;
  }
  const all = new Int32Array(base);
  let at = 0;
  for (const n of nodes) {
    all.set(n, at);
    at += n.length;
  }
  return checkCells({ types, offsets, nodes: all }, counts.points, file);
}

/**
 * A piece of polygons, lines and points. Cells come in the order: points, lines, strips, polygons, as fields list them.
 */
export function polygonPiece(piece: XmlElement, place: Place): Grid {
  const parts = [
    ["Verts", countOf(piece, "NumberOfVerts", place)],
    ["Lines", countOf(piece, "NumberOfLines", place)],
    ["Polys", countOf(piece, "NumberOfPolys", place)],
    ["Strips", countOf(piece, "NumberOfStrips", place)],
  ] as const;
  const counts = { points: countOf(piece, "NumberOfPoints", place), cells: parts.reduce((n, [, c]) => n + c, 0) };
  return {
    block: place.block,
    ...counts,
    ...fieldsOf(piece, place, counts),
    dimension: () => (parts[2][1] + parts[3][1] > 0 ? 2 : parts[1][1] > 0 ? 1 : 0),
    readPoints: () => (counts.points === 0 ? new Float64Array(0) : asFloat(pointsOf(piece, place, counts.points))),
    readCells: () => polygonCells(piece, place, parts, counts),
    digestOf: (hash) => {
      if (counts.points > 0) pointsOf(piece, place, counts.points).digest(hash);
      for (const [name, count] of parts)
        if (count > 0)
          for (const e of child(piece, name)?.children ?? [])
            new DataArray(place.source, e, place.encoding, undefined).digest(hash);
    },
  };
}

type Triple = readonly [number, number, number];
const triple = (text: string | undefined, n: number): number[] | undefined => {
  const list = (text ?? "").trim().split(/\s+/).map(Number);
  return list.length === n && list.every(Number.isFinite) ? list : undefined;
};

interface Span {
  readonly low: Triple;
  readonly dims: Triple;
  readonly extent: Extent;
}

function dimensionsOf(e: XmlElement, attribute: string, place: Place): Span {
  const x = triple(e.attributes[attribute], 6);
  if (!x || x.some((v) => !Number.isInteger(v)))
    throw new FormatError(place.source.name, `${attribute} is "${e.attributes[attribute] ?? ""}"`, { offset: e.at });
  const dims = [0, 1, 2].map((d) => Math.max(0, x[2 * d + 1]! - x[2 * d]! + 1)) as unknown as Triple;
  if (dims[0] * dims[1] * dims[2] > 2 ** 31 - 2)
    throw new FormatError(place.source.name, `${attribute} spans ${dims.join(" × ")} points`, { offset: e.at });
  return { low: [x[0]!, x[2]!, x[4]!], dims, extent: x as unknown as Extent };
}

/** A piece whose points stand in rows and layers; `coordinates` gives them. */
function structured(
  piece: XmlElement,
  place: Place,
  { dims, extent }: Span,
  coordinates: () => Float64Array,
  digest: (hash: (b: Uint8Array) => void) => void,
): Grid {
  const counts = structuredCounts(dims);
  return {
    block: place.block,
    ...counts,
    ...fieldsOf(piece, place, counts),
    piece: { of: piece, extent },
    dimension: () => dims.filter((d) => d > 1).length,
    readPoints: coordinates,
    readCells: (): CellArrays => structuredCells(dims),
    digestOf: (hash) => {
      hash(new TextEncoder().encode(`structured ${dims.join(" ")} `));
      digest(hash);
    },
  };
}

export function imagePiece(grid: XmlElement, piece: XmlElement, place: Place): Grid {
  const span = dimensionsOf(piece, "Extent", place);
  const { low, dims } = span;
  checkStructured(dims[0] * dims[1] * dims[2], place.source.size, place.source.name);
  const origin = triple(grid.attributes["Origin"], 3) ?? [0, 0, 0];
  const spacing = triple(grid.attributes["Spacing"], 3) ?? [1, 1, 1];
  const turn = triple(grid.attributes["Direction"], 9) ?? [1, 0, 0, 0, 1, 0, 0, 0, 1];
  const coordinates = (): Float64Array => {
    takeRoom(24 * dims[0] * dims[1] * dims[2]);
    const out = new Float64Array(3 * dims[0] * dims[1] * dims[2]);
    let at = 0;
    for (let k = 0; k < dims[2]; k++)
      for (let j = 0; j < dims[1]; j++)
        for (let i = 0; i < dims[0]; i++) {
          const u = (i + low[0]) * spacing[0]!;
          const v = (j + low[1]) * spacing[1]!;
          const w = (k + low[2]) * spacing[2]!;
          for (let d = 0; d < 3; d++)
            out[at++] = origin[d]! + turn[3 * d]! * u + turn[3 * d + 1]! * v + turn[3 * d + 2]! * w;
        }
    return out;
  };
  return structured(piece, place, span, coordinates, (hash) =>
    hash(new TextEncoder().encode(JSON.stringify([low, origin, spacing, turn]))),
  );
}

export function rectilinearPiece(piece: XmlElement, place: Place): Grid {
  const span = dimensionsOf(piece, "Extent", place);
  const { dims } = span;
  checkStructured(dims[0] * dims[1] * dims[2], place.source.size, place.source.name);
  const axes = (): Float64Array[] => {
    const arrays = (child(piece, "Coordinates")?.children ?? []).filter((e) => e.name === "DataArray");
    if (arrays.length !== 3)
      throw new FormatError(place.source.name, "a piece has no three coordinates", { offset: piece.at });
    return arrays.map((e, d) => asFloat(new DataArray(place.source, e, place.encoding, dims[d]!)));
  };
  const coordinates = (): Float64Array => {
    const [x, y, z] = axes() as [Float64Array, Float64Array, Float64Array];
    takeRoom(24 * dims[0] * dims[1] * dims[2]);
    const out = new Float64Array(3 * dims[0] * dims[1] * dims[2]);
    let at = 0;
    for (const w of z)
      for (const v of y)
        for (const u of x) {
          out[at++] = u;
          out[at++] = v;
          out[at++] = w;
        }
    return out;
  };
  return structured(piece, place, span, coordinates, (hash) =>
    axes().forEach((a) => hash(new Uint8Array(a.buffer, a.byteOffset, a.byteLength))),
  );
}

export function structuredPiece(piece: XmlElement, place: Place): Grid {
  const span = dimensionsOf(piece, "Extent", place);
  const { points } = structuredCounts(span.dims);
  const a = (): DataArray => pointsOf(piece, place, points);
  return structured(
    piece,
    place,
    span,
    () => asFloat(a()),
    (hash) => a().digest(hash),
  );
}
