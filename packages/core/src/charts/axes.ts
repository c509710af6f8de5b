import { seriesKind } from "./kinds/index.js";
import type { Scale } from "chart.js";
import { formatNumber } from "../tables/number-format.js";
import { displayUnit, plainUnit } from "../tables/units.js";
import type { ChartAxis, ChartDescription, Series } from "./description.js";
import type { Drawing } from "./drawing.js";
import { shortNames } from "./short-names.js";

/** An axis title with its unit: `Hall air (°C)`. */
export function axisTitle(axis: ChartAxis): string {
  const unit = displayUnit(axis.unit);
  return unit === "" ? axis.title : `${axis.title} (${unit})`;
}

export type Side = "left" | "right" | "bottom";

/** The least and the largest value that stands on a side of a chart. */
export function extent(chart: ChartDescription, side: "left" | "right"): readonly [number, number] {
  let low = Infinity;
  let high = -Infinity;
  for (const s of chart.series)
    if ((s.axis ?? "left") === side || !chart.right)
      for (const values of [
        s.y,
        s.high ?? [],
        s.low ?? [],
        ...(s.boxes ?? []).map((b) => [b.low, b.high, ...b.beyond]),
      ])
        for (let i = 0; i < values.length; i++) {
          if (!Number.isFinite(values[i]!)) continue;
          if (values[i]! < low) low = values[i]!;
          if (values[i]! > high) high = values[i]!;
        }
  return [low, high];
}

/** The least value above zero on a side: where a logarithmic axis begins. */
function leastAbove(chart: ChartDescription, side: "left" | "right"): number {
  let least = Infinity;
  for (const s of chart.series)
    if ((s.axis ?? "left") === side || !chart.right)
      for (const values of [s.y, s.low ?? []])
        for (let i = 0; i < values.length; i++) if (values[i]! > 0 && values[i]! < least) least = values[i]!;
  return least;
}

/** What the scale of a side is to show: room below values that are never below zero would say that they could be. */
function ends(chart: ChartDescription, axis: ChartAxis, side: Side): object {
  if (side === "bottom" || axis.categories) return {};
  const [low, high] = extent(chart, side);
  const bars = chart.series.some((s) => seriesKind(s).isBars);
  const fromZero = low >= 0 && high > 0 && (low < 0.06 * high || bars);
  const toZero = bars && high <= 0 && low < 0;
  // One value, or several alike: the axis spans a part of it, not its last digits.
  const flat =
    low === high
      ? {
          suggestedMin: low - Math.max(Math.abs(low) * 0.05, 1e-300),
          suggestedMax: high + Math.max(Math.abs(high) * 0.05, 1e-300),
        }
      : {};
  if (axis.scale === "log") {
    const least = leastAbove(chart, side);
    return {
      ...(axis.min === undefined && least < Infinity && { min: least / 1.2 }),
      ...(axis.max === undefined && high > 0 && { max: high * 1.2 }),
    };
  }
  return {
    ...flat,
    ...(axis.min === undefined && fromZero && { min: 0 }),
    ...(axis.max === undefined && toZero && { max: 0 }),
  };
}

/** Half a bar or a box beyond the outer ones, where these stand over numbers, and no less than other series reach. */
function roomForBroad(chart: ChartDescription, axis: ChartAxis): object {
  if (axis.categories || !chart.series.some((s) => seriesKind(s).isBroad)) return {};
  // On an axis in decades, room is a factor.
  const isLog = axis.scale === "log";
  const [to, from] = isLog ? [Math.log, Math.exp] : [(v: number) => v, (v: number) => v];
  const placed = (s: Series): number[] => Array.from(s.x, (x) => to(x)).filter(Number.isFinite);
  const at = [...new Set(chart.series.filter((s) => seriesKind(s).isBroad).flatMap(placed))].sort((a, b) => a - b);
  if (at.length === 0) return {};
  const gap = at.slice(1).reduce((least, v, i) => Math.min(least, v - at[i]!), Infinity);
  const half = (Number.isFinite(gap) ? gap : isLog ? 1 : Math.abs(at[0]!) || 1) / 2;
  let [low, high] = [at[0]! - half, at[at.length - 1]! + half];
  for (const s of chart.series)
    for (const x of placed(s)) {
      if (x < low) low = x;
      if (x > high) high = x;
    }
  return { ...(axis.min === undefined && { min: from(low) }), ...(axis.max === undefined && { max: from(high) }) };
}

/** A little room beside points, so that none stands on the edge. */
function roomForPoints(chart: ChartDescription, axis: ChartAxis): object {
  const marked = chart.series.filter((s) => seriesKind(s).hasMarkers);
  if (marked.length === 0 || marked.length < chart.series.length || axis.categories || axis.scale === "log") return {};
  let [low, high] = [Infinity, -Infinity];
  for (const s of marked)
    for (let i = 0; i < s.x.length; i++) {
      if (s.x[i]! < low) low = s.x[i]!;
      if (s.x[i]! > high) high = s.x[i]!;
    }
  if (!(low < high)) return {};
  const room = 0.04 * (high - low);
  return {
    ...(axis.min === undefined && { min: low >= 0 && low < room ? 0 : low - room }),
    ...(axis.max === undefined && { max: high + room }),
  };
}

