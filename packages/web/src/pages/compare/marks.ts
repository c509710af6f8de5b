import type { ChartDescription, Series } from "@oxtrum/core/charts";
import type { TableValue } from "@oxtrum/contract";
import type { Box } from "../../parts/chart/chart-props";

/** A chart in which the marked runs stand out: the others are drawn pale. */
export function withMarks(chart: ChartDescription, marked: ReadonlySet<string>): ChartDescription {
  if (marked.size === 0) return chart;
  const strong = (s: Series): boolean => s.run !== undefined && marked.has(s.run);
  const series = chart.series.map((s) => (s.run === undefined ? s : { ...s, faint: !strong(s) }));
  // What is drawn last lies on top; values that are written at points stay with their curves.
  const sorted = [...series.filter((s) => s.faint), ...series.filter((s) => !s.faint)];
  const notes = chart.notes?.map((n) => ({ ...n, series: sorted.indexOf(series[n.series]!) }));
  return { ...chart, series: sorted, ...(notes && { notes }) };
}

/** The chart of results by a parameter, with the marked runs as points of their own on top. */
export function withMarkedPoints(
  chart: ChartDescription,
  runs: readonly string[],
  marked: ReadonlySet<string>,
): ChartDescription {
  const at = chart.series.findIndex((s) => s.kind === "points");
  if (marked.size === 0 || at < 0) return chart;
  const all = chart.series[at]!;
  const part = (keep: boolean): Pick<Series, "x" | "y"> => {
    const rows = Array.from({ length: all.x.length }, (_, i) => i).filter((i) => marked.has(runs[i] ?? "") === keep);
    return { x: rows.map((i) => all.x[i]!), y: rows.map((i) => all.y[i]!) };
  };
  const others: Series = { ...all, ...part(false), faint: true };
  const own: Series = { ...all, ...part(true), name: "marked", legend: "marked" };
  return { ...chart, series: [...chart.series.filter((_, i) => i !== at), others, own] };
}

const inside = (v: number, [a, b]: readonly [number, number]): boolean => v >= a && v <= b;

/** Whether a curve passes through a box: a point of it lies inside, or a stretch crosses it. */
function passes(s: Series, b: Box): boolean {
  for (let i = 0; i < s.x.length; i++) {
    if (inside(s.x[i]!, b.x) && inside(s.y[i]!, b.y)) return true;
    if (i === 0 || s.kind === "points") continue;
    const [x0, x1, y0, y1] = [s.x[i - 1]!, s.x[i]!, s.y[i - 1]!, s.y[i]!];
    const low = Math.max(Math.min(x0, x1), b.x[0]);
    const high = Math.min(Math.max(x0, x1), b.x[1]);
    if (!(low <= high)) continue;
    if (x0 === x1) {
      // Straight up.
      if (Math.max(y0, y1) >= b.y[0] && Math.min(y0, y1) <= b.y[1]) return true;
      continue;
    }
    const at = (x: number): number => y0 + ((x - x0) / (x1 - x0)) * (y1 - y0);
    const [p, q] = [at(low), at(high)];
    if (Math.max(p, q) >= b.y[0] && Math.min(p, q) <= b.y[1]) return true;
  }
  return false;
}

/** The runs whose curves pass through a box. */
export const runsInBox = (chart: ChartDescription, b: Box): string[] => [
  ...new Set(chart.series.flatMap((s) => (s.run !== undefined && s.kind !== "band" && passes(s, b) ? [s.run] : []))),
];

/** The runs whose points lie in a box. */
export function pointsInBox(chart: ChartDescription, runs: readonly string[], b: Box): string[] {
  const all = chart.series.find((s) => s.kind === "points");
  if (!all) return [];
  return runs.filter((_, i) => inside(all.x[i] ?? Number.NaN, b.x) && inside(all.y[i] ?? Number.NaN, b.y));
}

/** The words of a table's column. */
export const wordsOf = (t: TableValue | undefined, name: string): string[] =>
  (t?.columns.find((c) => c.name === name)?.values ?? []).map((v) => String(v ?? ""));
