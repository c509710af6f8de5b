import { describe, expect, it } from "@jest/globals";
import fc from "fast-check";
import { bufferSource, FormatError } from "../source.js";
import type { Grid, MeshFile, Siblings } from "../mesh-data.js";
import { distinctPoints } from "../distinct-points.js";
import { openMesh } from "../open-mesh.js";
import { unpackLz4 } from "./lz4.js";
import { packLz4, writeUnstructured, writeVtkXml, type Writing } from "./tests/write-xml.js";
import { unpackXz } from "./xz.js";

const alone: Siblings = {
  open: () => {
    throw new Error("no other file is expected");
  },
};
const open = (bytes: Uint8Array, siblings = alone): MeshFile =>
  openMesh(bufferSource("mesh.vtu", bytes), siblings) as MeshFile;

const points = [0, 0, 0, 1, 0, 0, 1, 1, 0, 0, 1, 0, 0, 0, 1, 1, 0, 1, 1, 1, 1, 0, 1, 1, 0.5, 0.5, 2];
const mesh = {
  points,
  cells: [
    { type: 12, nodes: [0, 1, 2, 3, 4, 5, 6, 7] },
    { type: 14, nodes: [4, 5, 6, 7, 8] },
  ],
};
const values = Array.from({ length: 9 }, (_, i) => i / 4 - 1);
const fields = [
  { name: "T [K]", on: "point" as const, type: "float64" as const, values },
  {
    name: "U",
    on: "point" as const,
    type: "float32" as const,
    components: 3,
    values: Array.from({ length: 27 }, (_, i) => i / 8),
  },
  { name: "q", on: "cell" as const, type: "int32" as const, values: [7, -3] },
];
const same = (g: Grid): void => {
  expect([g.points, g.cells]).toEqual([9, 2]);
  expect(Array.from(g.readPoints())).toEqual(points);
  const c = g.readCells();
  expect([Array.from(c.types), Array.from(c.offsets), Array.from(c.nodes)]).toEqual([
    [12, 14],
    [0, 8, 13],
    [0, 1, 2, 3, 4, 5, 6, 7, 4, 5, 6, 7, 8],
  ]);
  expect(g.fields).toEqual([
    { name: "T [K]", on: "point", components: 1, type: "float64" },
    { name: "U", on: "point", components: 3, type: "float32" },
    { name: "q", on: "cell", components: 1, type: "int32" },
  ]);
  expect(Array.from(g.readField("point", "T [K]"))).toEqual(values);
  expect(Array.from(g.readField("cell", "q"))).toEqual([7, -3]);
  expect(Array.from(g.readSome("point", "U", [8, 0, 8]))).toEqual([3, 3.125, 3.25, 0, 0.125, 0.25, 3, 3.125, 3.25]);
};

describe("XML mesh files give the same values however they are written", () => {
  const ways: Writing[] = [{ format: "ascii" }];
  for (const format of ["binary", "appended-raw", "appended-base64"] as const)
    for (const packed of [undefined, "zlib", "lz4"] as const)
      for (const header of ["UInt32", "UInt64"] as const)
        for (const order of ["LittleEndian", "BigEndian"] as const)
          ways.push({ format, header, order, ...(packed && { packed }) });
  it.each(ways.map((w) => [Object.values(w).join(" "), w] as const))("%s", (_, how) => {
    same(open(writeUnstructured(how, mesh, fields, how.header === "UInt64")).grids[0]!);
  });
});

describe("packed blocks", () => {
  it("of LZMA data", () => {
    const packed = Buffer.from(
      "/Td6WFoAAATm1rRGAgAhARYAAAB0L+Wj4Ax/AGZdAABs2FCQ9dQecg8xSJrUZKOX+1IABXknyp5a0G2d0aj5U9R6nGWK9mThpWSlYQULQhZIvzhbXx5O3+hVBD3Nk9rLecNdx0CAc9+bWS+a5ezTqze2h4Ao/Y/xzptzzhO51wHmrSgKAAAAAPR0LEnKmgEbAAGCAYAZAAB6ZuNTscRn+wIAAAAABFla",
      "base64",
    );
    const out = unpackXz(packed, 3200);
    expect(Array.from(new Float64Array(out.buffer))).toEqual(Array.from({ length: 400 }, (_, i) => (i % 50) * 0.25));
    expect(() => unpackXz(packed, 3201)).toThrow(/shorter than it says/);
    expect(() => unpackXz(packed.subarray(0, 60), 3200)).toThrow(/cut off|outside|longer/);
  });
  it("of LZ4 data, whatever they hold", () => {
    fc.assert(
      fc.property(fc.array(fc.constantFrom(0, 1, 2, 255), { maxLength: 300 }), (list) => {
        const bytes = Uint8Array.from(list);
        expect(Array.from(unpackLz4(packLz4(bytes), bytes.length))).toEqual(list);
      }),
    );
    const runs = new Uint8Array(2000).map((_, i) => i % 16);
    expect(unpackLz4(packLz4(runs), 2000)).toEqual(runs);
    expect(packLz4(runs).length).toBeLessThan(1500);
  });
});

