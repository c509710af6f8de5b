import { z } from "zod";
import type { Series } from "@oxtrum/core/charts";
import { edgesOf, histogram } from "@oxtrum/core/statistics";
import * as t from "@oxtrum/core/tables";
import { boundArg, boundIn, type Bound } from "../../arguments.js";
import { Mistake } from "../../values.js";
import type { AxesFrame } from "../axes-frame.js";
import { many, type LayerOptions } from "../layer-options.js";
import { layerKind } from "../layer-kind.js";
import { colorsBy, sayParameter, type Member } from "../members.js";
import { notCounted } from "../not-drawn.js";

type BinOptions = LayerOptions & { readonly count?: number | undefined; readonly width?: Bound | undefined };

/** How often values lie where, as touching bars: one series, or one for each value of the colour's parameter. */
function histogramSeries(members: readonly Member[], o: BinOptions, frame: AxesFrame, offset: number): Series[] {
  const name = many(o.y)[0] ?? o.x;
  if (name === undefined) throw new Mistake("chart.histogram needs x: the column whose values are counted");
  const columns = members.map((m) => t.numbers(m.table, name));
  const values = columns.map((c) => frame.values("x", c));
  frame.left ??= { title: "count", unit: "1" };
  const all = Float64Array.from(values.flatMap((v) => Array.from(v)).filter((v) => Number.isFinite(v))).sort();
  const width = o.width === undefined ? undefined : boundIn(o.width, frame.x?.unit ?? null, "width", true);
  // All groups are counted in the same bins.
  const { edges } = edgesOf(all, { count: o.count, width });
  const groups = new Map<string, { legend: string; values: number[]; color: Series["color"] }>();
  const colorOf = colorsBy(members, o.color, offset, o.colors);
  members.forEach((m, k) => {
    const legend = o.color === undefined ? (o.name ?? name) : sayParameter(m, o.color);
    let g = groups.get(legend);
    if (!g)
      groups.set(
        legend,
        (g = { legend, values: [], color: o.color === undefined ? { palette: offset } : colorOf(m, k) }),
      );
    for (const v of values[k]!) g.values.push(v);
  });
  return [...groups.values()].map((g): Series => {
    if (edges.length < 2)
      return {
        kind: "bars",
        touching: true,
        name: g.legend,
        legend: g.legend,
        x: new Float64Array(0),
        y: new Float64Array(0),
        color: g.color,
      };
    const h = histogram(t.makeTable([t.numberColumn("v", null, g.values)]), "v", { edges });
    return {
      kind: "bars",
      touching: true,
      name: g.legend,
      legend: g.legend,
      x: t.numbers(h, "v").values,
      y: t.numbers(h, "count").values,
      color: g.color,
      ...(groups.size > 1 && { stack: "count" }),
    };
  });
}

export const histogramLayer = layerKind({
  name: "histogram",
  doc: "How often values lie where, in common bins; without a choice of the width by Freedman and Diaconis.",
  examples: ['chart.histogram(t, { x: "T_mean", count: 20 })'],
  takes: "runs and tables",
  options: "ChartOptions & { x: NumberName<C>; count?: number; width?: Amount; color?: {by} }",
  needsOptions: true,
  own: { count: z.number().optional(), width: boundArg.optional() },
  amounts: ["width"],
  named: ["x"],
  layer: (members, o, frame, offset) => ({ series: histogramSeries(members, o, frame, offset) }),
  leftOut: (members, o) =>
    notCounted(
      members,
      [many(o.y)[0] ?? o.x].filter((n) => n !== undefined),
    ),
});
