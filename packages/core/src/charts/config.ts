import type { ChartConfiguration, ChartDataset, Plugin, Scale } from "chart.js";
import { displayUnit } from "../tables/units.js";
import { formatNumber } from "../tables/number-format.js";
import { decimate } from "./decimate.js";
import type { ChartAxis, ChartDescription, Series } from "./description.js";
import { dashes, lightTheme, markers, rampColor, type Theme } from "./palette.js";
import { drawRichText, type TextContext } from "./rich-text.js";

export interface ChartLook {
  readonly theme?: Theme;
  readonly width: number;
  readonly height: number;
  readonly fonts?: { readonly sans: string; readonly mono: string };
  /** Draw without title, legend and axis titles, for small pictures. */
  readonly small?: boolean;
}

/** The fonts by the names under which they ship. */
export const chartFonts = {
  sans: '"IBM Plex Sans", "DejaVu Sans", sans-serif',
  mono: '"IBM Plex Mono", "DejaVu Sans", monospace',
};

/** An axis title with its unit: `Hall air (°C)`. */
export function axisTitle(axis: ChartAxis): string {
  const unit = displayUnit(axis.unit);
  return unit === "" ? axis.title : `${axis.title} (${unit})`;
}

/** The colour of a series in a theme. */
export function seriesColor(theme: Theme, s: Series): string {
  return "ramp" in s.color ? rampColor(theme, s.color.ramp) : theme.series[s.color.palette % theme.series.length]!;
}

type Dataset = ChartDataset<"line" | "bar" | "scatter", { x: number; y: number }[]>;

/**
 * The one drawing config of a chart, for the screen and for files alike. Pure: it depends on its arguments only.
 *
 * Long lines are thinned to what `width` columns can show.
 */
export function chartConfig(chart: ChartDescription, look: ChartLook): ChartConfiguration {
  const theme = look.theme ?? lightTheme;
  const fonts = look.fonts ?? chartFonts;
  const buckets = Math.max(100, Math.round(look.width));
  const datasets = chart.series.flatMap((s, i) => datasetsOf(s, i, chart, theme, buckets));
  /** Room below values that are never below zero would say that they could be. */
  const nearZero = (side: "left" | "right"): boolean => {
    let low = Infinity;
    let high = -Infinity;
    for (const s of chart.series)
      if ((s.axis ?? "left") === side)
        for (const values of [s.y, s.high ?? []])
          for (let i = 0; i < values.length; i++) {
            if (values[i]! < low) low = values[i]!;
            if (values[i]! > high) high = values[i]!;
          }
    return low >= 0 && high > 0 && low < 0.06 * high;
  };
  const scale = (axis: ChartAxis, position: "left" | "right" | "bottom"): object => ({
    type: axis.categories ? "category" : axis.scale === "log" ? "logarithmic" : "linear",
    ...(axis.categories && { labels: axis.categories, offset: true }),
    axis: position === "bottom" ? "x" : "y",
    position,
    reverse: axis.reversed === true,
    ...(axis.min !== undefined && { min: axis.min }),
    ...(axis.max !== undefined && { max: axis.max }),
    grace: position === "bottom" || axis.scale === "log" ? 0 : "4%",
    ...(position !== "bottom" && axis.scale !== "log" && axis.min === undefined && nearZero(position) && { min: 0 }),
    bounds: position === "bottom" ? "data" : "ticks",
    // Even values within the data, whatever the data's own ends are.
    ...(position === "bottom" &&
      !axis.categories &&
      axis.scale !== "log" && {
        afterBuildTicks: (drawn: { min: number; max: number; ticks: { value: number }[] }) => {
          drawn.ticks = evenTicks(drawn.min, drawn.max, look.small ? 5 : 9).map((value) => ({ value }));
        },
      }),
    border: { color: position === "bottom" ? theme.ink : "transparent" },
    grid: {
      color: theme.rule,
      display: position === "left",
      drawTicks: position === "bottom",
      tickLength: 5,
      tickColor: theme.ink,
    },
    ticks: {
      color: theme.pencil,
      font: { family: fonts.mono, size: look.small ? 10 : 11 },
      maxRotation: axis.categories ? 60 : 0,
      autoSkipPadding: 14,
      maxTicksLimit: look.small ? 5 : 9,
      ...(!axis.categories && { callback: tickText }),
    },
  });
  const titled = look.small !== true;
  const rightAxis =
    chart.right && chart.series.some((s) => s.axis === "right") ? { right: scale(chart.right, "right") } : {};
  return {
    type: "line",
    data: { datasets: datasets as never },
    options: {
      animation: false,
      responsive: false,
      devicePixelRatio: 1,
      parsing: false,
      normalized: true,
      layout: {
        padding: titled
          ? { top: titleHeight(chart), left: 20, bottom: 22, right: chart.right ? 22 : 14 }
          : { top: 6, right: 8, left: 2, bottom: 2 },
      },
      interaction: { mode: "nearest", axis: "x", intersect: false },
      scales: { x: scale(chart.x, "bottom"), y: scale(chart.y, "left"), ...rightAxis } as never,
      plugins: {
        tooltip: { enabled: false },
        legend: {
          display: titled && chart.legend !== "none" && legendFits(chart, look),
          position: "top",
          align: "start",
          onClick: () => undefined,
          labels: {
            color: theme.ink, font: { family: fonts.sans, size: 12 }, usePointStyle: true, pointStyleWidth: 26, boxHeight: 7, padding: 12,
            filter: (item, data) => firstOfItsText(item.text, item.datasetIndex ?? 0, data.datasets),
          }, // prettier-ignore
        },
      },
    },
    plugins: titled ? [titlesPlugin(chart, theme, fonts)] : [],
  };
}

