import { writeUnstructured, writeVtkXml, type TestArray, type Writing } from "../formats/vtk/tests/write-xml.js";

/** Whole files of every kind that is read, small enough to be damaged everywhere. */

const text = (t: string): Uint8Array => new Uint8Array(Buffer.from(t));

const rows = Array.from({ length: 30 }, (_, i) => [i * 0.5, 280 + i / 7, -1e-3 * i] as const);

export const textSeeds: readonly Uint8Array[] = [
  text(`time [s],T_mean [K],q (W/m2)\n${rows.map((r) => r.join(",")).join("\n")}\n`),
  text(
    `Zeit (s);T (°C)\r\n${rows.map((r) => `${String(r[0]).replace(".", ",")};${String(r[1]).replace(".", ",")}`).join("\r\n")}\r\n`,
  ),
  text(`# case 7\n#  t   T   q\n${rows.map((r) => `  ${r.map((x) => x.toExponential(6)).join("   ")}`).join("\n")}\n`),
  text(`"run","note"\n"a","x, ""y"""\n"b","z"\n`),
  text(`date;flow [m3/s]\n2026-01-01 00:00:00;1\n2026-01-01 00:01:00;2\n`),
  new Uint8Array(Buffer.from(`\ufefft\tT\n1\t2\n3\t4\n`, "utf16le")),
];

export const lineSeeds: readonly Uint8Array[] = [
  text(
    Array.from({ length: 20 }, (_, i) => `t ${i} s | it 6 | dT ${1 / (i + 1)}e-6 | ok\nwarning: nothing\n`).join(""),
  ),
];

const points = [0, 0, 0, 1, 0, 0, 1, 1, 0, 0, 1, 0, 0, 0, 1, 1, 0, 1, 1, 1, 1, 0, 1, 1, 0.5, 0.5, 2];
const mesh = {
  points,
  cells: [
    { type: 12, nodes: [0, 1, 2, 3, 4, 5, 6, 7] },
    { type: 14, nodes: [4, 5, 6, 7, 8] },
  ],
};
const fields = [
  { name: "T", on: "point" as const, type: "float64" as const, values: Array.from({ length: 9 }, (_, i) => i / 4) },
  { name: "q", on: "cell" as const, type: "int32" as const, values: [7, -3] },
];

const ways: Writing[] = [
  { format: "ascii" },
  ...(["binary", "appended-raw", "appended-base64"] as const).flatMap((format): Writing[] => [
    { format },
    { format, packed: "zlib", header: "UInt64" },
    { format, packed: "lz4", order: "BigEndian" },
  ]),
];

type Put = (a: TestArray) => string;
const list = (put: Put, name: string, cells: readonly (readonly number[])[]): string => {
  let end = 0;
  return `<${name}>${put({ name: "connectivity", type: "int64", values: cells.flat() })}${put({ name: "offsets", type: "int64", values: cells.map((c) => (end += c.length)) })}</${name}>`;
};
const axis = (put: Put, values: readonly number[]): string => put({ name: "", type: "float64", values });

const polyhedron = (how: Writing): Uint8Array =>
  writeVtkXml("UnstructuredGrid", how, (put) => {
    const faces = [4, 3, 0, 2, 1, 3, 0, 1, 3, 3, 1, 2, 3, 3, 0, 3, 2];
    return (
      `<UnstructuredGrid><Piece NumberOfPoints="4" ` +
      `NumberOfCells="1"><Points>${put({ name: "p", type: "float64", components: 3, values: [0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0, 1] })}</Points><Cells>${put({ name: "connectivity", type: "int64", values: [0, 1, 2, 3] })}${put({ name: "offsets", type: "int64", values: [4] })}${put({ name: "types", type: "uint8", values: [42] })}${put({ name: "faces", type: "int64", values: faces })}${put({ name: "faceoffsets", type: "int64", values: [faces.length] })}</Cells></Piece></UnstructuredGrid>`
    );
  });