describe("other grids", () => {
  it("images, with origin, spacing and direction", () => {
    const g = open(
      writeVtkXml(
        "ImageData",
        { format: "ascii" },
        (a) =>
          `<ImageData WholeExtent="0 2 0 1 0 1" Origin="1 2 3" Spacing="0.5 1 2"><Piece Extent="0 2 0 1 0 ` +
          `1"><PointData>${a({ name: "a", type: "float32", values: Array.from({ length: 12 }, (_, i) => i) })}</PointData></Piece></ImageData>`,
      ),
    ).grids[0]!;
    expect([g.points, g.cells]).toEqual([12, 2]);
    expect(Array.from(g.readPoints().subarray(33))).toEqual([2, 3, 5]);
    expect(Array.from(g.readCells().nodes.subarray(0, 8))).toEqual([0, 1, 4, 3, 6, 7, 10, 9]);
    expect(g.readField("point", "a")[11]).toBe(11);
  });
  it("flat rectilinear and structured grids", () => {
    const axis = (a: (x: { name: string; type: "float64"; values: number[] }) => string, values: number[]): string =>
      a({ name: "", type: "float64", values });
    const r = open(
      writeVtkXml(
        "RectilinearGrid",
        { format: "binary" },
        (a) =>
          `<RectilinearGrid WholeExtent="0 2 0 1 0 0"><Piece Extent="0 2 0 1 0 ` +
          `0"><Coordinates>${axis(a, [0, 1, 3])}${axis(a, [0, 2])}${axis(a, [5])}</Coordinates></Piece></RectilinearGrid>`,
      ),
    ).grids[0]!;
    expect([r.points, r.cells, r.readCells().types[0]]).toEqual([6, 2, 9]);
    expect(Array.from(r.readPoints().subarray(15))).toEqual([3, 2, 5]);
    const s = open(
      writeVtkXml(
        "StructuredGrid",
        { format: "appended-raw" },
        (a) =>
          `<StructuredGrid WholeExtent="0 1 0 1 0 0"><Piece Extent="0 1 0 1 0 ` +
          `0"><Points>${a({ name: "", type: "float64", components: 3, values: [0, 0, 0, 1, 0, 0, 0, 1, 0, 1, 1, 0.5] })}</Points></Piece></StructuredGrid>`,
      ),
    ).grids[0]!;
    expect(Array.from(s.readCells().nodes)).toEqual([0, 1, 3, 2]);
  });
  it("polygons, strips, lines and points in the order of their fields", () => {
    const g = open(
      writeVtkXml("PolyData", { format: "binary", packed: "zlib" }, (a) => {
        const list = (name: string, cells: number[][]): string => {
          let end = 0;
          return `<${name}>${a({ name: "connectivity", type: "int64", values: cells.flat() })}${a({ name: "offsets", type: "int64", values: cells.map((c) => (end += c.length)) })}</${name}>`;
        };
        return `<PolyData><Piece NumberOfPoints="5" NumberOfVerts="1" NumberOfLines="1" NumberOfPolys="2" NumberOfStrips="1"><Points>${a({ name: "p", type: "float32", components: 3, values: [0, 0, 0, 1, 0, 0, 1, 1, 0, 0, 1, 0, 2, 0, 0] })}</Points>${list("Verts", [[4]])}${list("Lines", [[0, 1, 2]])}${list(
          "Polys",
          [
            [0, 1, 2],
            [0, 1, 2, 3],
          ],
        )}${list("Strips", [[0, 1, 3, 2]])}<CellData>${a({ name: "id", type: "int16", values: [0, 1, 2, 3, 4] })}</CellData></Piece></PolyData>`;
      }),
    ).grids[0]!;
    expect(Array.from(g.readCells().types)).toEqual([1, 4, 5, 9, 6]);
    expect(Array.from(g.readCells().offsets)).toEqual([0, 1, 4, 7, 11, 15]);
    expect(Array.from(g.readField("cell", "id"))).toEqual([0, 1, 2, 3, 4]);
  });
  it("collections, blocks and parallel pieces name other files", () => {
    const piece = writeUnstructured({ format: "ascii" }, mesh);
    const asked: string[] = [];
    const siblings: Siblings = {
      open: (file) => {
        asked.push(file);
        return { source: bufferSource(file, piece), siblings };
      },
    };
    const multi = open(
      Buffer.from(
        '<VTKFile type="vtkMultiBlockDataSet"><vtkMultiBlockDataSet><Block index="0" ' +
          'name="walls"><DataSet index="0" name="north &amp; east" file="a/n.vtu"/></Block><DataSet ' +
          'index="1" name="hall" file="h.vtu"/></vtkMultiBlockDataSet></VTKFile>',
      ),
      siblings,
    );
    expect(multi.grids.map((g) => [g.block, g.cells])).toEqual([
      ["walls/north & east", 2],
      ["hall", 2],
    ]);
    const parallel = open(
      Buffer.from(
        '<VTKFile type="PUnstructuredGrid"><PUnstructuredGrid><Piece Source="p0.vtu"/><Piece ' +
          'Source="p1.vtu"/></PUnstructuredGrid></VTKFile>',
      ),
      siblings,
    );
    expect(parallel.grids.map((g) => g.cells)).toEqual([2, 2]);
    const times = openMesh(
      bufferSource(
        "t.pvd",
        Buffer.from(
          '<?xml version="1.0"?>\n<!-- times > 0 -->\n<VTKFile type="Collection"><Collection><DataSet ' +
            'timestep="0.5" part="0" file="x.vtu"/></Collection></VTKFile>',
        ),
      ),
      alone,
    );
    expect(times).toEqual({ format: "collection", steps: [{ time: 0.5, file: "x.vtu", part: "0" }] });
    expect(asked).toEqual(["a/n.vtu", "h.vtu", "p0.vtu", "p1.vtu"]);
  });
});

