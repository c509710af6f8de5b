import type { MeshFormat } from "../mesh-format.js";
import { FormatError, openEndNotes, type ByteSource } from "../source.js";
import {
  checkCells,
  checkStructured,
  dimensionOf,
  structuredCells,
  structuredCounts,
  toIndices,
  vtkCell,
} from "../cell-building.js";
import { doubles, type CellArrays, type FieldHead, type Grid, type MeshFile } from "../mesh-data.js";
import { takeRoom } from "../room.js";
import { Cursor, type Stored } from "./legacy-cursor.js";

const looksLikeLegacyVtk = (head: Uint8Array): boolean =>
  /^# vtk DataFile Version/i.test(Buffer.from(head.subarray(0, 64)).toString("latin1"));

const decoded = (name: string): string => {
  try {
    return decodeURIComponent(name);
  } catch {
    return name;
  }
};

interface Shape {
  points: number;
  cells: number;
  readPoints: () => Float64Array;
  readCells: () => CellArrays;
}

/**
 * Opens a legacy VTK file: all five kinds of data set, text or bytes, cells in the old layout or that of version 5.1.
 *
 * @throws FormatError with the place where it is not what it claims to be
 */
function openLegacyVtk(source: ByteSource): MeshFile {
  const c = new Cursor(source);
  c.line();
  c.line();
  const mode = c.line()?.toUpperCase();
  if (mode !== "ASCII" && mode !== "BINARY") throw c.wrong(`the third line says "${mode ?? ""}", not ASCII or BINARY`);
  c.binary = mode === "BINARY";
  let words = c.words();
  while (words && words[0]!.toUpperCase() === "FIELD") {
    skipFields(c, Number(words[2]));
    words = c.words();
  }
  if (words?.[0]?.toUpperCase() !== "DATASET") throw c.wrong("there is no DATASET in this file");
  const kind = words[1]?.toUpperCase() ?? "";
  const fields: (FieldHead & { stored: Stored })[] = [];
  const shape = readShape(c, kind);
  readAttributes(c, shape, fields);
  const find = (on: string, name: string): FieldHead & { stored: Stored } => {
    const f = fields.find((x) => x.on === on && x.name === name);
    if (!f)
      throw new FormatError(
        source.name,
        `there is no ${on} field "${name}"; there is ${fields.map((x) => `"${x.name}"`).join(", ") || "none"}`,
      );
    return f;
  };
  const notes = c.binary ? [] : openEndNotes(source);
  const grid: Grid = {
    ...(notes.length > 0 && { notes }),
    block: "",
    ...shape,
    fields: fields.map(({ stored: _, ...head }) => head),
    dimension: () => dimensionOf(shape.readCells().types),
    readField: (on, name) => doubles(c.read(find(on, name).stored)),
    readSome: (on, name, indices) => c.some(find(on, name).stored, find(on, name).components, indices),
    readsParts: () => c.binary,
    digestOf: (hash) => {
      const points = shape.readPoints();
      const { types: t, offsets, nodes } = shape.readCells();
      for (const a of [points, t, offsets, nodes]) hash(new Uint8Array(a.buffer, a.byteOffset, a.byteLength));
    },
  };
  return { format: `legacy ${kind.toLowerCase().replace(/_/g, " ")}`, grids: [grid] };
}

function readShape(c: Cursor, kind: string): Shape {
  const read = Object.hasOwn(shapes, kind) ? shapes[kind] : undefined;
  if (!read) throw c.wrong(`data sets of kind "${kind}" are not read`);
  return read(c);
}

/** Goes on to the line of a keyword, over what may stand before it. */
function take(c: Cursor, keyword: string): string[] {
  for (;;) {
    const w = c.words();
    const key = w?.[0]?.toUpperCase();
    if (key === "FIELD") skipFields(c, Number(w![2]));
    else if (key === "METADATA") skipMetadata(c);
    else if (key === keyword) return w!;
    else throw c.wrong(`${keyword} is expected, "${w?.[0] ?? "the end"}" stands there`);
  }
}

function pointsOf(c: Cursor): { n: number; stored: Stored } {
  const w = take(c, "POINTS");
  const n = Number(w[1]);
  return { n, stored: c.array(w[2] ?? "", 3 * n) };
}

