import { FormatError, type ByteSource } from "./source.js";
import type { MeshFile, Siblings, TimeCollection } from "./mesh-data.js";
import { withoutGhosts } from "./ghost-cells.js";
import { looksLikeObj, openObj } from "./surfaces/obj.js";
import { looksLikePly, openPly } from "./surfaces/ply.js";
import { looksLikeStl, openStl } from "./surfaces/stl.js";
import { looksLikeLegacyVtk, openLegacyVtk } from "./vtk/legacy.js";
import { looksLikeVtkXml, openVtkXml } from "./vtk/xml-file.js";

/** A kind of mesh file: whether a file is one by its first bytes, and how it is opened. */
export interface MeshFormat {
  readonly name: string;
  /** Endings of its files, as they are usual: for finding them, never for knowing what they are. */
  readonly endings: readonly string[];
  /** Endings of its files that name others: times, parts, blocks. */
  readonly collections: readonly string[];
  sniff(head: Uint8Array, size: number): boolean;
  open(source: ByteSource, siblings: Siblings): MeshFile | TimeCollection;
}

/** All kinds of mesh file, in the order in which they are tried. Adding a format is adding a folder and a line here. */
export const meshFormats: readonly MeshFormat[] = [
  {
    name: "VTK XML",
    endings: [".vtu", ".vtp", ".vti", ".vtr", ".vts"],
    collections: [".pvd", ".vtm", ".pvtu", ".pvtp", ".pvti", ".pvtr", ".pvts"],
    sniff: looksLikeVtkXml,
    open: openVtkXml,
  },
  { name: "legacy VTK", endings: [".vtk"], collections: [], sniff: looksLikeLegacyVtk, open: openLegacyVtk },
  { name: "PLY", endings: [".ply"], collections: [], sniff: looksLikePly, open: openPly },
  { name: "STL", endings: [".stl"], collections: [], sniff: looksLikeStl, open: openStl },
  { name: "OBJ", endings: [".obj"], collections: [], sniff: looksLikeObj, open: openObj },
];

/** Endings of mesh files, and of those that name others. */
export const meshEndings: readonly string[] = meshFormats.flatMap((f) => f.endings);
export const meshCollections: readonly string[] = meshFormats.flatMap((f) => f.collections);

/** The kind of mesh file that a file's first bytes show; its name says nothing. */
export function meshFormatOf(source: ByteSource): MeshFormat | undefined {
  // Most tell by their first words; only text without any needs a longer look.
  const first = source.read(0, 4096);
  const [xml] = meshFormats;
  if (xml!.sniff(first, source.size)) return xml;
  const head = source.size <= 4096 ? first : source.read(0, 65536);
  return meshFormats.find((f) => f.sniff(head, source.size));
}

/** Opens a mesh file of any kind. @throws FormatError when it is none */
export function openMesh(source: ByteSource, siblings: Siblings): MeshFile | TimeCollection {
  const format = meshFormatOf(source);
  if (!format)
    throw new FormatError(
      source.name,
      source.size === 0 ? "the file is empty" : "this is no mesh file that is read here",
      { offset: 0 },
      `These are: ${meshFormats.map((f) => f.name).join(", ")}.`,
    );
  const file = format.open(source, siblings);
  return "grids" in file ? { ...file, grids: file.grids.map(withoutGhosts) } : file;
}
