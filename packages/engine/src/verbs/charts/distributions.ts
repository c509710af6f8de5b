import type { Box, HeatCells, Series } from "@oxtrum/core/charts";
import { edgesOf, histogram, percentileOfSorted } from "@oxtrum/core/statistics";
import * as t from "@oxtrum/core/tables";
import { boundIn, type Bound } from "../arguments.js";
import { Mistake } from "../values.js";
import type { AxesFrame } from "./axes-frame.js";
import type { LayerOptions } from "./chart-arguments.js";
import { colorsBy, sayParameter, sayValue, type Member } from "./members.js";
import { many, xOf } from "./series.js";

/**
 * Five numbers of values: quartiles by definition 7, whiskers to the outermost values within 1.5 interquartile ranges
 * of the box (J. Tukey, Exploratory Data Analysis, 1977).
 */
export function boxOf(values: ArrayLike<number>): Box {
  const sorted = Float64Array.from(Array.from(values).filter((v) => Number.isFinite(v))).sort();
  const [q1, median, q3] = [25, 50, 75].map((p) => percentileOfSorted(sorted, p)) as [number, number, number];
  const reach = 1.5 * (q3 - q1);
  const inner = sorted.filter((v) => v >= q1 - reach && v <= q3 + reach);
  const beyond = [...sorted.filter((v) => v < q1 - reach || v > q3 + reach)];
  return {
    low: inner[0] ?? Number.NaN,
    q1,
    median,
    q3,
    high: inner[inner.length - 1] ?? Number.NaN,
    beyond: beyond.slice(0, 2000),
  };
}

/** A box for each distinct x of a table, or for each run. */
export function boxSeries(members: readonly Member[], o: LayerOptions, frame: AxesFrame, offset: number): Series[] {
  const names = many(o.y);
  if (names.length === 0) throw new Mistake("chart.box needs y: the column whose values are spread");
  return names.map((name, j): Series => {
    const groups = new Map<string, { at: number; values: number[] }>();
    for (const m of members) {
      const column = t.numbers(m.table, name);
      const y = frame.values(frame.sideOf(column, undefined), column);
      const param = o.x !== undefined && Object.hasOwn(m.params, o.x) ? m.params[o.x] : undefined;
      const x =
        o.x === undefined
          ? frame.values("x", t.textColumn("run", new Array<string>(m.table.rows).fill(m.run ?? name)))
          : param !== undefined
            ? frame.values("x", t.textColumn(o.x, new Array<string>(m.table.rows).fill(sayValue(param))))
            : frame.values("x", t.column(m.table, o.x));
      for (let i = 0; i < y.length; i++) {
        const key = String(x[i]);
        let g = groups.get(key);
        if (!g) groups.set(key, (g = { at: x[i]!, values: [] }));
        g.values.push(y[i]!);
      }
    }
    if (frame.x && o.x === undefined) frame.x = { title: "", unit: null };
    const sorted = [...groups.values()].sort((a, b) => a.at - b.at);
    const boxes = sorted.map((g) => boxOf(g.values));
    return {
      kind: "box",
      name: o.name ?? name,
      legend: o.name ?? name,
      x: Float64Array.from(sorted, (g) => g.at),
      y: Float64Array.from(boxes, (b) => b.median),
      boxes,
      color: { palette: offset + j },
    };
  });
}

/** How often values lie where, as touching bars: one series, or one for each value of the colour's parameter. */
export function histogramSeries(
  members: readonly Member[],
  o: LayerOptions,
  frame: AxesFrame,
  offset: number,
): Series[] {
  const name = many(o.y)[0] ?? o.x;
  if (name === undefined) throw new Mistake("chart.histogram needs x: the column whose values are counted");
  const columns = members.map((m) => t.numbers(m.table, name));
  const values = columns.map((c) => frame.values("x", c));
  frame.left ??= { title: "count", unit: "1" };
  const all = Float64Array.from(values.flatMap((v) => Array.from(v)).filter((v) => Number.isFinite(v))).sort();
  const width = o.width === undefined ? undefined : boundIn(o.width as Bound, frame.x?.unit ?? null, "width", true);
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

/** Cells coloured by z over x and y, of a table with a row a cell. */
export function heatCells(members: readonly Member[], o: LayerOptions, frame: AxesFrame): HeatCells {
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
    Float64Array.from(new Set(values.filter((v) => v === v))).sort();
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
    if (v < min) min = v;
    if (v > max) max = v;
  }
  if (!(min <= max)) [min, max] = [0, 1];
  return { x, y, values, title: z.label ?? z.name, unit: z.unit, min, max };
}
