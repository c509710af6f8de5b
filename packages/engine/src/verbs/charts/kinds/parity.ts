import { z } from "zod";
import type { Series } from "@oxtrum/core/charts";
import { displayUnit, formatNumber } from "@oxtrum/core/tables";
import * as t from "@oxtrum/core/tables";
import { boundArg, boundIn, type Bound } from "../../arguments.js";
import { Mistake } from "../../values.js";
import type { AxesFrame } from "../axes-frame.js";
import { many, type LayerOptions } from "../layer-options.js";
import { layerKind } from "../layer-kind.js";
import type { Member } from "../members.js";
import { lineSeries } from "../series.js";

/** A tolerance as a share of the value and an amount, one of which is 0, and what it is called. */
function toleranceOf(
  within: Bound | string,
  unit: t.UnitSymbol | undefined,
): { share: number; amount: number; legend: string } {
  const percent =
    typeof within === "string"
      ? /^\s*([\d.]+)\s*%\s*$/.exec(within)?.[1]
      : typeof within === "object" && within.unit === "%"
        ? within.value
        : undefined;
  if (typeof within === "string" && percent === undefined)
    throw new Mistake(`chart.parity: within "${within}": use "10 %" or a quantity`);
  if (percent !== undefined) {
    const share = Number(percent) / 100;
    return { share, amount: 0, legend: `± ${formatNumber(share * 100)} %` };
  }
  const amount = boundIn(within as Bound, unit ?? null, "within", true);
  const step = t.stepOf(unit ?? "1");
  return { share: 0, amount, legend: `± ${formatNumber(amount * step.factor)} ${displayUnit(step.unit)}`.trim() };
}

/** Points of one column over another, with the line on which both are alike and, if asked, lines of a tolerance. */
function paritySeries(
  members: readonly Member[],
  o: LayerOptions & { readonly within?: Bound | string | undefined },
  frame: AxesFrame,
  offset: number,
): { series: Series[]; range: readonly [number, number] | undefined } {
  const name = many(o.y)[0];
  if (o.x === undefined || name === undefined)
    throw new Mistake("chart.parity needs x and y: two columns of the same quantity");
  const points = lineSeries("points", members, o, frame, offset);
  if (frame.x && frame.left && (frame.x.unit === null) !== (frame.left.unit === null))
    throw new Mistake(
      `chart.parity: the unit of "${frame.x.unit === null ? o.x : name}" is not known, and that of ` +
        `"${frame.x.unit === null ? name : o.x}" is; say it with .unit()`,
    );
  // Both axes in the unit of the first.
  if (frame.x && frame.left && frame.x.unit !== frame.left.unit && frame.x.unit !== null && frame.left.unit !== null) {
    const [from, to] = [frame.left.unit, frame.x.unit];
    points.forEach((s, k) => (points[k] = { ...s, y: t.convertValues(Float64Array.from(s.y), from, to) }));
    frame.left = { ...frame.left, unit: frame.x.unit };
  }
  let [low, high] = [Infinity, -Infinity];
  for (const s of points)
    for (const list of [s.x, s.y])
      for (let i = 0; i < list.length; i++) {
        if (!Number.isFinite(list[i])) continue;
        if (list[i]! < low) low = list[i]!;
        if (list[i]! > high) high = list[i]!;
      }
  if (!(low <= high)) return { series: points, range: undefined };
  const room = 0.05 * (high - low || Math.abs(high) || 1);
  const range = [low - room, high + room] as const;
  const n = 40;
  const x = Float64Array.from({ length: n + 1 }, (_, i) => range[0] + ((range[1] - range[0]) * i) / n);
  const line = (legend: string, y: Float64Array, dash: number): Series => ({
    kind: "lines",
    name: legend,
    legend,
    x,
    y,
    color: { palette: 7 },
    dash,
  });
  const series = [...points, line("y = x", x, 0)];
  if (o.within !== undefined) {
    const { share, amount, legend } = toleranceOf(o.within, frame.x?.unit);
    for (const sign of [1, -1])
      series.push(
        line(
          legend,
          x.map((v) => v + sign * (share * Math.abs(v) + amount)),
          2,
        ),
      );
  }
  return { series, range };
}

export const parityLayer = layerKind({
  name: "parity",
  doc: "One column over another of the same quantity, with the line on which both are alike and those of a tolerance.",
  examples: ['chart.parity(t, { x: "T_mean", y: "T_max", within: "1 K" })'],
  takes: "tables",
  options: "SeriesOptions<C, {by}> & { x: NumberName<C>; y: NumberName<C>; within?: Amount }",
  needsOptions: true,
  own: { within: z.union([boundArg, z.string()]).optional() },
  amounts: ["within"],
  layer: (members, o, frame, offset) => paritySeries(members, o, frame, offset),
});
