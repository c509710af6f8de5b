import { cellsToPoints, pointsToCells } from "../mesh/transfer.js";
import type { Grid } from "../formats/mesh-data.js";
import { listNames, makeTable, numberColumn, TableError, type Table } from "../tables/table.js";
import { componentOf } from "./at-places.js";
import { completed, coordinates, type FieldAtTime, type Wanted } from "./columns.js";
import { blocksNamed } from "./field-set.js";

/**
 * Values at points or in cells by their numbers in the file. A field of the other kind is carried over: of cells to a
 * point by the volumes around it, of points to a cell by their mean.
 */
export function sampleNumbered(
  f: FieldAtTime,
  site: { readonly ids: readonly number[]; readonly block?: string | undefined },
  of: "point" | "cell",
  wanted: Wanted,
): Table {
  const found = site.block === undefined ? f.blocks : blocksNamed(f.blocks, site.block, f.file);
  const [block] = found;
  if (!block) throw new TableError("this field has no mesh");
  const named = found.map((b) => b.name).filter((n) => n !== "");
  if (found.length > 1 && named.length > 0)
    throw new TableError(
      `${found.length} blocks number their ${of}s each from 0: say which block, as in { block: ` +
        `"${named[0]}" }; there is ${listNames(named)}`,
    );
  const { mesh } = block;
  const numbers = of === "cell" ? block.grid.cellNumbers : undefined;
  const count = of === "point" ? mesh.pointCount : numbers ? numbers[numbers.length - 1]! + 1 : mesh.cellCount;
  // A mesh that only shows what will be there holds no numbers yet.
  const shown = count > 1 || site.ids.every((i) => i < count) ? site.ids : [];
  for (const i of shown)
    if (!(i < count)) throw new TableError(`there is no ${of} ${i}: they are numbered from 0 to ${count - 1}`);
  const notes = new Set<string>();
  if (found.length > 1)
    notes.add(`${found.length} pieces number their ${of}s each from 0: those of the first are taken`);
  const rows = shown.map((id) => rowOf(block.grid, of, id));
  const columns = wanted.asked.map((a) => {
    const values = new Float64Array(shown.length).fill(Number.NaN);
    const on = block.locationOf(a.field);
    if (on === undefined) return numberColumn(a.column, a.field.unit, values);
    const { stored, components } = a.field;
    const part =
      on === of
        ? componentOf(block.some(on, stored, rows), components, a.component)
        : componentOf(
            (of === "cell" ? pointsToCells : cellsToPoints)(mesh, block.values(on, stored), components),
            components,
            a.component,
          );
    if (on !== of)
      notes.add(
        of === "cell"
          ? "fields at points: mean over the cell's points"
          : "fields in cells: mean of the cells around the point, weighted by size",
      );
    rows.forEach((row, k) => (values[k] = part[on === of ? k : row]!));
    return numberColumn(a.column, a.field.unit, values);
  });
  const places = of === "point" ? mesh.points : pointsToCells(mesh, mesh.points, 3);
  const all = new Float64Array(3 * shown.length);
  rows.forEach((row, k) => all.set(places.subarray(3 * row, 3 * row + 3), 3 * k));
  const made = completed([...coordinates(all, f.lengthUnit), ...columns], wanted, undefined);
  return makeTable(
    [
      numberColumn(of, "1", Float64Array.from(shown)),
      ...made.filter((c) => ["x", "y", "z", ...wanted.shown].includes(c.name)),
    ],
    { notes: [...notes].sort() },
  );
}

/** Where a point or cell of the file stands among those that are kept. @throws TableError for a ghost cell */
function rowOf(grid: Grid, of: "point" | "cell", id: number): number {
  if (of === "point" || !grid.cellNumbers) return id;
  const row = grid.cellNumbers.indexOf(id);
  if (row < 0)
    throw new TableError(`cell ${id} is a ghost cell (duplicate, refined or hidden): it has no value of its own`);
  return row;
}
