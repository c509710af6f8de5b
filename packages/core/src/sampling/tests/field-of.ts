import { memoryGrid } from "../../formats/surfaces/surface-grid.js";
import type { FieldHead } from "../../formats/mesh-data.js";
import type { Mesh } from "../../mesh/mesh.js";
import type { FieldAtTime } from "../columns.js";
import { Block } from "../field-set.js";
import { unifiedFields } from "../unified-fields.js";

type Rule = (x: number, y: number, z: number) => number | number[];

/** A field on a mesh whose values follow from the place: `on` says where they are held. */
export function fieldOf(
  mesh: Mesh,
  rules: Readonly<Record<string, Rule>>,
  on: "point" | "cell" = "point",
): FieldAtTime {
  const places =
    on === "point"
      ? Array.from({ length: mesh.pointCount }, (_, i) => Array.from(mesh.points.subarray(3 * i, 3 * i + 3)))
      : Array.from({ length: mesh.cellCount }, (_, c) => {
          const nodes = Array.from(mesh.nodes.subarray(mesh.offsets[c]!, mesh.offsets[c + 1]!));
          return [0, 1, 2].map((d) => nodes.reduce((s, v) => s + mesh.points[3 * v + d]! / nodes.length, 0));
        });
  const fields = Object.entries(rules).map(([name, rule]): FieldHead & { values: Float64Array } => {
    const values = places.map((p) => rule(p[0]!, p[1]!, p[2]!));
    const components = Array.isArray(values[0]) ? values[0].length : 1;
    return { name, on, components, type: "float64", values: Float64Array.from(values.flat()) };
  });
  const blocks = [new Block(memoryGrid("", mesh.points, mesh, fields), "mesh")];
  const { fields: named } = unifiedFields(
    blocks.map((b) => b.grid),
    {},
    (_, own) => own,
  );
  return { file: "mesh", blocks, fields: named, lengthUnit: "m", derived: [] };
}
