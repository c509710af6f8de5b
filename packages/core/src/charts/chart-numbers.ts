import * as t from "../tables/table.js";
import type { ChartAxis, ChartDescription } from "./description.js";

/** The numbers behind a chart, a row a point: what is drawn, by panel and series. @example chartNumbers(chart) // series, Time, T_mean */
export function chartNumbers(c: ChartDescription): t.Table {
  const panels = c.panels ?? [c];
  const rows: { panel: string; series: string; x: number; y: number; low: number; high: number }[] = [];
  for (const p of panels) {
    for (const s of p.series)
      for (let i = 0; i < s.x.length; i++)
        rows.push({ panel: p.title ?? "", series: s.legend ?? s.name, x: s.x[i]!, y: s.y[i]!, low: s.low?.[i] ?? s.boxes?.[i]?.low ?? (s.kind === "band" ? s.y[i]! : Number.NaN), high: s.high?.[i] ?? s.boxes?.[i]?.high ?? Number.NaN }); // prettier-ignore
    if (p.heat) for (let j = 0; j < p.heat.y.length; j++) for (let i = 0; i < p.heat.x.length; i++) rows.push({ panel: p.title ?? "", series: p.heat.title, x: p.heat.x[i]!, y: p.heat.y[j]!, low: p.heat.values[j * p.heat.x.length + i]!, high: Number.NaN }); // prettier-ignore
  }
  const first = panels[0]!;
  const column = (name: string, axis: ChartAxis | undefined, of: (r: (typeof rows)[number]) => number): t.Column => {
    const words = axis?.categories;
    return words ? t.textColumn(name, rows.map((r) => words[of(r)] ?? "")) : t.numberColumn(name, axis?.unit ?? null, Float64Array.from(rows, of)); // prettier-ignore
  };
  const title = (axis: ChartAxis, fallback: string): string => (axis.title === "" ? fallback : axis.title);
  const [xName, yName] = [title(first.x, "x"), title(first.y, "y")];
  return t.makeTable([
    ...(c.panels ? [t.textColumn("panel", rows.map((r) => r.panel))] : []),
    t.textColumn("series", rows.map((r) => r.series)),
    column(xName, first.x, (r) => r.x),
    column(yName === xName ? `${yName}.y` : yName, first.y, (r) => r.y),
    ...(first.heat ? [t.numberColumn("value", first.heat.unit, Float64Array.from(rows, (r) => r.low))] : rows.some((r) => Number.isFinite(r.high)) ? [column("low", first.y, (r) => r.low), column("high", first.y, (r) => r.high)] : []),
  ]); // prettier-ignore
}
