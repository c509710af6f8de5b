import type { Box, Series } from "@oxtrum/core/charts";
import { percentileOfSorted } from "@oxtrum/core/statistics";
import * as t from "@oxtrum/core/tables";
import { Mistake } from "../../values.js";
import type { AxesFrame } from "../axes-frame.js";
import { many, type LayerOptions } from "../layer-options.js";
import { layerKind } from "../layer-kind.js";
import { sayValue, type Member } from "../members.js";
import { notCounted } from "../not-drawn.js";

/**
 * Five numbers of values: quartiles by definition 7, whiskers to the outermost values within 1.5 interquartile ranges
 * of the box (J. Tukey, Exploratory Data Analysis, 1977).
 */
function boxOf(values: ArrayLike<number>): Box {
  const sorted = Float64Array.from(Array.from(values).filter((v) => Number.isFinite(v))).sort();
  const [q1, median, q3] = [25, 50, 75].map((p) => percentileOfSorted(sorted, p)) as [number, number, number];
  const reach = 1.5 * (q3 - q1);
  const inner = sorted.filter((v) => v >= q1 - reach && v <= q3 + reach);
  const beyond = Array.from(sorted.filter((v) => v < q1 - reach || v > q3 + reach));
  return {
    low: inner[0] ?? Number.NaN,
    q1,
    median,
    q3,
    high: inner[inner.length - 1] ?? Number.NaN,
    beyond: fewer(beyond),
  };
}

/** Rings of a box at most. */
const MOST_RINGS = 2000;

/** So many of sorted values that their rings lie on each other, the least and the largest among them. */
const fewer = (values: readonly number[]): readonly number[] =>
  values.length <= MOST_RINGS
    ? values
    : Array.from({ length: MOST_RINGS }, (_, k) => values[Math.round((k * (values.length - 1)) / (MOST_RINGS - 1))]!);

/** A box for each distinct x of a table, or for each run. */
function boxSeries(members: readonly Member[], o: LayerOptions, frame: AxesFrame, offset: number): Series[] {
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

export const boxLayer = layerKind({
  name: "box",
  doc:
    "How values spread, for each x or each run: quartiles (definition 7), whiskers to the outermost " +
    "values within 1.5 interquartile ranges (Tukey), the rest as rings.",
  examples: ['chart.box(peaks, { x: "fan", y: "peak" })'],
  takes: "runs and tables",
  options: "ChartOptions & { x?: {by}; y: NumberName<C> | NumberName<C>[]; name?: string }",
  needsOptions: true,
  named: undefined,
  layer: (members, o, frame, offset) => ({ series: boxSeries(members, o, frame, offset) }),
  leftOut: (members, o) => notCounted(members, many(o.y)),
});
