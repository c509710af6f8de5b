import { FormatError, type ByteSource } from "./source.js";
import type { MeshFile, Siblings, TimeCollection } from "./mesh-data.js";
import { withoutGhosts } from "./ghost-cells.js";
import type { MeshFormat } from "./mesh-format.js";
import { obj } from "./surfaces/obj.js";
import { ply } from "./surfaces/ply.js";
import { stl } from "./surfaces/stl.js";
import { legacyVtk } from "./vtk/legacy.js";
import { vtkXml } from "./vtk/xml-file.js";

export type { MeshFormat } from "./mesh-format.js";

/** All kinds of mesh file, in the order in which they are tried. Adding a format is adding a folder and a line here. */
export const meshFormats: readonly MeshFormat[] = [vtkXml, legacyVtk, ply, stl, obj];

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
      source.size === 0 ? "the file is empty" : "this is not a mesh file of a known format",
      { offset: 0 },
      `These are: ${meshFormats.map((f) => f.name).join(", ")}.`,
    );
  const file = format.open(source, siblings);
  return "grids" in file ? { ...file, grids: file.grids.map(withoutGhosts) } : file;
}
