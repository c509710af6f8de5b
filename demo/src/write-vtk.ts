/** Arrays of a mesh file in the open VTK XML format, appended as raw bytes, little end first. */
export interface FileArray {
  readonly name: string;
  readonly components?: number;
  readonly values: Float32Array | Int32Array | Uint8Array;
}

const typeOf = (v: FileArray["values"]): string =>
  v instanceof Float32Array ? "Float32" : v instanceof Int32Array ? "Int32" : "UInt8";

/** Writes a file of one piece; `body` places its arrays, `about` is said of the whole (extents, origin). */
export function vtkFile(type: string, body: (array: (a: FileArray) => string) => string, about = ""): Buffer {
  const stored: Buffer[] = [];
  let offset = 0;
  const array = (a: FileArray): string => {
    const size = Buffer.alloc(4);
    size.writeUInt32LE(a.values.byteLength);
    const bytes = Buffer.from(a.values.buffer, a.values.byteOffset, a.values.byteLength);
    const at = offset;
    stored.push(size, bytes);
    offset += 4 + bytes.length;
    return (
      `<DataArray type="${typeOf(a.values)}" Name="${a.name}" ` +
      `NumberOfComponents="${a.components ?? 1}" format="appended" offset="${at}"/>\n`
    );
  };
  const inner = body(array);
  const head =
    `<?xml version="1.0"?>\n<VTKFile type="${type}" version="1.0" byte_order="LittleEndian" ` +
    `header_type="UInt32">\n<${type}${about}>\n${inner}</${type}>\n<AppendedData encoding="raw">\n_`;
  return Buffer.concat([Buffer.from(head), ...stored, Buffer.from("\n</AppendedData>\n</VTKFile>\n")]);
}

/** A list of files by time. */
export const collection = (steps: readonly { time: number; file: string }[]): string =>
  `<?xml version="1.0"?>\n<VTKFile type="Collection" version="0.1">\n  ` +
  `<Collection>\n${steps.map((s) => `    <DataSet timestep="${s.time}" part="0" file="${s.file}"/>\n`).join("")} ` +
  " </Collection>\n</VTKFile>\n";
