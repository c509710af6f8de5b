import { dimensionOf, uniformCells, vtkCell } from "../cell-building.js";
import { someTuples, type CellArrays, type FieldHead, type Grid } from "../mesh-data.js";
import { FormatError } from "../source.js";

/** A grid of loose triangles: nine coordinates each; corners at exactly the same place become one point. */
export function surfaceGrid(block: string, corners: Float64Array): Grid {
  const index = new Map<string, number>();
  const points: number[] = [];
  const nodes = new Int32Array(corners.length / 3);
  for (let i = 0; i < nodes.length; i++) {
    const [x, y, z] = [corners[3 * i]!, corners[3 * i + 1]!, corners[3 * i + 2]!];
    const key = `${x} ${y} ${z}`;
    let p = index.get(key);
    if (p === undefined) {
      p = points.length / 3;
      points.push(x, y, z);
      index.set(key, p);
    }
    nodes[i] = p;
  }
  return memoryGrid(block, Float64Array.from(points), uniformCells(vtkCell.triangle, 3, nodes), []);
}

/** A grid whose arrays are all in memory. */
export function memoryGrid(
  block: string,
  points: Float64Array,
  cells: CellArrays,
  fields: readonly (FieldHead & { readonly values: Float64Array })[],
  notes: readonly string[] = [],
): Grid {
  const find = (on: string, name: string): FieldHead & { readonly values: Float64Array } => {
    const f = fields.find((x) => x.on === on && x.name === name);
    if (!f)
      throw new FormatError(
        block,
        `there is no ${on} field "${name}"; there is ${fields.map((x) => `"${x.name}"`).join(", ") || "none"}`,
      );
    return f;
  };
  return {
    block,
    points: points.length / 3,
    cells: cells.types.length,
    fields: fields.map(({ values: _, ...head }) => head),
    dimension: () => dimensionOf(cells.types),
    ...(notes.length > 0 && { notes }),
    readPoints: () => points,
    readCells: () => cells,
    readField: (on, name) => find(on, name).values,
    readSome: (on, name, indices) => {
      const { values, components: n } = find(on, name);
      return someTuples(values, indices, n);
    },
    digestOf: (hash) => {
      for (const a of [points, cells.types, cells.offsets, cells.nodes])
        hash(new Uint8Array(a.buffer, a.byteOffset, a.byteLength));
    },
  };
}
