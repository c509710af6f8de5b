import { createHash } from "node:crypto";
import { describe, expect, it } from "@jest/globals";
import { collectionSeeds, legacySeeds, lineSeeds, surfaceSeeds, textSeeds, xmlSeeds } from "../testing/fuzz-seeds.js";
import { bufferSource, compilePattern, openMesh, readLines, readTextTable, type MeshFile } from "./index.js";

/**
 * What each reader gives for fixed files, as a digest of names, units, values and notes. Kept results are found by the
 * version of the reading operation: whoever changes what a reader gives raises that version, and writes the new digest
 * here.
 */
const golden: Readonly<Record<string, readonly string[]>> = {
  "text tables": ["9e97c710f4a2", "0ff83b1973b6", "160ea167bfc7", "f0a22bc18853", "8517f8f9aeab", "8efa3ee80bf4"],
  lines: ["b641326fcce4"],
  "open XML grids": [
    "daef850d3985",
    "daef850d3985",
    "daef850d3985",
    "daef850d3985",
    "daef850d3985",
    "daef850d3985",
    "daef850d3985",
    "daef850d3985",
    "daef850d3985",
    "daef850d3985",
    "288c3f02607a",
    "51c938442fcf",
    "9166fe6e6f8a",
    "d9ce41901611",
    "900dc26757c9",
    "288c3f02607a",
    "51c938442fcf",
    "9166fe6e6f8a",
    "d9ce41901611",
    "900dc26757c9",
    "288c3f02607a",
    "51c938442fcf",
    "9166fe6e6f8a",
    "d9ce41901611",
    "900dc26757c9",
    "288c3f02607a",
    "51c938442fcf",
    "9166fe6e6f8a",
    "d9ce41901611",
    "900dc26757c9",
  ],
  "legacy grids": [
    "8be61a5f07e9",
    "1c45adae724e",
    "f0e9e5e51cc6",
    "4d05645c13d0",
    "8be61a5f07e9",
    "1c45adae724e",
    "f0e9e5e51cc6",
    "4d05645c13d0",
  ],
  surfaces: ["93461a48a95a", "8818a7535977", "b674e0b19d86", "53521c59ce22", "e05c57465eb6"],
  collections: ["018d9913f627", "no other file", "no other file"],
};

const digest = (value: unknown): string => {
  const text = JSON.stringify(value, (_, v: unknown) =>
    ArrayBuffer.isView(v) ? Array.from(v as Float64Array, String) : typeof v === "number" ? String(v) : v,
  );
  return createHash("sha256").update(text).digest("hex").slice(0, 12);
};
const source = (bytes: Uint8Array) => bufferSource("file", bytes);
const siblings = {
  open: (): never => {
    throw new Error("no other file");
  },
};

function mesh(bytes: Uint8Array): unknown {
  const file = openMesh(source(bytes), siblings);
  if (file.format === "collection") return file;
  return (file as MeshFile).grids.map((g) => ({
    block: g.block,
    points: g.readPoints(),
    cells: g.readCells(),
    dimension: g.dimension(),
    notes: [...(g.notes ?? []), ...(g.remarks ?? [])],
    fields: g.fields.map((f) => [f.name, f.on, f.components, g.readField(f.on, f.name)]),
    some: g.fields.map((f) => g.readSome(f.on, f.name, [0])),
  }));
}

const readers: Readonly<Record<string, [readonly Uint8Array[], (bytes: Uint8Array) => unknown]>> = {
  // Which columns there are shows in the table.
  "text tables": [textSeeds, (b) => ({ ...readTextTable(source(b)), available: undefined })],
  lines: [lineSeeds, (b) => readLines(source(b), ["t {t:s} s | it {n} | dT {dT}"].map(compilePattern))],
  "open XML grids": [xmlSeeds, mesh],
  "legacy grids": [legacySeeds, mesh],
  surfaces: [surfaceSeeds, mesh],
};

describe("readers give what they gave", () => {
  it.each(Object.entries(readers))("%s", (name, [seeds, read]) => {
    expect([name, seeds.map((s) => digest(read(s)))]).toEqual([name, golden[name]]);
  });
  it("the steps of a collection", () => {
    const steps = collectionSeeds.flatMap((s) => {
      try {
        return [digest(mesh(s))];
      } catch (e) {
        return [(e as Error).message];
      }
    });
    expect(steps).toEqual(golden["collections"]);
  });
});
