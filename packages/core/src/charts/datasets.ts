import type { ChartDataset } from "chart.js";
import { decimate } from "./decimate.js";
import type { ChartAxis, ChartDescription, Series } from "./description.js";
import { seriesColor, type Drawing } from "./drawing.js";
import { dashes, markers } from "./palette.js";
import { simplified } from "./simplify.js";

export type Dataset = ChartDataset<"line" | "bar" | "scatter", { x: number; y: number }[]>;

/** Pixels per unit along an axis, about: before the axes are laid out their room is guessed. */
function pixelScale(axis: ChartAxis, low: number, high: number, room: number): (v: number) => number {
  const log = axis.scale === "log";
  const [a, b] = [axis.min ?? low, axis.max ?? high].map((v) => (log ? Math.log(v) : v)) as [number, number];
  const k = b > a && Number.isFinite(b - a) ? room / (b - a) : 0;
  return log ? (v) => (Math.log(v) - a) * k : (v) => (v - a) * k;
}

function spanOf(values: ArrayLike<number>): [number, number] {
  let [low, high] = [Infinity, -Infinity];
  for (let i = 0; i < values.length; i++) {
    if (values[i]! < low) low = values[i]!;
    if (values[i]! > high) high = values[i]!;
  }
  return [low, high];
}

/** Widths of the drawing that a line may go up and down before it fills its room. */
const FULL = 40;

function fillsRoom(d: Drawing, s: Series, points: readonly { x: number; y: number }[]): boolean {
  if (points.length < 500) return false;
  const axis = s.axis === "right" && d.chart.right ? d.chart.right : d.chart.y;
  const py = pixelScale(axis, ...spanOf(s.y), d.look.height);
  let length = 0;
  for (let i = 1; i < points.length; i++) {
    const step = Math.abs(py(points[i]!.y) - py(points[i - 1]!.y));
    if (step > 0) length += step;
  }
  return length > FULL * d.look.width;
}

/** A line without the points that nobody would see to be missing: smooth curves in files are a tenth of the size. */
function lean(
  d: Drawing,
  s: Series,
  line: { x: ArrayLike<number>; y: ArrayLike<number> },
): { x: ArrayLike<number>; y: ArrayLike<number> } {
  if (line.x.length < 50) return line;
  const axis = s.axis === "right" && d.chart.right ? d.chart.right : d.chart.y;
  const px = pixelScale(d.chart.x, ...spanOf(line.x), d.look.width);
  const py = pixelScale(axis, ...spanOf(line.y), d.look.height);
  const keep = simplified(Float64Array.from(line.x, px), Float64Array.from(line.y, py));
  return { x: Float64Array.from(keep, (k) => line.x[k]!), y: Float64Array.from(keep, (k) => line.y[k]!) };
}

function points(d: Drawing, s: Series, y: ArrayLike<number>, buckets: number): { x: number; y: number }[] {
  const { chart } = d;
  const thin =
    s.kind === "lines"
      ? lean(d, s, decimate(s.x, y, buckets))
      : s.kind === "band"
        ? decimate(s.x, y, buckets)
        : { x: s.x, y };
  const [cx, cy] = [clamp(chart.x), clamp(s.axis === "right" && chart.right ? chart.right : chart.y)];
  return Array.from({ length: thin.x.length }, (_, i) => ({ x: cx(thin.x[i]!), y: cy(thin.y[i]!) }));
}

/** Values far outside a fixed range are moved nearer: a dashed line to a point billions of pixels away never ends. */
function clamp(axis: ChartAxis): (v: number) => number {
  const { min, max } = axis;
  if (min === undefined || max === undefined) return (v) => v;
  const reach = 10 * Math.abs(max - min);
  const low = axis.scale === "log" ? 0 : Math.min(min, max) - reach;
  const high = Math.max(min, max) + reach;
  return (v) => (v < low ? low : v > high ? high : v);
}

/** Drawn first lies below: bands under pale lines, these under all others, however many there are. */
const BELOW = 100_000;
const BELOW_ALL = 200_000;

/** Pale lines get paler the more there are, so that what is drawn over them is seen. */
function paleness(chart: ChartDescription): string {
  const many = chart.series.reduce((n, s) => n + (s.faint === true ? 1 : 0), 0);
  const alpha = Math.round(0x55 * Math.min(1, 30 / Math.max(1, many)));
  return Math.max(0x0a, alpha).toString(16).padStart(2, "0");
}

export const dashOf = (s: Series): readonly number[] => dashes[(s.dash ?? 0) % dashes.length]!;
export const markerOf = (s: Series): (typeof markers)[number] => markers[(s.marker ?? s.dash ?? 0) % markers.length]!;

/** What is only there so that the scales reach as far as the shapes that are drawn over them. */
function unseen(base: object, values: { x: number; y: number }[]): Dataset {
  return {
    ...base,
    type: "scatter",
    showLine: false,
    pointRadius: 0,
    pointHitRadius: 0,
    data: values,
  } as unknown as Dataset;
}

