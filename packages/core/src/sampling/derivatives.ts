import { someTuples, type FieldHead, type Grid } from "../formats/mesh-data.js";
import { cellGradients } from "../mesh/gradient.js";
import { NoSuchColumn, TableError, type UnitSymbol } from "../tables/table.js";
import { divideUnits, parseUnit, stepOf } from "../tables/units.js";
import type { FieldAtTime } from "./columns.js";
import { Block, type NamedField } from "./field-set.js";

/** A field made from another's change in space: a vector of a scalar, nine numbers of a vector; or parts of these. */
export interface Derivative {
  readonly name: string;
  readonly of: string;
  readonly kind: "gradient" | "divergence" | "curl";
}

/**
 * A field with derivatives of its own fields added, as cell fields. They are made when they are read.
 *
 * `gradient` of a scalar is a vector; of a vector it is nine numbers, `.xx` = ∂Ux/∂x, `.xy` = ∂Ux/∂y and so on.
 *
 * @throws NoSuchColumn for a field that is not there, TableError where a vector is needed
 */
export function withDerivatives(f: FieldAtTime, derivatives: readonly Derivative[]): FieldAtTime {
  let out = f;
  for (const d of derivatives) out = withOne(out, d);
  return out;
}

function withOne(f: FieldAtTime, d: Derivative): FieldAtTime {
  const source = f.fields.find((x) => x.name === d.of);
  if (!source)
    throw new NoSuchColumn(
      d.of,
      f.fields.map((x) => x.name),
    );
  const of = source.components;
  if (d.kind === "gradient" ? of !== 1 && of !== 3 : of !== 3)
    throw new TableError(
      `"${d.of}" has ${of} component${of === 1 ? "" : "s"}: a ${d.kind} needs ` +
        `${d.kind === "gradient" ? "a scalar or a vector" : "a vector"}`,
    );
  const components = d.kind === "gradient" ? 3 * of : d.kind === "curl" ? 3 : 1;
  const head: FieldHead = { name: d.name, on: "cell", components, type: "float64" };
  const field: NamedField = {
    name: d.name,
    stored: d.name,
    on: "cell",
    components,
    unit: perLength(stepOf(source.unit).unit, f.lengthUnit),
  };
  const blocks = f.blocks.map((b) =>
    b.has(source) ? new Block(derivedGrid(b, source, d.kind, head, stepOf(source.unit).factor), f.file, b.name) : b,
  );
  return { ...f, blocks, fields: [...f.fields.filter((x) => x.name !== d.name), field] };
}

function perLength(unit: UnitSymbol, length: UnitSymbol): UnitSymbol {
  if (unit === null || length === null) return null;
  return divideUnits(parseUnit(unit), parseUnit(length)).symbol;
}

function derivedGrid(
  block: Block,
  source: NamedField,
  kind: Derivative["kind"],
  head: FieldHead,
  factor: number,
): Grid {
  const { grid } = block;
  let made: Float64Array | undefined;
  const values = (): Float64Array => {
    if (made) return made;
    const on = block.locationOf(source)!;
    const g = cellGradients(block.mesh, on, block.values(on, source.stored), source.components);
    // A change of °C is one of K, one of °F five ninths.
    if (factor !== 1) for (let i = 0; i < g.length; i++) g[i]! *= factor;
    if (kind === "gradient") return (made = g);
    const n = block.mesh.cellCount;
    const out = new Float64Array(kind === "curl" ? 3 * n : n);
    for (let c = 0; c < n; c++) {
      const at = (i: number, k: number): number => g[9 * c + 3 * i + k]!;
      if (kind === "divergence") out[c] = at(0, 0) + at(1, 1) + at(2, 2);
      else out.set([at(2, 1) - at(1, 2), at(0, 2) - at(2, 0), at(1, 0) - at(0, 1)], 3 * c);
    }
    return (made = out);
  };
  const mine = (on: string, name: string): boolean => on === "cell" && name === head.name;
  return {
    block: grid.block,
    points: grid.points,
    cells: grid.cells,
    fields: [...grid.fields.filter((x) => !mine(x.on, x.name)), head],
    dimension: () => grid.dimension(),
    readPoints: () => grid.readPoints(),
    readCells: () => grid.readCells(),
    readField: (on, name) => (mine(on, name) ? values() : block.values(on, name)),
    readSome: (on, name, indices) =>
      mine(on, name) ? someTuples(values(), indices, head.components) : block.some(on, name, indices),
    readsParts: (on, name) => !mine(on, name) && (grid.readsParts?.(on, name) ?? false),
    ...(grid.readCorners && { readCorners: (cells) => grid.readCorners!(cells) }),
    ...(grid.cellNumbers && { cellNumbers: grid.cellNumbers }),
    ...(grid.remarks && { remarks: grid.remarks }),
    digestOf: (hash) => grid.digestOf(hash),
  };
}