function three(c: Cursor, w: readonly string[]): number[] {
  const values = w.slice(1, 4).map(Number);
  if (values.length !== 3 || !values.every(Number.isFinite)) throw c.wrong(`${w[0]} is ${w.slice(1).join(" ")}`);
  return values;
}

function dimensionsOf(c: Cursor): [number, number, number] {
  const d = take(c, "DIMENSIONS").slice(1, 4).map(Number);
  if (d.length !== 3 || d.some((x) => !Number.isInteger(x) || x < 1) || d[0]! * d[1]! * d[2]! > 2 ** 31 - 2)
    throw c.wrong(`the dimensions are ${d.join(" ")}`);
  checkStructured(d[0]! * d[1]! * d[2]!, c.source.size, c.source.name);
  return d as [number, number, number];
}

/** The data sets of the format, by their keywords. */
const shapes: Readonly<Record<string, (c: Cursor) => Shape>> = {
  STRUCTURED_POINTS: structuredPoints,
  RECTILINEAR_GRID: rectilinearGrid,
  STRUCTURED_GRID: structuredGrid,
  UNSTRUCTURED_GRID: unstructuredGrid,
  POLYDATA: polyData,
};

function structuredPoints(c: Cursor): Shape {
  const d = dimensionsOf(c);
  let origin: number[] | undefined;
  let spacing: number[] | undefined;
  for (let k = 0; k < 2; k++) {
    const at = c.at;
    const w = c.words();
    const key = w?.[0]?.toUpperCase();
    if (key === "ORIGIN") origin = three(c, w!);
    else if (key === "SPACING" || key === "ASPECT_RATIO") spacing = three(c, w!);
    else c.at = at;
  }
  if (!origin || !spacing) throw c.wrong(`${origin ? "SPACING" : "ORIGIN"} is expected behind the dimensions`);
  const [o, step] = [origin, spacing];
  return {
    ...structuredCounts(d),
    readPoints: () => rows(d, (i, k) => o[k]! + step[k]! * i),
    readCells: () => structuredCells(d),
  };
}

function rectilinearGrid(c: Cursor): Shape {
  const d = dimensionsOf(c);
  const axes = ["X_COORDINATES", "Y_COORDINATES", "Z_COORDINATES"].map((key) => {
    const w = take(c, key);
    return c.array(w[2] ?? "", Number(w[1]));
  });
  axes.forEach((a, k) => {
    if (a.count !== d[k]) throw c.wrong(`there are ${a.count} coordinates for ${d[k]} layers`);
  });
  return {
    ...structuredCounts(d),
    readPoints: () => {
      const values = axes.map((a) => doubles(c.read(a)));
      return rows(d, (i, k) => values[k]![i]!);
    },
    readCells: () => structuredCells(d),
  };
}

function structuredGrid(c: Cursor): Shape {
  const d = dimensionsOf(c);
  const p = pointsOf(c);
  const counts = structuredCounts(d);
  if (p.n !== counts.points) throw c.wrong(`there are ${p.n} points for dimensions ${d.join(" × ")}`);
  return { ...counts, readPoints: () => doubles(c.read(p.stored)), readCells: () => structuredCells(d) };
}

function unstructuredGrid(c: Cursor): Shape {
  const p = pointsOf(c);
  const cells = cellList(c, take(c, "CELLS"));
  const w = take(c, "CELL_TYPES");
  const stored = c.array("int", Number(w[1]));
  if (stored.count !== cells.count) throw c.wrong(`there are ${stored.count} types for ${cells.count} cells`);
  return {
    points: p.n,
    cells: cells.count,
    readPoints: () => doubles(c.read(p.stored)),
    readCells: () => {
      const { offsets, nodes } = cells.read();
      const types = Uint8Array.from(c.read(stored) as Int32Array, Number);
      return checkCells({ types, offsets, nodes }, p.n, c.source.name);
    },
  };
}

const pieces = ["VERTICES", "LINES", "POLYGONS", "TRIANGLE_STRIPS"];