/** The datasets of a series in the drawing config. */
export function datasetsOf(d: Drawing, s: Series, index: number): Dataset[] {
  const { chart, theme, look } = d;
  const buckets = Math.max(100, Math.round(look.width));
  const color = seriesColor(theme, s);
  const pale = s.faint === true;
  const legend = s.legend ?? s.name;
  const base = {
    label: pale ? "" : legend,
    hidden: look.hidden?.has(legend) === true,
    borderColor: pale ? color + paleness(chart) : color,
    backgroundColor: color,
    yAxisID: s.axis === "right" && chart.right ? "right" : "y",
    order: s.kind === "band" ? BELOW_ALL + index : pale ? BELOW + index : index,
  };
  const weight = chart.style?.lineWidth ?? 1.6;
  const radius = chart.style?.markerSize ?? 3.5;
  const marked = {
    pointStyle: markerOf(s),
    pointRadius: radius,
    pointBorderWidth: 1.4,
    pointBackgroundColor: color + "40",
    clip: 6,
  };
  const at = (y: ArrayLike<number>): { x: number; y: number }[] => points(d, s, y, buckets);
  // `_decimated`: Chart.js then draws every point; its short cut for dense lines leaves steps in files.
  const line = {
    ...base,
    type: "line" as const,
    borderWidth: pale ? weight / 2 : weight,
    borderDash: [...dashOf(s)],
    _decimated: true,
    pointRadius: 0,
    pointHitRadius: 8,
    spanGaps: false,
    tension: 0,
  };
  switch (s.kind) {
    case "bars":
      return [
        {
          ...base,
          type: "bar",
          data: at(s.y),
          ...(s.touching ? { barPercentage: 1, categoryPercentage: 1, barThickness: "flex" } : { maxBarThickness: 40 }),
          backgroundColor: color + "CC",
          borderWidth: 1,
          ...(s.stack !== undefined && { stack: s.stack }),
        } as unknown as Dataset,
      ];
    case "points":
      return [{ ...base, ...marked, type: "scatter", data: at(s.y), showLine: false } as unknown as Dataset];
    case "errors":
      return [
        { ...base, ...marked, type: "scatter", data: at(s.y), showLine: false } as unknown as Dataset,
        unseen(base, [...at(s.low ?? s.y), ...at(s.high ?? s.y)]),
      ];
    case "box":
      return [
        unseen(
          base,
          Array.from(s.x).flatMap((x, i) =>
            [s.boxes![i]!.low, s.boxes![i]!.high, ...s.boxes![i]!.beyond].map((y) => ({ x, y })),
          ),
        ),
      ];
    case "both":
      return [{ ...line, ...marked, data: at(s.y) } as unknown as Dataset];
    case "steps":
      return [{ ...line, stepped: "before", data: at(s.y) } as unknown as Dataset];
    case "lines": {
      const data = at(s.y);
      // A dash cannot be told from another one where the line fills its room; drawing it there takes ten times as long.
      const dash = line.borderDash.length > 0 && fillsRoom(d, s, data) ? [] : line.borderDash;
      return [{ ...line, borderDash: dash, data, ...(s.x.length === 1 && { pointRadius: 3 }) } as Dataset];
    }
    case "band": {
      const fill = color + "30";
      const edge = { ...line, borderWidth: 0.6, borderColor: color + "70", borderDash: [] };
      if (s.closed) return [{ ...edge, backgroundColor: fill, fill: "shape", data: at(s.y) } as unknown as Dataset];
      return [
        { ...edge, label: "", data: at(s.y) } as Dataset,
        { ...edge, backgroundColor: fill, fill: "-1", data: at(s.high ?? s.y) } as Dataset,
      ];
    }
  }
}

/** Corners of a heat map, so that its scales end where its cells do. */
export function heatDatasets(chart: ChartDescription): Dataset[] {
  const h = chart.heat;
  if (!h) return [];
  const [x, y] = [cellEdges(h.x), cellEdges(h.y)];
  const corners = [0, 1].map((k) => ({
    x: chart.x.categories ? k * (h.x.length - 1) : x[k * (x.length - 1)]!,
    y: chart.y.categories ? k * (h.y.length - 1) : y[k * (y.length - 1)]!,
  }));
  return [unseen({ label: "", yAxisID: "y" }, corners)];
}

/** Edges of cells about their centres: half-way between, and as far beyond the outer ones. */
export function cellEdges(centres: ArrayLike<number>): number[] {
  const n = centres.length;
  if (n === 1) return [centres[0]! - 0.5, centres[0]! + 0.5];
  const inner = Array.from({ length: n - 1 }, (_, i) => (centres[i]! + centres[i + 1]!) / 2);
  return [2 * centres[0]! - inner[0]!, ...inner, 2 * centres[n - 1]! - inner[n - 2]!];
}