/** A scale of the drawing config. */
export function scaleOf(d: Drawing, axis: ChartAxis, side: Side): object {
  const { chart, look, theme, fonts } = d;
  const heat = chart.heat !== undefined;
  const words = axis.categories && shortened(axis.categories);
  const centres = side === "bottom" ? chart.heat?.x : chart.heat?.y;
  const most = look.small
    ? 5
    : Math.max(3, Math.min(9, Math.floor(side === "bottom" ? look.width / 85 : look.height / 34)));
  return {
    type: axis.categories ? "category" : axis.scale === "log" ? "logarithmic" : "linear",
    ...(axis.categories && { labels: axis.categories, offset: true }),
    axis: side === "bottom" ? "x" : "y",
    position: side,
    reverse: axis.reversed === true,
    ...(axis.min !== undefined && { min: axis.min }),
    ...(axis.max !== undefined && { max: axis.max }),
    grace: side === "bottom" || axis.scale === "log" || heat ? 0 : "4%",
    ...ends(chart, axis, side),
    ...(side === "bottom" && { ...roomForPoints(chart, axis), ...roomForBroad(chart, axis) }),
    ...(chart.series.some((s) => s.stack !== undefined) && { stacked: true }),
    bounds: side === "bottom" || heat || axis.scale === "log" ? "data" : "ticks",
    ...(!axis.categories && {
      afterBuildTicks: (drawn: { min: number; max: number; ticks: { value: number }[] }) => {
        // Even values within the data, whatever the data's own ends are.
        if (axis.scale === "log") drawn.ticks = logTicks(drawn.min, drawn.max, most).map((value) => ({ value }));
        else if (centres && centres.length <= most) drawn.ticks = Array.from(centres, (value) => ({ value }));
        else if (side === "bottom" || heat || (axis.min !== undefined && axis.max !== undefined))
          drawn.ticks = evenTicks(drawn.min, drawn.max, most).map((value) => ({ value }));
      },
    }),
    border: { color: side === "bottom" ? theme.ink : "transparent" },
    grid: {
      color: theme.rule,
      display: side === "left" && chart.style?.grid !== "none" && !heat,
      drawTicks: side === "bottom",
      tickLength: 5,
      tickColor: theme.ink,
      ...(side === "bottom" && { display: true, drawOnChartArea: false }),
    },
    ticks: {
      color: theme.pencil,
      font: { family: fonts.mono, size: look.small ? 10 : d.size - 1 },
      maxRotation: axis.categories ? 60 : 0,
      ...(axis.categories && axis.categories.length <= 30 && { autoSkip: false }),
      autoSkipPadding: side === "bottom" ? 14 : 4,
      maxTicksLimit: most,
      ...(axis.categories
        ? {
            callback(this: Scale, _: unknown, i: number) {
              return words![i] ?? "";
            },
          }
        : { callback: tickText(axis.digits ?? chart.style?.digits?.[plainUnit(axis.unit) ?? ""]) }),
    },
  };
}

/** Words of an axis: what all have in common left out where they are long. */
const shortened = (words: readonly string[]): string[] => {
  const names = words.some((w) => w.length > 24) ? shortNames([...new Set(words)]) : undefined;
  return words.map((w) => short(names?.get(w) ?? w));
};
const short = (word: string): string => (word.length <= 28 ? word : `${word.slice(0, 14)}…${word.slice(-12)}`);

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

/**
 * Ticks of a logarithmic axis: powers of ten, with 2 and 5 between where there is room, even values within a decade.
 */
export function logTicks(min: number, max: number, most: number): number[] {
  if (!(min > 0) || !(max > min)) return min > 0 ? [min] : [];
  const [low, high] = [Math.ceil(Math.log10(min) - 1e-9), Math.floor(Math.log10(max) + 1e-9)];
  const powers = Array.from({ length: Math.max(0, high - low + 1) }, (_, k) => low + k);
  const fine = (ms: readonly number[]): number[] => {
    const out: number[] = [];
    for (let p = low - 1; p <= high; p++)
      for (const m of ms) {
        const v = Number((m * 10 ** p).toPrecision(12));
        if (v >= min * (1 - 1e-9) && v <= max * (1 + 1e-9)) out.push(v);
      }
    return out;
  };
  for (const ms of [
    [1, 2, 3, 4, 5, 6, 7, 8, 9],
    [1, 2, 5],
    [1, 3],
  ]) {
    const v = fine(ms);
    if (v.length <= most + 1 && v.length >= 3) return v;
  }
  if (powers.length < 2) return evenTicks(min, max, most);
  const every = Math.ceil(powers.length / most);
  return powers.filter((p) => (p - low) % every === 0).map((p) => Number(`1e${p}`));
}

/** Ticks as text, with as many digits as tell neighbours apart. */
function tickText(fixed: number | undefined): (this: Scale, value: string | number) => string {
  return function (value) {
    const x = Number(value);
    const scale = this as unknown as { type: string; min: number; max: number };
    if (fixed !== undefined) return formatNumber(x, fixed);
    if (scale.type === "logarithmic") return powerText(x) ?? formatNumber(x, 3);
    const span = Math.abs(scale.max - scale.min) || Math.abs(x) || 1;
    const digits = Math.max(1, Math.min(15, Math.ceil(Math.log10(Math.max(Math.abs(x), 1e-300) / span)) + 4));
    return formatNumber(Math.abs(x) < span * 1e-9 ? 0 : x, digits);
  };
}

const raised = "⁰¹²³⁴⁵⁶⁷⁸⁹";

/** Numbers too small or large to be read as they are, by their power of ten: `10⁻⁵`, `2·10⁻⁵`. */
function powerText(x: number): string | undefined {
  const p = Math.floor(Math.log10(x) + 1e-9);
  if (Math.abs(p) < 4) return undefined;
  const m = formatNumber(x / 10 ** p, 3);
  return `${m === "1" ? "" : `${m}·`}10${p < 0 ? "⁻" : ""}${[...String(Math.abs(p))].map((c) => raised[Number(c)]).join("")}`;
}
