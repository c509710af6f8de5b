import type { MeshFormat } from "../mesh-format.js";
import { FormatError, type ByteSource } from "../source.js";
import type { Grid, MeshFile, Siblings, TimeCollection } from "../mesh-data.js";
import { DataArray, type Compressor, type Encoding } from "./data-array.js";
import { imagePiece, polygonPiece, rectilinearPiece, structuredPiece, unstructuredPiece } from "./xml-grids.js";
import { readXml, type XmlElement } from "./xml.js";

const compressors: Readonly<Record<string, Compressor>> = {
  vtkZLibDataCompressor: "zlib",
  vtkLZ4DataCompressor: "lz4",
  vtkLZMADataCompressor: "lzma",
};

function encodingOf(root: XmlElement, appended: number | undefined, file: string): Encoding {
  const { attributes: a } = root;
  const compressor = a["compressor"] === undefined || a["compressor"] === "" ? "none" : compressors[a["compressor"]];
  if (!compressor) throw new FormatError(file, `data packed by "${a["compressor"]}" are not read`, { offset: root.at });
  const header = a["header_type"] ?? "UInt32";
  if (header !== "UInt32" && header !== "UInt64")
    throw new FormatError(file, `array headers of type "${header}" are not read`, { offset: root.at });
  const data = root.children.find((c) => c.name === "AppendedData");
  return {
    littleEndian: a["byte_order"] !== "BigEndian",
    headerSize: header === "UInt64" ? 8 : 4,
    compressor,
    appended,
    appendedBase64: (data?.attributes["encoding"] ?? "base64") === "base64",
  };
}

/** Whether a file begins as one of this family. */
const looksLikeVtkXml = (head: Uint8Array): boolean =>
  /<VTKFile[\s>]/.test(Buffer.from(head.subarray(0, 2048)).toString("latin1"));

const DEEPEST = 8;

/**
 * Opens a mesh file of the open VTK XML family: unstructured, polygons, image, rectilinear and structured grids, their
 * parallel pieces and multi-block collections. Only tags are read; arrays are read when asked for.
 *
 * @param siblings opens the files that parallel and multi-block files name
 * @throws FormatError with the place where it is not what it claims to be
 */
function openVtkXml(source: ByteSource, siblings: Siblings, block = "", depth = 0): MeshFile | TimeCollection {
  if (depth > DEEPEST) throw new FormatError(source.name, "files name each other without end");
  const { root, appended } = readXml(source);
  if (root.name !== "VTKFile")
    throw new FormatError(source.name, `this is XML, but begins with <${root.name}>`, { offset: root.at });
  const type = root.attributes["type"] ?? "";
  const grid = root.children.find((c) => c.name === type);
  if (!grid) throw new FormatError(source.name, `a file of type "${type}" is without <${type}>`, { offset: root.at });
  if (type === "Collection") return collectionOf(grid, source);
  if (type === "vtkMultiBlockDataSet" || type === "vtkPartitionedDataSetCollection" || type === "vtkPartitionedDataSet")
    return { format: "multi-block", grids: blocksOf(grid, source, siblings, block, depth) };
  if (/^P[A-Z]/.test(type)) return parallelOf(grid, type, source, siblings, block, depth);
  const place = { source, encoding: encodingOf(root, appended, source.name), block };
  const make: Readonly<Record<string, (piece: XmlElement) => Grid>> = {
    UnstructuredGrid: (p) => unstructuredPiece(p, place),
    PolyData: (p) => polygonPiece(p, place),
    ImageData: (p) => imagePiece(grid, p, place),
    RectilinearGrid: (p) => rectilinearPiece(p, place),
    StructuredGrid: (p) => structuredPiece(p, place),
  };
  const reader = Object.hasOwn(make, type) ? make[type]! : undefined;
  if (!reader) throw new FormatError(source.name, `grids of type "${type}" are not read`, { offset: root.at });
  const grids = ofOneWhole(grid.children.filter((c) => c.name === "Piece").map(reader));
  const time = timeOf(grid, source, place.encoding);
  return { format: type, grids, ...(time !== undefined && { time }) };
}

