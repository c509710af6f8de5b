import type { MeshFormat } from "../mesh-format.js";
import { FormatError, type ByteSource } from "../source.js";
import type { MeshFile } from "../mesh-data.js";
import { takeRoom } from "../room.js";
import { surfaceGrid } from "./surface-grid.js";

/** Bytes first, as text files may be told from others by their length alone. */
function looksLikeStl(head: Uint8Array, size: number): boolean {
  if (head.length >= 84) {
    const count = new DataView(head.buffer, head.byteOffset).getUint32(80, true);
    if (84 + 50 * count === size) return true;
  }
  return (
    /^\s*solid\b/.test(Buffer.from(head.subarray(0, 256)).toString("latin1")) &&
    /facet|endsolid/.test(Buffer.from(head).toString("latin1"))
  );
}

/** Opens an STL surface, text or bytes. Corners at the same place become one point; solids become blocks. */
function openStl(source: ByteSource): MeshFile {
  const head = source.read(0, 84);
  const count = head.length === 84 ? new DataView(head.buffer, head.byteOffset).getUint32(80, true) : -1;
  if (count >= 0 && 84 + 50 * count === source.size) {
    const read = (): Map<string, Float64Array> => {
      const bytes = source.read(84, 50 * count);
      if (bytes.length < 50 * count) throw new FormatError(source.name, "the file is cut off", { offset: source.size });
      const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
      takeRoom(72 * count);
      const corners = new Float64Array(9 * count);
      for (let t = 0; t < count; t++)
        for (let k = 0; k < 9; k++) corners[9 * t + k] = view.getFloat32(50 * t + 12 + 4 * k, true);
      return new Map([["", corners]]);
    };
    return { format: "STL", grids: [...read()].map(([block, corners]) => surfaceGrid(block, corners)) };
  }
  const solids = new Map<string, number[]>();
  let open: number[] | undefined;
  let corners = -1;
  takeRoom(6 * source.size);
  let line = 0;
  for (const raw of Buffer.from(source.read(0, source.size)).toString("latin1").split("\n")) {
    line++;
    const words = raw.trim().split(/\s+/);
    if (words[0] === "solid") {
      if (open) throw new FormatError(source.name, "a solid begins before the last one ends", { line });
      const name = words.slice(1).join(" ") || `solid ${solids.size + 1}`;
      open = solids.get(name) ?? [];
      solids.set(name, open);
    } else if (words[0] === "endsolid") open = undefined;
    else if (words[0] === "facet") corners = 0;
    else if (words[0] === "endfacet") {
      if (corners !== 3) throw new FormatError(source.name, `a facet has ${corners} corners`, { line });
      corners = -1;
    } else if (words[0] === "vertex") {
      corners++;
      const xyz = words.slice(1, 4).map(Number);
      if (!open || corners < 1 || xyz.length !== 3 || !xyz.every(Number.isFinite))
        throw new FormatError(source.name, "a vertex has no three coordinates", { line });
      open.push(...xyz);
    }
  }
  if (open || corners >= 0)
    throw new FormatError(
      source.name,
      "the file ends inside a solid",
      { line },
      "It is cut off: write it again, or wait until it is whole.",
    );
  if (solids.size === 0) throw new FormatError(source.name, "there is no solid in this file", { line: 1 });
  for (const [name, c] of solids)
    if (c.length % 9 !== 0) throw new FormatError(source.name, `"${name}" ends inside a facet`, { line });
  const single = solids.size === 1;
  return {
    format: "STL",
    grids: [...solids].map(([name, c]) => surfaceGrid(single ? "" : name, Float64Array.from(c))),
  };
}

/** Triangles, as text or bytes. */
export const stl: MeshFormat = {
  name: "STL",
  endings: [".stl"],
  collections: [],
  sniff: looksLikeStl,
  open: openStl,
};
