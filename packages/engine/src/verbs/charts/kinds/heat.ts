import { z } from "zod";
import type { HeatCells } from "@oxtrum/core/charts";
import * as t from "@oxtrum/core/tables";
import { Mistake } from "../../values.js";
import type { AxesFrame } from "../axes-frame.js";
import { many, type LayerOptions } from "../layer-options.js";
import { layerKind } from "../layer-kind.js";
import type { Member } from "../members.js";
import { xOf } from "../series.js";

/** Cells coloured by z over x and y, of a table with a row per cell. */
function heatCells(
  members: readonly Member[],
  o: LayerOptions & { readonly z?: string | undefined },
  frame: AxesFrame,
): HeatCells {
  const table = members[0]?.table ?? t.makeTable([]);
  const [yName, zName] = [many(o.y)[0], o.z];
  if (yName === undefined || zName === undefined)
    throw new Mistake("chart.heat needs x, y and z: two columns for the place of a cell, one for its colour");
  const z = t.numbers(table, zName);
  const xc = t.column(table, xOf(table, o));
  const yc = t.column(table, yName);
  const xs = frame.values("x", xc);
  const ys = yc.kind === "text" ? frame.words(yc) : frame.values("left", yc);
  const places = (values: Float64Array): Float64Array =>
    Float64Array.from(new Set(values.filter(Number.isFinite))).sort();
  const [x, y] = [places(xs), places(ys)];
  if (x.length * y.length > 4_000_000)
    throw new Mistake(`chart.heat: ${x.length} × ${y.length} cells; 4 million are the most`);
  const at = (list: Float64Array): Map<number, number> => new Map(Array.from(list, (v, i) => [v, i]));
  const [xi, yi] = [at(x), at(y)];
  const values = new Float64Array(x.length * y.length).fill(Number.NaN);
  const row = new Int32Array(values.length).fill(-1);
  for (let i = 0; i < table.rows; i++) {
    const [a, b] = [xi.get(xs[i]!), yi.get(ys[i]!)];
    if (a === undefined || b === undefined) continue;
    const k = b * x.length + a;
    if (row[k]! >= 0)
      throw new Mistake(
        `chart.heat: rows ${row[k]! + 1} and ${i + 1} are for the same cell; group them first, e.g. with .groupBy()`,
      );
    row[k] = i;
    values[k] = z.values[i]!;
  }
  let [min, max] = [Infinity, -Infinity];
  for (const v of values) {
    if (!Number.isFinite(v)) continue;
    if (v < min) min = v;
    if (v > max) max = v;
  }
  if (!(min <= max)) [min, max] = [0, 1];
  return { x, y, values, title: z.label ?? z.name, unit: z.unit, min, max };
}

/** Rows whose cell has no place, as one of its coordinates is missing. */
function withoutPlace(table: t.Table | undefined, names: readonly (string | undefined)[]): t.Condition[] {
  const columns = table?.columns.filter((c) => names.includes(c.name) && c.kind === "number") ?? [];
  const isLost = (i: number): boolean => columns.some((c) => !Number.isFinite(c.values[i] as number));
  const lost = Array.from({ length: table?.rows ?? 0 }, (_, i) => i).filter(isLost).length;
  const text = `${lost} of ${table?.rows} rows ${lost === 1 ? "has" : "have"} no place in the map: a missing coordinate`;
  return lost === 0 ? [] : [{ kind: "not drawn", file: "", text }];
}

export const heatLayer = layerKind({
  name: "heat",
  doc: "Cells coloured by `z`, a row of the table a cell.",
  examples: ['chart.heat(peaks.groupBy(["fan", "open"], { show: ["mean"] }), { x: "fan", y: "open", z: "peak.mean" })'],
  takes: "tables",
  options: "ChartOptions & { x: Name<C>; y: Name<C>; z: NumberName<C> }",
  needsOptions: true,
  own: { z: z.string().optional() },
  columns: ["z"],
  layer: (members, o, frame) => ({ heat: heatCells(members, o, frame) }),
  leftOut: (members, o) => withoutPlace(members[0]?.table, [o.x, many(o.y)[0]]),
});
