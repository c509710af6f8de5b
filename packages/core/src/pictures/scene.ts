import { viewPart } from "../sampling/view.js";
import { numbers, TableError, type Table } from "../tables/table.js";
import type { Scene } from "./description.js";

/** The scene of a view's table. @throws TableError for a table that is none */
export function sceneOf(view: Table): Scene {
  if (!["part", "x", "y", "z", "value"].every((n) => view.columns.some((c) => c.name === n)))
    throw new TableError("a picture draws what field.surface(…) gives, not another table");
  const [part, x, y, z, value] = ["part", "x", "y", "z", "value"].map((n) => numbers(view, n).values) as [
    Float64Array,
    Float64Array,
    Float64Array,
    Float64Array,
    Float64Array,
  ];
  const places = (want: number): Float64Array => {
    let n = 0;
    for (const p of part) if (p === want) n++;
    const out = new Float64Array(3 * n);
    let at = 0;
    for (let k = 0; k < part.length; k++)
      if (part[k] === want) {
        out[at++] = x[k]!;
        out[at++] = y[k]!;
        out[at++] = z[k]!;
      }
    return out;
  };
  const vectors = view.columns.some((c) => c.name === "ux");
  return {
    triangles: places(viewPart.triangle),
    values: value.filter((_, k) => part[k] === viewPart.triangle),
    edges: places(viewPart.edge),
    rim: places(viewPart.rim),
    ...(vectors && { grid: gridOf(view, part, places(viewPart.grid)) }),
  };
}

function gridOf(view: Table, part: Float64Array, places: Float64Array): Scene["grid"] {
  const pick = (name: string): Float64Array => numbers(view, name).values.filter((_, k) => part[k] === viewPart.grid);
  const [ux, uy, uz, i, j] = ["ux", "uy", "uz", "i", "j"].map(pick) as [
    Float64Array,
    Float64Array,
    Float64Array,
    Float64Array,
    Float64Array,
  ];
  if (ux.length === 0) return undefined;
  const vectors = new Float64Array(3 * ux.length);
  for (let k = 0; k < ux.length; k++) vectors.set([ux[k]!, uy[k]!, uz[k]!], 3 * k);
  return { nx: i[i.length - 1]! + 1, ny: j[j.length - 1]! + 1, places, vectors };
}