/** Multiples of 1, 2 or 5 times a power of ten within a range, `most` at most. */
export function evenTicks(min: number, max: number, most: number): number[] {
  const span = max - min;
  if (!(span > 0) || !Number.isFinite(span)) return [min];
  const power = 10 ** Math.floor(Math.log10(span / most));
  const step = [1, 2, 5, 10].map((m) => m * power).find((s) => Math.floor(span / s) + 1 <= most) ?? 10 * power;
  const first = Math.ceil(min / step - 1e-9);
  const last = Math.floor(max / step + 1e-9);
  // Multiplied, not added up: no rounding creeps in.
  return Array.from({ length: Math.max(0, last - first + 1) }, (_, k) => Number(((first + k) * step).toPrecision(12)));
}

/** Ticks as text, with as many digits as tell neighbours apart. */
function tickText(this: Scale, value: string | number): string {
  const x = Number(value);
  const scale = this as unknown as { ticks?: { value: number }[]; type: string; min: number; max: number };
  if (scale.type === "logarithmic") {
    const mantissa = x / 10 ** Math.floor(Math.log10(x) + 1e-9);
    const wide = scale.max / scale.min > 100;
    return Math.abs(mantissa - 1) < 1e-6 || (!wide && (Math.abs(mantissa - 2) < 1e-6 || Math.abs(mantissa - 5) < 1e-6))
      ? formatNumber(x, 3)
      : "";
  }
  const span = Math.abs(scale.max - scale.min) || Math.abs(x) || 1;
  const digits = Math.max(1, Math.min(15, Math.ceil(Math.log10(Math.max(Math.abs(x), 1e-300) / span)) + 4));
  return formatNumber(Math.abs(x) < span * 1e-9 ? 0 : x, digits);
}

/** A legend that would take more than a third of the picture is left out. */
function legendFits(chart: ChartDescription, look: ChartLook): boolean {
  const texts = legendTexts(chart);
  if (texts.length < 2) return false;
  const perRow = Math.max(1, Math.floor((look.width - 70) / (Math.max(...texts.map((t) => t.length)) * 6.6 + 46)));
  return Math.ceil(texts.length / perRow) * 20 <= look.height / 3;
}

const legendTexts = (chart: ChartDescription): string[] => [...new Set(chart.series.map((s) => s.legend ?? s.name))];

function firstOfItsText(text: string, index: number, data: readonly { label?: string }[]): boolean {
  return text !== "" && data.findIndex((d) => d.label === text) === index;
}

const titleHeight = (chart: ChartDescription): number =>
  chart.title === undefined ? 8 : chart.subtitle === undefined ? 30 : 46;

