import type { Site } from "@oxtrum/core/sampling";
import { column, convert, numbers, type Table, type UnitSymbol } from "@oxtrum/core/tables";
import { Mistake } from "./values.js";

/** Which columns of a table say where places are, and what they are called. */
export interface PlaceColumns {
  readonly x: string;
  readonly y: string;
  readonly z: string;
  readonly name?: string | undefined;
}

/**
 * The rows of a table as places, in the mesh's unit of length where both say theirs. Names come from the column that is
 * named, else from the first column of words.
 *
 * @throws Mistake for a missing coordinate, with its row
 */
export function placesOfTable(table: Table, columns: PlaceColumns, length: UnitSymbol): Site {
  const xyz = (["x", "y", "z"] as const).map((d) => {
    const c = numbers(table, columns[d]);
    const change = c.unit !== null && length !== null && c.unit !== length;
    return Array.from(c.values, (v) => (change ? convert(v, c.unit!, length) : v));
  });
  const places = Array.from({ length: table.rows }, (_, i): [number, number, number] => {
    const p = [xyz[0]![i]!, xyz[1]![i]!, xyz[2]![i]!] as [number, number, number];
    if (!p.every(Number.isFinite))
      throw new Mistake(`row ${i + 1} of the places has a coordinate that is not a number`);
    return p;
  });
  if (places.length === 0) throw new Mistake("the table of places has no rows");
  const words = columns.name === undefined ? table.columns.find((c) => c.kind === "text") : column(table, columns.name);
  const names =
    words === undefined ? undefined : words.kind === "text" ? [...words.values] : Array.from(words.values, String);
  return { kind: "points", places, ...(names && { names }) };
}
