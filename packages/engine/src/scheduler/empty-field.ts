import { memoryGrid, type CellArrays } from "@oxtrum/core/formats";
import { Block } from "@oxtrum/core/sampling";
import type { FieldSource } from "../verbs/field/index.js";
import { declaredUnit } from "../definition/declared-units.js";
import type { FieldShape } from "../definition/catalogue-model.js";

/** A field of one empty cell that looks as a run's field does: what comes out of it has the right names and units. */
export function emptyField(
  shape: FieldShape,
  steps: readonly number[],
  units: Readonly<Record<string, string>>,
): FieldSource {
  const heads = shape.fields
    .filter((f) => !f.exact || f.on === "cell")
    .map((f) => ({
      name: f.stored,
      on: f.on,
      components: f.components,
      type: "float64" as const,
      values: new Float64Array(f.components),
    }));
  // One cell of no size, all of whose corners are the same point: it holds no place and no plane cuts it.
  const cellsOf = (dimension: number): CellArrays => {
    const corners = dimension + 1;
    const types = Uint8Array.of([1, 3, 5, 10][dimension]!);
    return { types, offsets: Int32Array.of(0, corners), nodes: new Int32Array(corners) };
  };
  const named = shape.blocks.map((b, k) => [b, shape.dimensions[k]!] as const);
  // Unnamed blocks beside named ones have the field's dimension.
  const all = named.some(([, d]) => d === shape.dimension) ? named : [...named, ["", shape.dimension] as const];
  const blocks = all.map(([b, d]) => new Block(memoryGrid(b, new Float64Array(3), cellsOf(d), heads), ""));
  const fields = shape.fields.map((f) => ({
    ...f,
    unit: declaredUnit(f.name.replace(/@(?:point|cell)$/, ""), f.unit, units),
  }));
  const lengthUnit = declaredUnit("x", null, units);
  return {
    axis: shape.axis,
    lengthUnit,
    unit: shape.axis === "step" ? "1" : (shape.axisUnit ?? declaredUnit("time", null, units)),
    steps,
    withStep: (_, derived, use) => use({ file: "", blocks, fields, lengthUnit, derived }),
  };
}