function points(chart: ChartDescription, s: Series, y: ArrayLike<number>, buckets: number): { x: number; y: number }[] {
  const thin = s.kind === "bars" || s.kind === "points" ? { x: s.x, y } : decimate(s.x, y, buckets);
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

function datasetsOf(s: Series, index: number, chart: ChartDescription, theme: Theme, buckets: number): Dataset[] {
  const color = seriesColor(theme, s);
  const pale = s.faint === true;
  const base = {
    label: pale ? "" : (s.legend ?? s.name),
    borderColor: pale ? color + paleness(chart) : color,
    backgroundColor: color,
    yAxisID: s.axis === "right" && chart.right ? "right" : "y",
    order: s.kind === "band" ? BELOW_ALL + index : pale ? BELOW + index : index,
  };
  const dash = dashes[(s.dash ?? 0) % dashes.length]!;
  if (s.kind === "bars")
    return [
      {
        ...base,
        type: "bar",
        data: points(chart, s, s.y, buckets),
        maxBarThickness: 40,
        backgroundColor: color + "CC",
        borderWidth: 1,
        pointStyle: "rect",
      } as unknown as Dataset,
    ];
  if (s.kind === "points")
    return [
      {
        ...base,
        type: "scatter",
        data: points(chart, s, s.y, buckets),
        showLine: false,
        pointStyle: markers[(s.dash ?? 0) % markers.length]!,
        pointRadius: 3.5,
        pointBorderWidth: 1.4,
        pointBackgroundColor: color + "40",
      } as Dataset,
    ];
  // `_decimated`: Chart.js then draws every point; its short cut for dense lines leaves steps in files.
  const line = {
    ...base,
    type: "line" as const,
    borderWidth: pale ? 0.8 : 1.6,
    borderDash: [...dash],
    _decimated: true,
    pointRadius: 0,
    pointHitRadius: 8,
    pointStyle: "line" as const,
    spanGaps: false,
    tension: 0,
  };
  if (s.kind === "lines")
    return [{ ...line, data: points(chart, s, s.y, buckets), ...(s.x.length === 1 && { pointRadius: 3 }) } as Dataset];
  const fill = color + "30";
  const edge = { ...line, borderWidth: 0.6, borderColor: color + "70", borderDash: [], pointStyle: "rect" as const };
  if (s.closed)
    return [
      { ...edge, backgroundColor: fill, fill: "shape", data: points(chart, s, s.y, buckets) } as unknown as Dataset,
    ];
  return [
    { ...edge, label: "", data: points(chart, s, s.y, buckets) } as Dataset,
    { ...edge, backgroundColor: fill, fill: "-1", data: points(chart, s, s.high ?? s.y, buckets) } as Dataset,
  ];
}

/** Draws title, subtitle and axis titles, with sub- and superscripts. */
function titlesPlugin(chart: ChartDescription, theme: Theme, fonts: { sans: string; mono: string }): Plugin {
  return {
    id: "titles",
    beforeDraw(c) {
      const ctx = c.ctx as CanvasRenderingContext2D & { fontFeatureSettings?: string };
      // Ligatures would vanish from the text of vector files.
      ctx.fontFeatureSettings = '"calt" 0, "liga" 0';
    },
    afterDraw(c) {
      const ctx = c.ctx;
      const text = ctx as unknown as TextContext;
      const { left, right, top, bottom } = c.chartArea;
      ctx.save();
      ctx.fillStyle = theme.ink;
      if (chart.title !== undefined)
        drawRichText(text, chart.title, 12, 21, { size: 15, family: fonts.sans, weight: 600 }, "left");
      ctx.fillStyle = theme.pencil;
      if (chart.subtitle !== undefined)
        drawRichText(text, chart.subtitle, 12, 38, { size: 12, family: fonts.sans, weight: 400 }, "left");
      ctx.fillStyle = theme.ink;
      const font = { size: 12, family: fonts.sans, weight: 400 };
      drawRichText(text, axisTitle(chart.x), (left + right) / 2, c.height - 9, font, "center");
      const upright = (title: string, x: number): void => {
        ctx.save();
        ctx.translate(x, (top + bottom) / 2);
        ctx.rotate(-Math.PI / 2);
        drawRichText(text, title, 0, 0, font, "center");
        ctx.restore();
      };
      upright(axisTitle(chart.y), 15);
      if (chart.right && c.scales["right"]) upright(axisTitle(chart.right), c.width - 7);
      ctx.restore();
    },
  };
}
