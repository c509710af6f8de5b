import { cellsToPoints, pointsToCells } from "../mesh/transfer.js";
import { makeTable, numberColumn, TableError, type Table } from "../tables/table.js";
import { componentOf } from "./at-places.js";
import { completed, coordinates, type FieldAtTime, type Wanted } from "./columns.js";
import { blocksNamed } from "./field-set.js";
import type { Site } from "./sites.js";

/**
 * Values at points or in cells by their numbers in the file. A field of the other kind is carried over: of cells to a
 * point by the volumes around it, of points to a cell by their mean.
 */
export function sampleNumbered(
  f: FieldAtTime,
  site: Extract<Site, { kind: "nodes" | "cells" }>,
  wanted: Wanted,
): Table {
  const [block] = site.block === undefined ? f.blocks : blocksNamed(f.blocks, site.block, f.file);
  if (!block) throw new TableError("this field has no mesh");
  const { mesh } = block;
  const of = site.kind === "nodes" ? "point" : "cell";
  const count = of === "point" ? mesh.pointCount : mesh.cellCount;
  // A mesh that only shows what will be there holds no numbers yet.
  const shown = count > 1 || site.ids.every((i) => i < count) ? site.ids : [];
  for (const i of shown)
    if (!(i < count)) throw new TableError(`there is no ${of} ${i}: they are numbered from 0 to ${count - 1}`);
  const notes = new Set<string>();
  const columns = wanted.asked.map((a) => {
    const values = new Float64Array(shown.length).fill(Number.NaN);
    if (!block.has(a.field)) return numberColumn(a.column, a.field.unit, values);
    const { on, stored, components } = a.field;
    const part =
      on === of
        ? componentOf(block.grid.readSome(on, stored, shown), components, a.component)
        : componentOf(
            (of === "cell" ? pointsToCells : cellsToPoints)(mesh, block.values(on, stored), components),
            components,
            a.component,
          );
    if (on !== of) notes.add(of === "cell" ? "fields at points: mean over the cell's points" : "fields in cells: mean of the cells around the point, weighted by size"); // prettier-ignore
    shown.forEach((id, k) => (values[k] = part[on === of ? k : id]!));
    return numberColumn(a.column, a.field.unit, values);
  });
  const places = of === "point" ? mesh.points : pointsToCells(mesh, mesh.points, 3);
  const all = new Float64Array(3 * shown.length);
  shown.forEach((id, k) => all.set(places.subarray(3 * id, 3 * id + 3), 3 * k));
  const made = completed([...coordinates(all, f.lengthUnit), ...columns], wanted, undefined);
  return makeTable(
    [
      numberColumn(of, "1", Float64Array.from(shown)),
      ...made.filter((c) => ["x", "y", "z", ...wanted.shown].includes(c.name)),
    ],
    { notes: [...notes].sort() },
  );
}
