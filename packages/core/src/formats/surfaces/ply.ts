import type { MeshFormat } from "../mesh-format.js";
import { takeRoom } from "../room.js";
import { FormatError, openEndNotes, type ByteSource } from "../source.js";
import { checkCells, vtkCell } from "../cell-building.js";
import type { FieldHead, MeshFile, ScalarType } from "../mesh-data.js";
import { memoryGrid } from "./surface-grid.js";

const looksLikePly = (head: Uint8Array): boolean =>
  /^ply\r?\n/.test(Buffer.from(head.subarray(0, 8)).toString("latin1"));

const types: Readonly<Record<string, ScalarType>> = {
  char: "int8",
  int8: "int8",
  uchar: "uint8",
  uint8: "uint8",
  short: "int16",
  int16: "int16",
  ushort: "uint16",
  uint16: "uint16",
  int: "int32",
  int32: "int32",
  uint: "uint32",
  uint32: "uint32",
  float: "float32",
  float32: "float32",
  double: "float64",
  float64: "float64",
};

interface Property {
  readonly name: string;
  readonly type: ScalarType;
  readonly list?: ScalarType;
}
interface Element {
  readonly name: string;
  readonly count: number;
  readonly properties: Property[];
}

/** Gives the file's numbers one after the other; `end` makes sure that none is left. */
interface PlyNumbers {
  readonly next: (type: ScalarType) => number;
  readonly end: () => void;
}

/** Reads all elements of one kind: a column for each plain property, and the corners of each face. */
function readElements(
  file: string,
  e: Element,
  next: PlyNumbers["next"],
  face: (corners: readonly number[]) => void,
): Float64Array[] {
  const columns = e.properties.filter((p) => p.list === undefined).map(() => new Float64Array(e.count));
  const list: number[] = [];
  for (let i = 0; i < e.count; i++) {
    let k = 0;
    for (const p of e.properties) {
      if (p.list === undefined) {
        columns[k++]![i] = next(p.type);
        continue;
      }
      const n = next(p.list);
      const isFace = e.name === "face" && p.name.startsWith("vertex_ind");
      if (!(n >= (isFace ? 3 : 0) && n <= 1e6) || n !== Math.floor(n))
        throw new FormatError(file, `face ${i} has ${n} corners`);
      list.length = 0;
      for (let j = 0; j < n; j++) list.push(next(p.type));
      if (isFace) face(list);
    }
  }
  return columns;
}

/** Opens a PLY surface, text or bytes of either order. Properties of vertices and faces become fields. */
function openPly(source: ByteSource): MeshFile {
  const { elements, format, at } = header(source);
  takeRoom(4 * source.size);
  const { next, end } =
    format === "ascii" ? textNumbers(source, at) : byteNumbers(source, at, format === "binary_little_endian");
  let points = new Float64Array(0);
  const offsets = [0];
  const nodes: number[] = [];
  const kinds: number[] = [];
  const fields: (FieldHead & { values: Float64Array })[] = [];
  for (const e of elements) {
    const plain = e.properties.filter((p) => p.list === undefined);
    const least = e.properties.length;
    if (least === 0 && e.count > 0) throw new FormatError(source.name, `"${e.name}" has no properties`);
    if (e.count * least > 8 * source.size)
      throw new FormatError(source.name, `${e.count} of "${e.name}" are more than the file holds`);
    takeRoom(8 * plain.length * e.count);
    const columns = readElements(source.name, e, next, (corners) => {
      for (const v of corners) nodes.push(v);
      offsets.push(nodes.length);
      kinds.push(corners.length === 3 ? vtkCell.triangle : corners.length === 4 ? vtkCell.quad : vtkCell.polygon);
    });
    if (e.name !== "vertex" && e.name !== "face") continue;
    if (e.name === "vertex") {
      const [x, y, z] = ["x", "y", "z"].map((d) => columns[plain.findIndex((p) => p.name === d)]);
      if (!x || !y || !z) throw new FormatError(source.name, "vertices have no x, y and z");
      points = new Float64Array(3 * e.count);
      for (let i = 0; i < e.count; i++) points.set([x[i]!, y[i]!, z[i]!], 3 * i);
    }
    plain.forEach((p, k) => {
      if (e.name !== "vertex" || !/^[xyz]$/.test(p.name))
        fields.push({
          name: p.name,
          on: e.name === "vertex" ? "point" : "cell",
          components: 1,
          type: p.type,
          values: columns[k]!,
        });
    });
  }
  end();
  const cells = checkCells(
    { types: Uint8Array.from(kinds), offsets: Int32Array.from(offsets), nodes: Int32Array.from(nodes) },
    points.length / 3,
    source.name,
  );
  return {
    format: "PLY",
    grids: [memoryGrid("", points, cells, fields, format === "ascii" ? openEndNotes(source) : [])],
  };
}

