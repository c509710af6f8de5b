import { seriesKind } from "./kinds/index.js";
import * as t from "../tables/table.js";
import { displayUnit } from "../tables/units.js";
import type { ChartAxis, ChartDescription, Series } from "./description.js";

/** The unit of a series' values. */
const unitOf = (p: ChartDescription, s: Series): string | null => (s.axis === "right" ? p.right : p.y)?.unit ?? null;

/** A point as it is drawn. */
interface Row {
  readonly panel: string;
  readonly series: string;
  readonly quantity: string;
  readonly unit: string | null;
  readonly x: number;
  readonly y: number;
  readonly low: number;
  readonly high: number;
}

const rowsOfSeries = (p: ChartDescription): Row[] =>
  p.series.flatMap((s) =>
    Array.from(s.x, (x, i) => ({
      panel: p.title ?? "",
      series: s.legend ?? s.name,
      quantity: s.quantity ?? (s.axis === "right" ? p.right?.title : p.y.title) ?? "",
      unit: unitOf(p, s),
      x,
      y: s.y[i]!,
      low: s.low?.[i] ?? s.boxes?.[i]?.low ?? (seriesKind(s).hasEdges ? s.y[i]! : Number.NaN),
      high: s.high?.[i] ?? s.boxes?.[i]?.high ?? Number.NaN,
    })),
  );

/** The cells of a map: their values stand where others have their low end. */
const rowsOfHeat = ({ title, heat }: ChartDescription): Row[] =>
  heat
    ? Array.from(heat.y).flatMap((y, j) =>
        Array.from(heat.x, (x, i) => ({
          panel: title ?? "",
          series: heat.title,
          quantity: heat.title,
          unit: heat.unit,
          x,
          y,
          low: heat.values[j * heat.x.length + i]!,
          high: Number.NaN,
        })),
      )
    : [];

/**
 * The numbers behind a chart, one row per point: what is drawn, by panel and series, with the quantity and unit of
 * each. Values of one unit stand in a column in that unit; of several units in a column `value`, whose unit stands
 * beside it.
 *
 * @example chartNumbers(chart) // series, quantity, unit, Time, T_mean
 */
export function chartNumbers(c: ChartDescription): t.Table {
  const panels = c.panels ?? [c];
  const rows = panels.flatMap((p) => [...rowsOfSeries(p), ...rowsOfHeat(p)]);
  const first = panels[0]!;
  const column = (name: string, axis: ChartAxis | undefined, of: (r: Row) => number): t.Column => {
    const words = axis?.categories;
    return words
      ? t.textsOf(rows, name, (r) => words[of(r)] ?? "")
      : t.numberColumn(name, axis?.unit ?? null, Float64Array.from(rows, of));
  };
  const title = ({ title: drawn, name = drawn }: ChartAxis, fallback: string): string =>
    name === "" ? fallback : name;
  const units = new Set(rows.map((r) => r.unit));
  const several = units.size > 1 && !first.heat;
  const [xName, plainY] = [title(first.x, "x"), title(first.y, "y")];
  const yName = several ? "value" : plainY;
  // Values of several units have none in common.
  const yAxis = several ? { ...first.y, unit: null } : first.y;
  return t.makeTable([
    ...(c.panels ? [t.textsOf(rows, "panel", (r) => r.panel)] : []),
    t.textsOf(rows, "series", (r) => r.series),
    ...(first.heat
      ? []
      : [
          t.textsOf(rows, "quantity", (r) => r.quantity),
          t.textsOf(rows, "unit", (r) => (r.unit === null ? "" : displayUnit(r.unit))),
        ]),
    column(xName, first.x, (r) => r.x),
    column(yName === xName ? `${yName}.y` : yName, yAxis, (r) => r.y),
    ...(first.heat
      ? [
          t.numberColumn(
            "value",
            first.heat.unit,
            Float64Array.from(rows, (r) => r.low),
          ),
        ]
      : rows.some((r) => Number.isFinite(r.high))
        ? [column("low", yAxis, (r) => r.low), column("high", yAxis, (r) => r.high)]
        : []),
  ]);
}