describe("points of pieces", () => {
  const image = (extents: readonly string[]): Grid[] =>
    open(
      Buffer.from(
        `<VTKFile type="ImageData"><ImageData WholeExtent="0 9 0 9 0 ` +
          `9">${extents.map((e) => `<Piece Extent="${e}"/>`).join("")}</ImageData></VTKFile>`,
      ),
    ).grids as Grid[];
  it.each([
    ["one behind the other", ["0 2 0 2 0 2", "2 4 0 2 0 2"], 45],
    [
      "eight about a corner",
      [0, 1].flatMap((i) =>
        [0, 1].flatMap((j) => [0, 1].map((k) => `${2 * i} ${2 * i + 2} ${2 * j} ${2 * j + 2} ${2 * k} ${2 * k + 2}`)),
      ),
      125,
    ],
    ["that overlap by layers of ghost cells", ["0 3 0 1 0 0", "1 5 0 1 0 0"], 12],
    ["apart", ["0 1 0 0 0 0", "4 5 0 0 0 0"], 4],
  ])("those between two are counted once: %s", (_, extents, count) => {
    expect(distinctPoints(image(extents))).toBe(count);
  });
  it("also over the files of a parallel grid; other grids are wholes of their own", () => {
    const files: Record<string, string> = { a: "0 2 0 2 0 2", b: "2 4 0 2 0 2" };
    const siblings: Siblings = {
      open: (file) => ({
        source: bufferSource(
          file,
          Buffer.from(
            `<VTKFile type="ImageData"><ImageData><Piece Extent="${files[file[0]!]}"/></ImageData></VTKFile>`,
          ),
        ),
        siblings,
      }),
    };
    const parallel = open(
      Buffer.from(
        '<VTKFile type="PImageData"><PImageData><Piece Source="a.vti"/><Piece Source="b.vti"/></PImageData></VTKFile>',
      ),
      siblings,
    ).grids as Grid[];
    expect(distinctPoints(parallel)).toBe(45);
    expect(distinctPoints([...parallel, ...image(["0 2 0 2 0 2"])])).toBe(45 + 27);
  });
});