function header(source: ByteSource): { elements: Element[]; format: string; at: number } {
  const text = Buffer.from(source.read(0, 256 * 1024)).toString("latin1");
  const end = /^end_header\r?\n/m.exec(text);
  if (!end) throw new FormatError(source.name, "the header does not end", { offset: 0 });
  const elements: Element[] = [];
  let format = "";
  let line = 0;
  for (const raw of text.slice(0, end.index).split("\n")) {
    line++;
    const w = raw.trim().split(/\s+/);
    const wrong = (m: string): FormatError => new FormatError(source.name, m, { line });
    if (w[0] === "format") format = w[1] ?? "";
    else if (w[0] === "element") {
      const count = Number(w[2]);
      if (!Number.isInteger(count) || count < 0 || count > 2 ** 31) throw wrong(`there are ${w[2]} of "${w[1]}"`);
      elements.push({ name: w[1] ?? "", count, properties: [] });
    } else if (w[0] === "property") {
      const list = w[1] === "list";
      const type = types[(list ? w[3] : w[1]) ?? ""];
      const length = list ? types[w[2] ?? ""] : undefined;
      const open = elements[elements.length - 1];
      if (!type || !open || (list && !length)) throw wrong(`"${raw.trim()}" is not read`);
      open.properties.push({ name: w[w.length - 1]!, type, ...(length && { list: length }) });
    }
  }
  if (!["ascii", "binary_little_endian", "binary_big_endian"].includes(format))
    throw new FormatError(source.name, `the format is "${format}"`, { line: 2 });
  return { elements, format, at: end.index + end[0].length };
}

function textNumbers(source: ByteSource, at: number): PlyNumbers {
  const words = Buffer.from(source.read(at, source.size - at))
    .toString("latin1")
    .split(/\s+/);
  let k = words[0] === "" ? 1 : 0;
  const end = (): void => {
    if (words.slice(k).some((w) => w !== ""))
      throw new FormatError(source.name, "the file goes on behind what its header announces");
  };
  const next = (): number => {
    const v = Number(words[k]);
    if (words[k] === undefined || words[k] === "" || v !== v)
      throw new FormatError(source.name, `the file ends, or holds no number, at value ${k + 1}`);
    k++;
    return v;
  };
  return { next, end };
}

function byteNumbers(source: ByteSource, at: number, little: boolean): PlyNumbers {
  const bytes = source.read(at, source.size - at);
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  let p = 0;
  const sizes: Readonly<Partial<Record<ScalarType, number>>> = {
    int8: 1,
    uint8: 1,
    int16: 2,
    uint16: 2,
    int32: 4,
    uint32: 4,
    float32: 4,
    float64: 8,
  };
  const end = (): void => {
    if (p < bytes.length)
      throw new FormatError(source.name, `${bytes.length - p} bytes are left behind what the header announces`, {
        offset: at + p,
      });
  };
  const next = (type: ScalarType): number => {
    const size = sizes[type]!;
    if (p + size > bytes.length) throw new FormatError(source.name, "the file is cut off", { offset: source.size });
    const q = p;
    p += size;
    switch (type) {
      case "int8":
        return view.getInt8(q);
      case "uint8":
        return view.getUint8(q);
      case "int16":
        return view.getInt16(q, little);
      case "uint16":
        return view.getUint16(q, little);
      case "int32":
        return view.getInt32(q, little);
      case "uint32":
        return view.getUint32(q, little);
      case "float32":
        return view.getFloat32(q, little);
      default:
        return view.getFloat64(q, little);
    }
  };
  return { next, end };
}

/** Points and faces with properties, as text or bytes. */
export const ply: MeshFormat = {
  name: "PLY",
  endings: [".ply"],
  collections: [],
  sniff: looksLikePly,
  open: openPly,
};
