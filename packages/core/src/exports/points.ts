import { numbers, type NumberColumn, type Table } from "../tables/table.js";
import { plainUnit } from "../tables/units.js";

const escape = (t: string): string =>
  t.replace(/[&<>"\u0000-\u001f]/g, (c) => ({ "&": "&amp;", "<": "&lt;", ">": "&gt;", '"': "&quot;" })[c] ?? " ");

/**
 * An array as the open XML formats hold it inline: base64 of its size in bytes, 64 bits wide, and its little-endian
 * bytes.
 */
function dataArray(
  type: string,
  name: string,
  components: number,
  values: Float64Array | BigInt64Array | Uint8Array,
): string {
  const bytes = Buffer.alloc(8 + values.byteLength);
  bytes.writeBigUInt64LE(BigInt(values.byteLength), 0);
  if (type === "UInt8") bytes.set(values as Uint8Array, 8);
  else
    values.forEach((v: number | bigint, i: number) =>
      typeof v === "bigint" ? bytes.writeBigInt64LE(v, 8 + 8 * i) : bytes.writeDoubleLE(v, 8 + 8 * i),
    );
  const parts = components === 1 ? "" : ` NumberOfComponents="${components}"`;
  return `<DataArray type="${type}" Name="${escape(name)}"${parts} format="binary">${bytes.toString("base64")}</DataArray>\n`;
}

const counting = (n: number, from: number): BigInt64Array =>
  BigInt64Array.from({ length: n }, (_, i) => BigInt(i + from));

/** The columns as fields: `U.x`, `U.y` and `U.z` of one unit become one vector; units stand in the names. */
function fieldsOf(columns: readonly NumberColumn[]): string {
  const named = (name: string, unit: string | null): string => (unit === null ? name : `${name} [${plainUnit(unit)}]`);
  let out = "";
  for (const c of columns) {
    const [, stem, part] = /^(.*)\.([xyz])$/.exec(c.name) ?? [];
    const three = stem === undefined ? [] : ["x", "y", "z"].map((d) => columns.find((o) => o.name === `${stem}.${d}`));
    if (three.length === 3 && three.every((o) => o !== undefined && o.unit === c.unit)) {
      if (part !== "x") continue;
      const all = new Float64Array(3 * c.values.length);
      three.forEach((o, d) => o!.values.forEach((v, i) => (all[3 * i + d] = v)));
      out += dataArray("Float64", named(stem!, c.unit), 3, all);
    } else out += dataArray("Float64", named(c.name, c.unit), 1, c.values);
  }
  return out;
}

/**
 * The rows of a table as points with values, in the open VTK XML formats: `vtp` (vertices of a surface file) or `vtu`
 * (of an unstructured mesh), for another program to start from. Numbers are written bit by bit; missing ones are NaN.
 * Columns of words are left out.
 *
 * @throws TableError without the columns x, y and z
 * @example toPoints(sampled, "vtp")
 */
export function toPoints(table: Table, kind: "vtp" | "vtu"): string {
  const xyz = ["x", "y", "z"].map((d) => numbers(table, d).values);
  const n = table.rows;
  const places = new Float64Array(3 * n);
  xyz.forEach((v, d) => v.forEach((x, i) => (places[3 * i + d] = x)));
  const columns = table.columns.filter(
    (c): c is NumberColumn => c.kind === "number" && !["x", "y", "z"].includes(c.name),
  );
  const [set, cells] = kind === "vtp" ? ["PolyData", "Verts"] : ["UnstructuredGrid", "Cells"];
  const count = kind === "vtp" ? "NumberOfVerts" : "NumberOfCells";
  const cellArrays = [
    dataArray("Int64", "connectivity", 1, counting(n, 0)),
    dataArray("Int64", "offsets", 1, counting(n, 1)),
    kind === "vtu" ? dataArray("UInt8", "types", 1, new Uint8Array(n).fill(1)) : "",
  ].join("");
  return `<?xml version="1.0"?>
<VTKFile type="${set}" version="1.0" byte_order="LittleEndian" header_type="UInt64">
<${set}>
<Piece NumberOfPoints="${n}" ${count}="${n}">
<PointData>
${fieldsOf(columns)}</PointData>
<Points>
${dataArray("Float64", "Points", 3, places)}</Points>
<${cells}>
${cellArrays}</${cells}>
</Piece>
</${set}>
</VTKFile>
`;
}