function polyData(c: Cursor): Shape {
  const p = pointsOf(c);
  const parts: { key: string; list: ReturnType<typeof cellList> }[] = [];
  for (;;) {
    const at = c.at;
    const w = c.words();
    const key = w?.[0]?.toUpperCase();
    if (key === "METADATA") skipMetadata(c);
    else if (key !== undefined && pieces.includes(key)) parts.push({ key, list: cellList(c, w!) });
    else {
      c.at = at;
      break;
    }
  }
  parts.sort((a, b) => pieces.indexOf(a.key) - pieces.indexOf(b.key));
  return {
    points: p.n,
    cells: parts.reduce((n, x) => n + x.list.count, 0),
    readPoints: () => doubles(c.read(p.stored)),
    readCells: () => {
      const lists = parts.map((x) => ({ key: x.key, ...x.list.read() }));
      return joined(lists, p.n, c.source.name);
    },
  };
}

function joined(
  parts: readonly { key: string; offsets: Int32Array; nodes: Int32Array }[],
  points: number,
  file: string,
): CellArrays {
  const types: number[] = [];
  const offsets = [0];
  const nodes: Int32Array[] = [];
  let base = 0;
  for (const p of parts) {
    for (let i = 0; i + 1 < p.offsets.length; i++) {
      const n = p.offsets[i + 1]! - p.offsets[i]!;
      types.push(
        p.key === "VERTICES"
          ? n === 1
            ? vtkCell.vertex
            : vtkCell.polyVertex
          : p.key === "LINES"
            ? n === 2
              ? vtkCell.line
              : vtkCell.polyLine
            : p.key === "TRIANGLE_STRIPS"
              ? vtkCell.strip
              : n === 3
                ? vtkCell.triangle
                : n === 4
                  ? vtkCell.quad
                  : vtkCell.polygon,
      );
      offsets.push(base + p.offsets[i + 1]!);
    }
    nodes.push(p.nodes);
    base += p.nodes.length;
  }
  const all = new Int32Array(base);
  let at = 0;
  for (const n of nodes) {
    all.set(n, at);
    at += n.length;
  }
  return checkCells({ types: Uint8Array.from(types), offsets: Int32Array.from(offsets), nodes: all }, points, file);
}

function rows(d: readonly [number, number, number], at: (i: number, axis: number) => number): Float64Array {
  takeRoom(24 * d[0] * d[1] * d[2]);
  const out = new Float64Array(3 * d[0] * d[1] * d[2]);
  let n = 0;
  for (let k = 0; k < d[2]; k++)
    for (let j = 0; j < d[1]; j++)
      for (let i = 0; i < d[0]; i++) {
        out[n++] = at(i, 0);
        out[n++] = at(j, 1);
        out[n++] = at(k, 2);
      }
  return out;
}

/** A list of cells: `count size` values in the old layout, offsets and connectivity in that of version 5.1. */
function cellList(
  c: Cursor,
  words: readonly string[],
): { count: number; read: () => { offsets: Int32Array; nodes: Int32Array } } {
  const file = c.source.name;
  const [a, b] = [Number(words[1]), Number(words[2])];
  const here = c.at;
  const next = c.words();
  if (next?.[0]?.toUpperCase() === "OFFSETS") {
    const offsets = c.array(next[1] ?? "", a);
    const w = c.words();
    if (w?.[0]?.toUpperCase() !== "CONNECTIVITY") throw c.wrong("offsets without connectivity");
    const nodes = c.array(w[1] ?? "", b);
    return {
      count: Math.max(0, a - 1),
      read: () => ({
        offsets: toIndices(c.read(offsets), file, "offsets"),
        nodes: toIndices(c.read(nodes), file, "connectivity"),
      }),
    };
  }
  c.at = here;
  const stored = c.array("int", b);
  return {
    count: a,
    read: () => {
      const list = toIndices(c.read(stored), file, "cells");
      const offsets = new Int32Array(a + 1);
      const nodes = new Int32Array(Math.max(0, b - a));
      let at = 0;
      let n = 0;
      for (let cell = 0; cell < a; cell++) {
        const size = list[at++] ?? -1;
        if (size < 0 || at + size > list.length)
          throw new FormatError(file, `cell ${cell} has ${size} nodes, more than are there`);
        for (let k = 0; k < size; k++) nodes[n++] = list[at++]!;
        offsets[cell + 1] = n;
      }
      if (at !== list.length)
        throw new FormatError(file, `the list of ${a} cells holds ${list.length} values, of which ${at} are used`);
      return { offsets, nodes: nodes.subarray(0, n) };
    },
  };
}

