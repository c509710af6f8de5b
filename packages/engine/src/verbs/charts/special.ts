import type { PointNote, Series } from "@oxtrum/core/charts";
import { displayUnit, formatNumber } from "@oxtrum/core/tables";
import * as t from "@oxtrum/core/tables";
import { boundIn, type Bound } from "../arguments.js";
import { Mistake } from "../values.js";
import type { AxesFrame } from "./axes-frame.js";
import type { LayerOptions } from "./chart-arguments.js";
import type { Member } from "./members.js";
import { lineSeries, many, xOf } from "./series.js";

/** Points of one column over another, with the line on which both are alike and, if asked, lines of a tolerance. */
export function paritySeries(
  members: readonly Member[],
  o: LayerOptions,
  frame: AxesFrame,
  offset: number,
): { series: Series[]; range: readonly [number, number] | undefined } {
  const name = many(o.y)[0];
  if (o.x === undefined || name === undefined)
    throw new Mistake("chart.parity needs x and y: two columns of the same quantity");
  const points = lineSeries("points", members, o, frame, offset);
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
    const percent =
      typeof o.within === "string"
        ? /^\s*([\d.]+)\s*%\s*$/.exec(o.within)
        : typeof o.within === "object" && o.within.unit === "%"
          ? [o.within.value, o.within.value]
          : null;
    if (typeof o.within === "string" && !percent)
      throw new Mistake(`chart.parity: within "${o.within}": use "10 %" or a quantity`);
    const share = percent ? Number(percent[1]) / 100 : 0;
    const amount = percent ? 0 : boundIn(o.within as Bound, frame.x?.unit ?? null, "within", true);
    const step = t.stepOf(frame.x?.unit ?? "1");
    const legend = percent
      ? `± ${formatNumber(share * 100)} %`
      : `± ${formatNumber(amount * step.factor)} ${displayUnit(step.unit)}`.trim();
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

/** All numbers of a solver's history over its axis, for a logarithmic scale. */
export function residualColumns(members: readonly Member[], o: LayerOptions): LayerOptions {
  const table = members[0]?.table;
  if (!table || many(o.y).length > 0) return o;
  const x = xOf(table, o);
  const names = table.columns
    .filter((c) => c.kind === "number" && c.name !== x && c.name !== "pass" && (c.unit === "1" || c.unit === null))
    .map((c) => c.name);
  if (names.length === 0) throw new Mistake("chart.residuals: the table has no column without unit; say which with y");
  return { ...o, y: names.slice(0, 24) };
}

/** Values to be written at the lowest and highest points of series. */
export function extremeNotes(
  series: readonly Series[],
  wants: ReadonlyMap<Series, "min" | "max" | "both">,
  units: { x: string | null; left: string | null; right: string | null },
  words: boolean,
): PointNote[] {
  const notes: PointNote[] = [];
  series.forEach((s, index) => {
    const want = wants.get(s);
    if (want === undefined) return;
    for (const sign of [1, -1]) {
      if ((sign === 1 && want === "min") || (sign === -1 && want === "max")) continue;
      let best = -1;
      for (let i = 0; i < s.y.length; i++)
        if (Number.isFinite(s.y[i]) && (best < 0 || sign * s.y[i]! > sign * s.y[best]!)) best = i;
      if (best < 0) continue;
      const with_ = (v: number, unit: string | null): string =>
        `${formatNumber(v, 4)}${displayUnit(unit) ? ` ${displayUnit(unit)}` : ""}`;
      const value = with_(s.y[best]!, s.axis === "right" ? units.right : units.left);
      notes.push({
        series: index,
        x: s.x[best]!,
        y: s.y[best]!,
        text: words ? value : `${value} at ${with_(s.x[best]!, units.x)}`,
      });
    }
  });
  // More than a dozen would hide what they are about.
  return notes.length > 12 ? [] : notes;
}
