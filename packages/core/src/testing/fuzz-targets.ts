import { createHash } from "node:crypto";
import {
  bufferSource,
  compilePattern,
  openMesh,
  readLines,
  readTextTable,
  type MeshFile,
  type Siblings,
} from "../formats/index.js";
import type { Table } from "../tables/index.js";
import type { FuzzTarget } from "./fuzz.js";
import { collectionSeeds, legacySeeds, lineSeeds, surfaceSeeds, textSeeds, xmlSeeds } from "./fuzz-seeds.js";

const behindLine = (whole: Uint8Array, cut: number): boolean =>
  cut === 0 || whole[cut - 1] === 10 || (whole[cut - 1] === 0 && whole[cut - 2] === 10) || whole[cut] === 10;

function tableHolds(t: Table): { holds: string; said: boolean } {
  const h = createHash("sha256");
  for (const c of t.columns) {
    h.update(`${c.name} ${c.kind === "number" ? c.unit : ""} `);
    h.update(
      c.kind === "number"
        ? new Uint8Array(c.values.buffer, c.values.byteOffset, c.values.byteLength)
        : c.values.join("\0"),
    );
  }
  return { holds: h.digest("hex"), said: (t.conditions ?? []).length > 0 };
}

/** Reads all that a mesh file holds. */
function meshHolds(bytes: Uint8Array, siblings: Siblings): { holds: string; said: boolean } {
  const opened = openMesh(bufferSource("fuzz.dat", bytes), siblings);
  const h = createHash("sha256");
  if (opened.format === "collection") return { holds: JSON.stringify(opened), said: false };
  let said = false;
  for (const g of (opened as MeshFile).grids) {
    said ||= (g.notes ?? []).length > 0;
    const { types, offsets, nodes, polyhedra } = g.readCells();
    for (const a of [
      g.readPoints(),
      types,
      offsets,
      nodes,
      ...(polyhedra ? [polyhedra.cellOffsets, polyhedra.faceOffsets, polyhedra.nodes] : []),
    ])
      h.update(new Uint8Array(a.buffer, a.byteOffset, a.byteLength));
    g.dimension();
    g.digestOf((b) => h.update(b));
    for (const f of g.fields) {
      h.update(`${f.on} ${f.name} ${f.components}`);
      h.update(new Uint8Array(g.readField(f.on, f.name).buffer));
      const count = f.on === "point" ? g.points : g.cells;
      if (count > 0) g.readSome(f.on, f.name, [0, count - 1]);
    }
  }
  return { holds: h.digest("hex"), said };
}

/** Behind a whole section of a legacy file: those that follow need not be there. */
const behindSection = (whole: Uint8Array, cut: number): boolean =>
  /^\n*(?:(?:POINT|CELL)_DATA|POLYGONS|SCALARS|VECTORS)/.test(
    Buffer.from(whole.subarray(cut, cut + 24)).toString("latin1"),
  );

const alone: Siblings = {
  open: () => {
    throw new Error("names another file");
  },
};
const together: Siblings = {
  open: (name) => ({
    source: bufferSource(name, name.endsWith(".vtu") ? xmlSeeds[0]! : collectionSeeds[1]!),
    siblings: together,
  }),
};
const pattern = [compilePattern("t {t:s} s | it {it} | … dT {dT} | {state:text}")];

/** All readers of files of results. */
export const readerTargets: readonly FuzzTarget[] = [
  {
    name: "text tables",
    seeds: textSeeds,
    read: (b) => tableHolds(readTextTable(bufferSource("fuzz.dat", b)).table),
    invisible: behindLine,
  },
  {
    name: "log lines",
    seeds: lineSeeds,
    read: (b) => tableHolds(readLines(bufferSource("fuzz.log", b), pattern)),
    invisible: behindLine,
  },
  { name: "VTK XML", seeds: xmlSeeds, read: (b) => meshHolds(b, alone) },
  { name: "legacy VTK", seeds: legacySeeds, read: (b) => meshHolds(b, alone), invisible: behindSection },
  {
    name: "surfaces",
    seeds: surfaceSeeds,
    read: (b) => meshHolds(b, alone),
    invisible: (w, at) => Buffer.from(w.subarray(0, 2)).toString() === "# " && behindLine(w, at),
  },
  { name: "collections", seeds: collectionSeeds, read: (b) => meshHolds(b, together) },
];