function skipFields(c: Cursor, count: number): void {
  for (let k = 0; k < count; k++) {
    const w = c.words();
    if (!w) throw c.wrong("a list of fields is cut off");
    c.array(w[3] ?? "", Number(w[1]) * Number(w[2]));
  }
}

/** Notes between arrays, ended by a blank line. */
function skipMetadata(c: Cursor): void {
  for (let l = c.line(); l !== undefined && l !== ""; l = c.line());
}

function readAttributes(c: Cursor, shape: Shape, fields: (FieldHead & { stored: Stored })[]): void {
  let on: "point" | "cell" = "point";
  const count = (): number => (on === "point" ? shape.points : shape.cells);
  const add = (name: string, components: number, stored: Stored): void => {
    const plain = decoded(name);
    if (!fields.some((f) => f.on === on && f.name === plain))
      fields.push({ name: plain, on, components, type: stored.type, stored });
  };
  /** A section that has begun and holds nothing yet. */
  let open: string | undefined;
  for (let w = c.words(); w; w = c.words()) {
    const key = w[0]!.toUpperCase();
    if (open !== undefined && key !== "METADATA") open = undefined;
    if (key === "POINT_DATA" || key === "CELL_DATA") {
      on = key === "POINT_DATA" ? "point" : "cell";
      if (Number(w[1]) !== count()) throw c.wrong(`${key} is for ${w[1]}, but there are ${count()}`);
      open = key;
      continue;
    } else if (key === "SCALARS") {
      const components = Number(w[3] ?? 1);
      const at = c.at;
      const table = c.words()?.[0]?.toUpperCase();
      if (table !== "LOOKUP_TABLE" && table?.startsWith("LOOK")) throw c.wrong(`"${table}" is not part of such a file`);
      if (table !== "LOOKUP_TABLE") c.at = at;
      add(w[1]!, components, c.array(w[2] ?? "", components * count()));
    } else if (key === "VECTORS" || key === "NORMALS") add(w[1]!, 3, c.array(w[2] ?? "", 3 * count()));
    else if (key === "TENSORS") add(w[1]!, 9, c.array(w[2] ?? "", 9 * count()));
    else if (key === "TENSORS6") add(w[1]!, 6, c.array(w[2] ?? "", 6 * count()));
    else if (key === "TEXTURE_COORDINATES") add(w[1]!, Number(w[2]), c.array(w[3] ?? "", Number(w[2]) * count()));
    else if (key === "COLOR_SCALARS") c.array(c.binary ? "unsigned_char" : "float", Number(w[2]) * count());
    else if (key === "LOOKUP_TABLE") c.array(c.binary ? "unsigned_char" : "float", 4 * Number(w[2]));
    else if (key === "GLOBAL_IDS" || key === "PEDIGREE_IDS") c.array(w[2] ?? "", count());
    else if (key === "METADATA") skipMetadata(c);
    else if (key === "FIELD") {
      for (let k = 0; k < Number(w[2]); k++) {
        let f = c.words();
        if (f?.[0]?.toUpperCase() === "METADATA") {
          skipMetadata(c);
          f = c.words();
        }
        if (!f) throw c.wrong("a list of fields is cut off");
        const [name, components, tuples] = [f[0]!, Number(f[1]), Number(f[2])];
        const stored = c.array(f[3] ?? "", components * tuples);
        if (tuples === count() && components >= 1) add(name, components, stored);
      }
    } else throw c.wrong(`"${w[0]!.slice(0, 40)}" is not part of such a file`);
  }
  if (open !== undefined) throw c.wrong(`${open} holds no fields`);
}

/** One data set, as text or bytes. */
export const legacyVtk: MeshFormat = {
  name: "legacy VTK",
  endings: [".vtk"],
  collections: [],
  sniff: looksLikeLegacyVtk,
  open: openLegacyVtk,
};
