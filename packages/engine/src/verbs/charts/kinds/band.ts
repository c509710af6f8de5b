import { z } from "zod";
import type { Series } from "@oxtrum/core/charts";
import type { Column, Table } from "@oxtrum/core/tables";
import * as t from "@oxtrum/core/tables";
import type { AxesFrame } from "../axes-frame.js";
import { many, type LayerOptions } from "../layer-options.js";
import { layerKind } from "../layer-kind.js";
import { labelOf } from "../series.js";

const own = { along: z.string().optional(), show: z.array(z.string()).optional() };
type BandOptions = LayerOptions & { readonly along?: string | undefined; readonly show?: string[] | undefined };

/** The mean less and plus the standard deviation, in the unit of the axis. */
function aroundMean(table: Table, name: string, frame: AxesFrame): [low: Float64Array, high: Float64Array] {
  const mean = frame.values("left", t.column(table, `${name}.mean`));
  const std = t.numbers(table, `${name}.std`);
  // A spread of temperatures is in K: in steps of the axis it has another size.
  const own = frame.left!.unit;
  const scale = own === null || std.unit === null ? 1 : t.stepScale(std.unit, own);
  return [mean.map((v, i) => v - std.values[i]! * scale), mean.map((v, i) => v + std.values[i]! * scale)];
}

/** A band: edges, the middle line and others of a table of statistics across runs. */
function bandSeries(table: Table, o: BandOptions, frame: AxesFrame, offset: number): Series[] {
  const along = o.x ?? o.along ?? t.axisOf(table).name;
  const means = table.columns.filter((c) => c.name.endsWith(".mean")).map((c) => c.name.replace(/\.mean$/, ""));
  const names = many(o.y).length > 0 ? many(o.y) : means.slice(0, 1);
  return names.flatMap((name, j) => {
    const show = o.show ?? ["mean", "min", "max"];
    const get = (suffix: string): Column => t.column(table, `${name}.${suffix}`);
    const x = frame.values("x", t.column(table, along));
    const edges = show.filter((s) => s !== "mean" && s !== "p50" && s !== "std");
    const color = { palette: offset + j };
    const model = get(show[0] ?? "mean");
    const what = labelOf(model).replace(/, \w+$/, "");
    const several = names.length > 1 ? `${what} ` : "";
    const out: Series[] = [];
    frame.draws("left", what);
    frame.left ??= {
      title: what,
      unit: model.kind === "number" ? model.unit : null,
    };
    const band = (which: string, legend: string, y: Float64Array, high: Float64Array): void =>
      void out.push({
        kind: "band",
        name: `${name} ${which}`,
        legend: several + legend,
        quantity: name,
        x,
        y,
        high,
        color,
      });
    if (show.includes("std")) band("± std", "mean ± std", ...aroundMean(table, name, frame));
    for (let k = 0; k + 1 < edges.length; k += 2)
      band(
        `${edges[k]} to ${edges[k + 1]}`,
        `${edges[k]} to ${edges[k + 1]}`,
        frame.values("left", get(edges[k]!)),
        frame.values("left", get(edges[k + 1]!)),
      );
    for (const s of show.filter((v) => v === "mean" || v === "p50"))
      out.push({
        kind: "lines",
        name: `${name} ${s}`,
        legend: several + (o.name ?? s),
        quantity: name,
        x,
        y: frame.values("left", get(s)),
        color,
        dash: 0,
      });
    return out;
  });
}

export const bandLayer = layerKind({
  name: "band",
  doc: "A band from `across`: edges and the line between.",
  examples: ['chart.band(across(air, { on: "time" }), { y: "T_mean", show: ["mean", "min", "max"] })'],
  takes: "tables",
  options:
    "ChartOptions & { y?: string | string[]; along?: Name<C>; show?: string[]; swapAxes?: boolean; name?: string }",
  own,
  named: undefined,
  layer: (members, o, frame, offset) => ({ series: members.flatMap((m) => bandSeries(m.table, o, frame, offset)) }),
});
