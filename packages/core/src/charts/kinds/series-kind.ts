import type { Chart, ChartDataset, Scale } from "chart.js";
import type { Series } from "../description.js";
import type { Drawing } from "../drawing.js";
import type { Thinning } from "../series-points.js";

export type Dataset = ChartDataset<"line" | "bar" | "scatter", { x: number; y: number }[]>;

/** What datasets of a series are made from. */
export interface SeriesContext {
  readonly drawing: Drawing;
  readonly series: Series;
  readonly color: string;
  /** What all datasets have: label, colours, axis, order. */
  readonly base: object;
  /** A line of the series, with its dash. */
  readonly line: { readonly borderDash: number[] };
  /** Markers at its points. */
  readonly marked: object;
  /** Its points with these values. */
  at(y: ArrayLike<number>): { x: number; y: number }[];
}

/** How a kind of series is drawn. */
export interface SeriesKind {
  readonly kind: string;
  datasets(c: SeriesContext): Dataset[];
  /** Draws over the datasets what these cannot show. */
  draw?(d: Drawing, chart: Chart, s: Series, scale: Scale): void;
  /** Its entry in a legend: an area of so much colour, a piece of line, a marker. */
  readonly legend: { readonly area?: string; readonly line?: true; readonly marker?: true };
  /** Points that may be left out; none when not given. */
  readonly thinning?: Thinning;
  /** Every point is a shape of its own: none is left out, not even for a first look. */
  readonly keepsAllPoints?: true;
  /** Lies below all others. */
  readonly isBackground?: true;
  /** Its points have a size: they get room beside them. */
  readonly hasMarkers?: true;
  /** Bars from zero: their axis begins there, and they lie below lines and points. */
  readonly isBars?: true;
  /** Its shapes stand broadly over their points: they get room for half of their width. */
  readonly isBroad?: true;
  /** Its `y` is a lower edge and its `high` an upper one. */
  readonly hasEdges?: true;
}

export const asDataset = (dataset: object): Dataset => dataset as unknown as Dataset;

/** What is only there so that the scales reach as far as the shapes that are drawn over them. */
export const unseen = (base: object, values: { x: number; y: number }[]): Dataset =>
  asDataset({ ...base, type: "scatter", showLine: false, pointRadius: 0, pointHitRadius: 0, data: values });