/** Pieces of one structured grid, known as such: their extents are places in the same whole. */
function ofOneWhole(grids: readonly Grid[]): Grid[] {
  const of = {};
  return grids.map((g) => (g.piece ? { ...g, piece: { ...g.piece, of } } : g));
}

/** The time that the array `TimeValue` of a file's field data tells. */
function timeOf(grid: XmlElement, source: ByteSource, encoding: Encoding): number | undefined {
  const data = grid.children.find((c) => c.name === "FieldData");
  const found = data?.children.find((c) => c.name === "DataArray" && /^time_?value$/i.test(c.attributes["Name"] ?? ""));
  if (!found) return undefined;
  const tuples = Number(found.attributes["NumberOfTuples"] ?? 1);
  if (tuples !== 1) return undefined;
  const value = Number(new DataArray(source, found, encoding, 1).read()[0]);
  return Number.isFinite(value) ? value : undefined;
}

function collectionOf(grid: XmlElement, source: ByteSource): TimeCollection {
  const steps = grid.children
    .filter((c) => c.name === "DataSet")
    .map((c) => {
      const time = Number(c.attributes["timestep"] ?? 0);
      const file = c.attributes["file"];
      if (!Number.isFinite(time) || file === undefined)
        throw new FormatError(source.name, "a step has no time or no file", { offset: c.at });
      return { time, file, part: c.attributes["part"] };
    });
  if (steps.length === 0) throw new FormatError(source.name, "the collection names no files", { offset: grid.at });
  return { format: "collection", steps };
}

function meshIn(
  file: string,
  source: ByteSource,
  at: number,
  siblings: Siblings,
  block: string,
  depth: number,
): MeshFile {
  const next = siblings.open(file);
  const inner = openVtkXml(next.source, next.siblings, block, depth + 1);
  if (inner.format === "collection")
    throw new FormatError(source.name, `${file} is a collection of times, not a grid`, { offset: at });
  return inner as MeshFile;
}

function blocksOf(e: XmlElement, source: ByteSource, siblings: Siblings, prefix: string, depth: number): Grid[] {
  return e.children.flatMap((c): Grid[] => {
    const own = c.attributes["name"] ?? c.attributes["index"] ?? "";
    const name = c.name === "DataSet" || own !== "" ? [prefix, own].filter((t) => t !== "").join("/") : prefix;
    const { file } = c.attributes;
    if (c.name === "DataSet" && file !== undefined) return [...meshIn(file, source, c.at, siblings, name, depth).grids];
    return c.name === "Block" || c.name === "Partitions" || c.name === "Piece" || c.name === "DataSet"
      ? blocksOf(c, source, siblings, name, depth)
      : [];
  });
}

function parallelOf(
  grid: XmlElement,
  type: string,
  source: ByteSource,
  siblings: Siblings,
  block: string,
  depth: number,
): MeshFile {
  const files = grid.children
    .filter((c) => c.name === "Piece" && c.attributes["Source"] !== undefined)
    .map((c) => meshIn(c.attributes["Source"]!, source, c.at, siblings, block, depth));
  const time = files[0]?.time;
  return { format: type, grids: ofOneWhole(files.flatMap((f) => f.grids)), ...(time !== undefined && { time }) };
}

/** Grids in XML, and files that name their times, parts and blocks. */
export const vtkXml: MeshFormat = {
  name: "VTK XML",
  endings: [".vtu", ".vtp", ".vti", ".vtr", ".vts"],
  collections: [".pvd", ".vtm", ".pvtu", ".pvtp", ".pvti", ".pvtr", ".pvts"],
  sniff: looksLikeVtkXml,
  open: (source, siblings) => openVtkXml(source, siblings),
};
