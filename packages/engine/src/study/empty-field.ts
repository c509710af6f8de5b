import { memoryGrid } from "@oxtrum/core/formats";
import { Block } from "@oxtrum/core/sampling";
import type { FieldSource } from "../operations/field-verbs.js";
import { declaredUnit } from "./catalogue.js";
import type { FieldShape } from "./field-catalogue.js";

/** A field of one empty cell that looks as a run's field does: what comes out of it has the right names and units. */
export function emptyField(
  shape: FieldShape,
  steps: readonly number[],
  units: Readonly<Record<string, string>>,
): FieldSource {
  const heads = shape.fields.map((f) => ({ name: f.stored, on: f.on, components: f.components, type: "float64" as const, values: new Float64Array(f.components) })); // prettier-ignore
  // One cell of no size, all of whose corners are the same point: it holds no place and no plane cuts it.
  const corners = shape.dimension + 1;
  const type = [1, 3, 5, 10][shape.dimension]!;
  const cells = { types: Uint8Array.of(type), offsets: Int32Array.of(0, corners), nodes: new Int32Array(corners) };
  const blocks = (shape.blocks.length > 0 ? shape.blocks : [""]).map((b) => new Block(memoryGrid(b, new Float64Array(3), cells, heads), "")); // prettier-ignore
  const lengthUnit = declaredUnit("x", null, units);
  return {
    axis: shape.axis,
    lengthUnit,
    unit: shape.axis === "step" ? "1" : declaredUnit("time", null, units),
    steps,
    withStep: (_, derived, use) => use({ file: "", blocks, fields: shape.fields, lengthUnit, derived }),
  };
}