describe("bad files", () => {
  const whole = writeUnstructured({ format: "appended-raw" }, mesh, fields);
  const text = Buffer.from(writeUnstructured({ format: "ascii" }, mesh, fields)).toString();
  const readAll = (bytes: Uint8Array): void => {
    const siblings: Siblings = {
      open: () => {
        throw new FormatError("x", "no");
      },
    };
    const m = openMesh(bufferSource("mesh.vtu", bytes), siblings);
    if (m.format === "collection") return;
    for (const g of (m as MeshFile).grids) {
      g.readPoints();
      g.readCells();
      for (const f of g.fields) g.readField(f.on, f.name);
    }
  };
  it.each([
    ["cut off in its data", whole.subarray(0, whole.length - 120), /ends inside the array|points outside/],
    ["cut off in its tags", Buffer.from(text.slice(0, 400)), /ends inside|does not end/],
    [
      "too many points",
      Buffer.from(text.replace('NumberOfPoints="9"', 'NumberOfPoints="1000000000"')),
      /less than the|claims/,
    ],
    [
      "points without end",
      Buffer.from(text.replace('NumberOfPoints="9"', 'NumberOfPoints="1e12"')),
      /NumberOfPoints is "1e12"/,
    ],
    ["negative nodes", Buffer.from(text.replace("0 1 2 3 4 5 6 7 4", "0 1 2 -3 4 5 6 7 4")), /-3 at place 3/],
    [
      "nodes that are not there",
      Buffer.from(text.replace("0 1 2 3 4 5 6 7 4", "0 1 2 93 4 5 6 7 4")),
      /names point 93, but there are only 9/,
    ],
    ["offsets that go back", Buffer.from(text.replace(" 8 13", " 13 8")), /cell|offsets|connectivity/],
    [
      "entities",
      Buffer.from('<?xml version="1.0"?><!DOCTYPE a [<!ENTITY b "c">]><VTKFile type="UnstructuredGrid"/>'),
      /entities are not read/,
    ],
    [
      "an offset behind the end",
      Buffer.from(Buffer.from(whole).toString("latin1").replace('offset="0"', 'offset="99999"'), "latin1"),
      /points outside the file/,
    ],
    ["words for numbers", Buffer.from(text.replace("0.25", "warm")), /not a number/],
    [
      "an unknown packing",
      Buffer.from(text.replace("<VTKFile", '<VTKFile compressor="vtkFooCompressor"')),
      /packed by/,
    ],
  ])("%s", (_, bytes, message) => {
    expect(() => readAll(bytes)).toThrow(message);
    expect(() => readAll(bytes)).toThrow(FormatError);
  });
  it("packed blocks that would grow without end are refused before they do", () => {
    const bytes = Buffer.from(writeUnstructured({ format: "appended-raw", packed: "zlib", block: 64 }, mesh));
    const at = bytes.indexOf(95, bytes.indexOf("AppendedData")) + 1;
    bytes.writeUInt32LE(2 ** 30, at + 4);
    expect(() => readAll(bytes)).toThrow(/grow without end/);
  });
  it("property: damaged bytes give an error that says so, or values; never a crash or a hang", () => {
    const kinds = [
      whole,
      Buffer.from(text),
      writeUnstructured({ format: "binary", packed: "zlib" }, mesh, fields),
      writeUnstructured({ format: "appended-base64", packed: "lz4" }, mesh, fields),
    ];
    fc.assert(
      fc.property(
        fc.constantFrom(...kinds),
        fc.array(fc.tuple(fc.nat(100000), fc.nat(255)), { minLength: 1, maxLength: 8 }),
        (base, changes) => {
          const bytes = Uint8Array.from(base);
          for (const [at, b] of changes) bytes[at % bytes.length] = b;
          try {
            readAll(bytes);
          } catch (e) {
            if (!(e instanceof FormatError)) throw e;
          }
        },
      ),
      { numRuns: 400 },
    );
  });
});

it("single values of a plain file cost the bytes around them, not the file", () => {
  const n = 60_000;
  const big = { points: Array.from({ length: 3 * n }, (_, i) => i % 7), cells: [{ type: 1, nodes: [0] }] };
  const T = {
    name: "T",
    on: "point" as const,
    type: "float64" as const,
    values: Array.from({ length: n }, (_, i) => i / 2),
  };
  for (const how of [{ format: "appended-raw" }, { format: "appended-raw", packed: "zlib", block: 8192 }] as const) {
    const source = bufferSource("big.vtu", writeUnstructured(how, big, [T]));
    let read = 0;
    const counting = {
      ...source,
      read: (at: number, length: number) => {
        const b = source.read(at, length);
        read += b.length;
        return b;
      },
    };
    const g = (openMesh(counting, alone) as MeshFile).grids[0]!;
    read = 0;
    expect(Array.from(g.readSome("point", "T", [59_999, 3, 30_000, 30_001]))).toEqual([
      29_999.5, 1.5, 15_000, 15_000.5,
    ]);
    expect(read).toBeLessThan(source.size / 10);
  }
});
