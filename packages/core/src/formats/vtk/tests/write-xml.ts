import { deflateSync } from "node:zlib";
import { scalarSize, type ScalarType } from "../../mesh-data.js";

/** How a test file is to be written. */
export interface Writing {
  readonly format: "ascii" | "binary" | "appended-raw" | "appended-base64";
  readonly packed?: "zlib" | "lz4";
  readonly header?: "UInt32" | "UInt64";
  readonly order?: "LittleEndian" | "BigEndian";
  readonly block?: number;
}

export interface TestArray {
  readonly name: string;
  readonly type: ScalarType;
  readonly components?: number;
  readonly values: readonly number[];
}

const names: Readonly<Record<ScalarType, string>> = {
  int8: "Int8",
  uint8: "UInt8",
  int16: "Int16",
  uint16: "UInt16",
  int32: "Int32",
  uint32: "UInt32",
  int64: "Int64",
  uint64: "UInt64",
  float32: "Float32",
  float64: "Float64",
};

/** An LZ4 block of literals and, where the same 16 bytes come again, matches. */
export function packLz4(bytes: Uint8Array): Uint8Array {
  const out: number[] = [];
  const sequence = (literals: Uint8Array, distance: number, match: number): void => {
    const more = (n: number): void => {
      for (n -= 15; n >= 255; n -= 255) out.push(255);
      out.push(n);
    };
    out.push((Math.min(15, literals.length) << 4) | (match === 0 ? 0 : Math.min(15, match - 4)));
    if (literals.length >= 15) more(literals.length);
    for (const b of literals) out.push(b);
    if (match === 0) return;
    out.push(distance & 255, distance >> 8);
    if (match - 4 >= 15) more(match - 4);
  };
  let start = 0;
  let i = 16;
  while (i + 16 < bytes.length - 12) {
    let n = 0;
    while (i + n < bytes.length - 12 && bytes[i + n] === bytes[i + n - 16]) n++;
    if (n >= 8) {
      sequence(bytes.subarray(start, i), 16, n);
      i += n;
      start = i;
    } else i++;
  }
  sequence(bytes.subarray(start), 0, 0);
  return Uint8Array.from(out);
}

class Writer {
  readonly appended: Uint8Array[] = [];
  #offset = 0;

  constructor(private readonly how: Writing) {}

  #bytes(a: TestArray): Uint8Array {
    const size = scalarSize[a.type];
    const out = new Uint8Array(a.values.length * size);
    const view = new DataView(out.buffer);
    const little = this.how.order !== "BigEndian";
    a.values.forEach((v, i) => {
      const at = i * size;
      if (a.type === "int64") view.setBigInt64(at, BigInt(v), little);
      else if (a.type === "uint64") view.setBigUint64(at, BigInt(v), little);
      else if (a.type === "float64") view.setFloat64(at, v, little);
      else if (a.type === "float32") view.setFloat32(at, v, little);
      else if (size === 4) view.setInt32(at, v, little);
      else if (size === 2) view.setInt16(at, v, little);
      else view.setInt8(at, v);
    });
    return out;
  }

  #head(words: readonly number[]): Uint8Array {
    const wide = this.how.header === "UInt64";
    const out = new Uint8Array(words.length * (wide ? 8 : 4));
    const view = new DataView(out.buffer);
    const little = this.how.order !== "BigEndian";
    words.forEach((w, i) => (wide ? view.setBigUint64(8 * i, BigInt(w), little) : view.setUint32(4 * i, w, little)));
    return out;
  }

  /** Header and data, as one run or, when packed, as two. */
  #runs(a: TestArray): Uint8Array[] {
    const bytes = this.#bytes(a);
    if (!this.how.packed) return [Buffer.concat([this.#head([bytes.length]), bytes])];
    const size = this.how.block ?? 64;
    const blocks: Uint8Array[] = [];
    for (let at = 0; at < bytes.length; at += size) {
      const part = bytes.subarray(at, at + size);
      blocks.push(this.how.packed === "zlib" ? deflateSync(part) : packLz4(part));
    }
    const head = [blocks.length, size, bytes.length % size, ...blocks.map((b) => b.length)];
    return [this.#head(head), Buffer.concat(blocks)];
  }

  array(a: TestArray): string {
    const open = `<DataArray type="${names[a.type]}" Name="${a.name}" NumberOfComponents="${a.components ?? 1}"`;
    const { format } = this.how;
    if (format === "ascii") return `${open} format="ascii">\n ${a.values.join(" ")}\n</DataArray>\n`;
    const runs = this.#runs(a);
    const text = (): string => runs.map((r) => Buffer.from(r).toString("base64")).join("");
    if (format === "binary") return `${open} format="binary">\n   ${text()}\n</DataArray>\n`;
    const stored = format === "appended-raw" ? Buffer.concat(runs) : Buffer.from(text());
    const offset = this.#offset;
    this.appended.push(stored);
    this.#offset += stored.length;
    return `${open} format="appended" offset="${offset}"/>\n`;
  }
}

/** A whole file of the XML family: `body` writes its arrays. */
export function writeVtkXml(type: string, how: Writing, body: (array: (a: TestArray) => string) => string): Uint8Array {
  const w = new Writer(how);
  const inner = body((a) => w.array(a));
  const packed = how.packed
    ? ` compressor="${how.packed === "zlib" ? "vtkZLibDataCompressor" : "vtkLZ4DataCompressor"}"`
    : "";
  const head =
    `<?xml version="1.0"?>\n<VTKFile type="${type}" version="1.0" ` +
    `byte_order="${how.order ?? "LittleEndian"}" ` +
    `header_type="${how.header ?? "UInt32"}"${packed}>\n${inner}`;
  if (!how.format.startsWith("appended")) return Buffer.from(`${head}</VTKFile>\n`);
  const encoding = how.format === "appended-raw" ? "raw" : "base64";
  return Buffer.concat([
    Buffer.from(`${head}<AppendedData encoding="${encoding}">\n  _`),
    ...w.appended,
    Buffer.from("\n</AppendedData>\n</VTKFile>\n"),
  ]);
}

/** An unstructured grid. */
export function writeUnstructured(
  how: Writing,
  mesh: { points: readonly number[]; cells: readonly { type: number; nodes: readonly number[] }[] },
  fields: readonly (TestArray & { on: "point" | "cell" })[] = [],
  wide = false,
): Uint8Array {
  let end = 0;
  const ends = mesh.cells.map((c) => (end += c.nodes.length));
  const index = wide ? "int64" : "int32";
  return writeVtkXml("UnstructuredGrid", how, (array) => {
    const part = (on: "point" | "cell"): string =>
      fields
        .filter((f) => f.on === on)
        .map(array)
        .join("");
    return `<UnstructuredGrid>\n<Piece NumberOfPoints="${mesh.points.length / 3}" NumberOfCells="${mesh.cells.length}">
<Points>${array({ name: "Points", type: wide ? "float64" : "float32", components: 3, values: mesh.points })}</Points>
<Cells>${array({ name: "connectivity", type: index, values: mesh.cells.flatMap((c) => c.nodes) })}${array({ name: "offsets", type: index, values: ends })}${array({ name: "types", type: "uint8", values: mesh.cells.map((c) => c.type) })}</Cells>
<PointData>${part("point")}</PointData>\n<CellData>${part("cell")}</CellData>\n</Piece>\n</UnstructuredGrid>\n`;
  });
}
