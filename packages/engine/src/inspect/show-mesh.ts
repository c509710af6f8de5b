import path from "node:path";
import { distinctPoints, FormatError, meshFormatOf, openFile } from "@oxtrum/core/formats";
import { boundsOf, countCellTypes } from "@oxtrum/core/mesh";
import { blockSummaries, componentNames, type Block, type NamedField } from "@oxtrum/core/sampling";
import { fieldLayout } from "../read/field-layout.js";
import { fieldSource } from "../read/read-fields.js";
import { inside } from "../definition/folders.js";

/** A field's range: one number, or one a component and that of the magnitude. */
interface ShownField {
  readonly name: string;
  readonly on: "point" | "cell";
  readonly components: number;
  readonly type: string;
  readonly unit: string | null;
  readonly min: number | number[] | null;
  readonly max: number | number[] | null;
  readonly magnitude?: readonly [number, number];
}

/** What is in a mesh file, or in the first step of a collection. */
export interface ShownMesh {
  readonly kind: "field";
  readonly points: number;
  readonly cells: number;
  readonly cellTypes: Record<string, number>;
  readonly bounds: readonly number[];
  readonly times: readonly number[];
  readonly fields: readonly ShownField[];
  readonly patches: readonly { name: string; faces: number; area: number | null }[];
  readonly blocks: readonly { name: string; cells: number; volume: number | null }[];
}

/** Whether a file is a mesh file, by its first bytes. */
export function isMesh(file: string): boolean {
  const source = openFile(file);
  try {
    return meshFormatOf(source) !== undefined;
  } finally {
    source.close();
  }
}

/**
 * Tells what a mesh file holds.
 *
 * @param deep read all values, for ranges, areas and volumes
 * @throws FormatError
 */
export function showMesh(file: string, deep: boolean): ShownMesh {
  const folder = path.dirname(path.resolve(file));
  const locate = (relative: string): string => {
    try {
      return inside(folder, relative);
    } catch {
      throw new FormatError(file, `it names ${relative}, which lies outside its folder`);
    }
  };
  const layout = fieldLayout(path.basename(file), locate);
  const source = fieldSource(layout, locate, {}, {});
  return source.withStep(0, [], ({ blocks, fields }) => {
    const types: Record<string, number> = {};
    const boxes: number[][] = [];
    for (const b of blocks) {
      for (const [name, n] of Object.entries(countCellTypes(b.mesh.types))) types[name] = (types[name] ?? 0) + n;
      if (b.mesh.pointCount > 0) boxes.push(boundsOf(b.mesh.points));
    }
    const real = (v: number): number | null => (Number.isNaN(v) ? null : v);
    const named = blockSummaries(blocks).filter((b) => b.name !== "");
    return {
      kind: "field",
      points: distinctPoints(blocks.map((b) => b.grid)),
      cells: blocks.reduce((n, b) => n + b.grid.cells, 0),
      cellTypes: types,
      bounds:
        boxes.length === 0
          ? []
          : boxes[0]!.map((_, k) =>
              boxes.reduce(
                (m, x) => (k % 2 === 0 ? Math.min(m, x[k]!) : Math.max(m, x[k]!)),
                k % 2 === 0 ? Infinity : -Infinity,
              ),
            ),
      times: layout.steps.flatMap((s) => (s.at === undefined ? [] : [s.at])),
      fields: fields.map((f) => shownField(f, blocks, deep)),
      patches: named
        .filter((b) => b.dimension === 2)
        .map((b) => ({ name: b.name, faces: b.cells, area: deep ? real(b.sizes().area) : null })),
      blocks: named
        .filter((b) => b.dimension === 3)
        .map((b) => ({ name: b.name, cells: b.cells, volume: deep ? real(b.sizes().volume) : null })),
    };
  });
}

function shownField(f: NamedField, blocks: readonly Block[], deep: boolean): ShownField {
  const type = blocks.flatMap((b) => b.grid.fields).find((x) => x.name === f.stored && x.on === f.on)!.type;
  const head = { name: f.name, on: f.on, components: f.components, type, unit: f.unit };
  if (!deep) return { ...head, min: null, max: null };
  const n = f.components;
  const low = Array<number>(n).fill(Infinity);
  const high = Array<number>(n).fill(-Infinity);
  const size: [number, number] = [Infinity, -Infinity];
  for (const b of blocks) {
    if (!b.has(f)) continue;
    const values = b.grid.readField(f.on, f.stored);
    for (let i = 0; i < values.length; i += n) {
      let sum = 0;
      for (let k = 0; k < n; k++) {
        const v = values[i + k]!;
        // Neither missing values nor overflows are a range.
        if (v < low[k]! && Number.isFinite(v)) low[k] = v;
        if (v > high[k]! && Number.isFinite(v)) high[k] = v;
        sum += v * v;
      }
      const m = Math.sqrt(sum);
      if (m < size[0] && Number.isFinite(m)) size[0] = m;
      if (m > size[1] && Number.isFinite(m)) size[1] = m;
    }
  }
  const real = (list: number[]): number | number[] | null =>
    list.every(Number.isFinite) ? (n === 1 ? list[0]! : list) : null;
  return { ...head, min: real(low), max: real(high), ...(n === 3 && Number.isFinite(size[0]) && { magnitude: size }) };
}

/** The names of a field's components, for printing. */
export const shownComponents = (f: { name: string; components: number }): string[] =>
  componentNames(f.name, f.components);
