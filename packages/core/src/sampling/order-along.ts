import { numberColumn, TableError, type Table, type UnitSymbol } from "../tables/table.js";
import { sortBy } from "../tables/order.js";
import type { Axis, Place } from "./places.js";

/** Over what the rows of places run: a coordinate, the distance from a place, or the distance along a direction. */
export type DistanceAxis =
  | Axis
  | { readonly from: Place }
  | { readonly direction: Place; readonly from?: Place | undefined };

/**
 * Rows of places in the order of another axis than the distance from the start. Of places at equal distance the order
 * stays as it was.
 */
export function orderedAlong(table: Table, axis: DistanceAxis, unit: UnitSymbol): Table {
  const of = (name: string): Float64Array => table.columns.find((c) => c.name === name)!.values as Float64Array;
  const [x, y, z] = [of("x"), of("y"), of("z")];
  let values: Float64Array;
  if (typeof axis === "string") values = of(axis);
  else if ("direction" in axis) {
    const [a, b, c] = axis.direction;
    const length = Math.hypot(a, b, c);
    if (!(length > 0)) throw new TableError("the direction of an axis may not be zero");
    const o = axis.from ?? [x[0] ?? 0, y[0] ?? 0, z[0] ?? 0];
    values = Float64Array.from(x, (_, i) => ((x[i]! - o[0]) * a + (y[i]! - o[1]) * b + (z[i]! - o[2]) * c) / length);
  } else {
    const o = axis.from;
    values = Float64Array.from(x, (_, i) => Math.hypot(x[i]! - o[0], y[i]! - o[1], z[i]! - o[2]));
  }
  const name = typeof axis === "string" ? axis : "distance";
  const columns =
    typeof axis === "string"
      ? table.columns
      : [numberColumn("distance", unit, values), ...table.columns.filter((c) => c.name !== "distance")];
  return { ...sortBy({ ...table, columns }, name), axis: name };
}