export const xmlSeeds: readonly Uint8Array[] = [
  ...ways.map((how) => writeUnstructured(how, mesh, fields, how.header === "UInt64")),
  ...ways.slice(0, 4).flatMap((how) => [
    polyhedron(how),
    writeVtkXml(
      "ImageData",
      how,
      (put) =>
        `<ImageData WholeExtent="0 2 0 1 0 1" Origin="1 2 3" Spacing="0.5 1 2"><Piece Extent="0 2 0 1 0 ` +
        `1"><PointData>${put({ name: "a", type: "float32", values: Array.from({ length: 12 }, (_, i) => i) })}</PointData></Piece></ImageData>`,
    ),
    writeVtkXml(
      "RectilinearGrid",
      how,
      (put) =>
        `<RectilinearGrid WholeExtent="0 2 0 1 0 0"><Piece Extent="0 2 0 1 0 ` +
        `0"><Coordinates>${axis(put, [0, 1, 3])}${axis(put, [0, 2])}${axis(put, [5])}</Coordinates></Piece></RectilinearGrid>`,
    ),
    writeVtkXml(
      "StructuredGrid",
      how,
      (put) =>
        `<StructuredGrid WholeExtent="0 1 0 1 0 0"><Piece Extent="0 1 0 1 0 ` +
        `0"><Points>${put({ name: "", type: "float64", components: 3, values: [0, 0, 0, 1, 0, 0, 0, 1, 0, 1, 1, 0.5] })}</Points></Piece></StructuredGrid>`,
    ),
    writeVtkXml(
      "PolyData",
      how,
      (put) =>
        `<PolyData><Piece NumberOfPoints="4" NumberOfVerts="1" NumberOfLines="1" NumberOfPolys="2" NumberOfStrips="0"><Points>${put({ name: "p", type: "float32", components: 3, values: [0, 0, 0, 1, 0, 0, 1, 1, 0, 0, 1, 0] })}</Points>${list(put, "Verts", [[3]])}${list(put, "Lines", [[0, 1, 2]])}${list(
          put,
          "Polys",
          [
            [0, 1, 2],
            [0, 1, 2, 3],
          ],
        )}</Piece></PolyData>`,
    ),
  ]),
];

/** Files that name others: all of these names lead to one whole file. */
export const collectionSeeds: readonly Uint8Array[] = [
  text(
    "<VTKFile " +
      `type="Collection"><Collection>${[0, 10].map((t) => `<DataSet timestep="${t}" file="f${t}.vtu"/>`).join("")}</Collection></VTKFile>\n`,
  ),
  text(
    `<VTKFile type="vtkMultiBlockDataSet"><vtkMultiBlockDataSet><Block index="0" name="a"><DataSet ` +
      `index="0" name="b" file="b.vtu"/></Block><DataSet index="1" name="c" ` +
      `file="c.vtu"/></vtkMultiBlockDataSet></VTKFile>\n`,
  ),
  text(
    `<VTKFile type="PUnstructuredGrid"><PUnstructuredGrid GhostLevel="0"><Piece ` +
      `Source="a.vtu"/><Piece Source="b.vtu"/></PUnstructuredGrid></VTKFile>\n`,
  ),
];

function legacy(binary: boolean, parts: readonly (string | { int?: number[]; float?: number[] })[]): Uint8Array {
  const out = [Buffer.from(`# vtk DataFile Version 3.0\ntest\n${binary ? "BINARY" : "ASCII"}\n`)];
  for (const p of parts) {
    if (typeof p === "string") out.push(Buffer.from(p));
    else {
      const values = p.int ?? p.float!;
      if (!binary) out.push(Buffer.from(values.join(" ") + "\n"));
      else {
        const b = Buffer.alloc(4 * values.length + 1, 10);
        values.forEach((v, i) => (p.int ? b.writeInt32BE(v, 4 * i) : b.writeFloatBE(v, 4 * i)));
        out.push(b);
      }
    }
  }
  return new Uint8Array(Buffer.concat(out));
}
const corners = [0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0, 1, 1, 1, 1];

export const legacySeeds: readonly Uint8Array[] = [false, true].flatMap((binary) => [
  legacy(binary, [
    "DATASET UNSTRUCTURED_GRID\nPOINTS 5 float\n",
    { float: corners },
    "CELLS 2 10\n",
    { int: [4, 0, 1, 2, 3, 4, 1, 2, 3, 4] },
    "CELL_TYPES 2\n",
    { int: [10, 10] },
    "POINT_DATA 5\nSCALARS T float 1\nLOOKUP_TABLE default\n",
    { float: [0, 0.25, 0.5, 0.75, 1] },
  ]),
  legacy(binary, [
    "DATASET STRUCTURED_POINTS\nDIMENSIONS 3 2 1\nORIGIN 0 0 0\nSPACING 1 1 1\nPOINT_DATA 6\nSCALARS T float 1\nLOOKUP_TABLE default\n",
    { float: [1, 2, 3, 4, 5, 6] },
  ]),
  legacy(binary, [
    "DATASET RECTILINEAR_GRID\nDIMENSIONS 3 2 1\nX_COORDINATES 3 float\n",
    { float: [0, 1, 3] },
    "Y_COORDINATES 2 float\n",
    { float: [0, 2] },
    "Z_COORDINATES 1 float\n",
    { float: [5] },
    "CELL_DATA 2\nSCALARS q float 1\nLOOKUP_TABLE default\n",
    { float: [7, 8] },
  ]),
  legacy(binary, [
    "DATASET POLYDATA\nPOINTS 4 float\n",
    { float: corners.slice(0, 12) },
    "POLYGONS 2 8\n",
    { int: [3, 0, 1, 2, 3, 1, 2, 3] },
    "CELL_DATA 2\nVECTORS U float\n",
    { float: [1, 0, 0, 0, 1, 0] },
  ]),
]);

const facet = (p: readonly number[]): string =>
  `facet normal 0 0 1\n outer loop\n  vertex ${p.slice(0, 3).join(" ")}\n  vertex ` +
  `${p.slice(3, 6).join(" ")}\n  vertex ${p.slice(6).join(" ")}\n endloop\nendfacet\n`;

function binaryStl(): Uint8Array {
  const out = Buffer.alloc(84 + 100);
  out.writeUInt32LE(2, 80);
  for (let t = 0; t < 2; t++) for (let k = 0; k < 9; k++) out.writeFloatLE((k * 7 + t) % 5, 84 + 50 * t + 12 + 4 * k);
  return new Uint8Array(out);
}

function binaryPly(): Uint8Array {
  const head = Buffer.from(
    "ply\nformat binary_little_endian 1.0\nelement vertex 3\nproperty float x\nproperty float " +
      "y\nproperty float z\nelement face 1\nproperty list uchar int vertex_indices\nend_header\n",
  );
  const body = Buffer.alloc(36 + 13);
  [0, 0, 0, 1, 0, 0, 0, 1, 0].forEach((v, i) => body.writeFloatLE(v, 4 * i));
  body.writeUInt8(3, 36);
  [0, 1, 2].forEach((v, i) => body.writeInt32LE(v, 37 + 4 * i));
  return new Uint8Array(Buffer.concat([head, body]));
}

export const surfaceSeeds: readonly Uint8Array[] = [
  text(`solid floor\n${facet([0, 0, 0, 1, 0, 0, 0, 1, 0])}${facet([1, 0, 0, 1, 1, 0, 0, 1, 0])}endsolid floor\n`),
  binaryStl(),
  text(
    "ply\nformat ascii 1.0\nelement vertex 4\nproperty float x\nproperty float y\nproperty float " +
      "z\nproperty float T\nelement face 2\nproperty list uchar int vertex_indices\nend_header\n0 0 0 " +
      "1\n1 0 0 2\n1 1 0 3\n0 1 0 4\n3 0 1 2\n3 0 2 3\n",
  ),
  binaryPly(),
  text("# a surface\no wall\nv 0 0 0\nv 1 0 0\nv 1 1 0\nv 0 1 0\nf 1 2 3\ng lid\nf 1/1 3/2 4/3\n"),
];
