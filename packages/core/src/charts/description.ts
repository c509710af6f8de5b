/** One series of a chart. `x` and `y` have equal length; NaN breaks the line. */
export interface Series {
  readonly kind: "lines" | "points" | "bars" | "band";
  readonly name: string;
  readonly x: ArrayLike<number>;
  readonly y: ArrayLike<number>;
  /** The other edge of a band; `y` is its lower one. */
  readonly high?: ArrayLike<number>;
  /** The points go round a shape, which is filled; of bands along an upright axis. */
  readonly closed?: boolean;
  /** The run it belongs to. */
  readonly run?: string;
  /** Which colour: a place in the palette, or a share of the ramp from 0 to 1. */
  readonly color: { readonly palette: number } | { readonly ramp: number };
  /** Which dash pattern and marker. */
  readonly dash?: number;
  readonly axis?: "left" | "right";
  /** Drawn thin and pale, behind the rest. */
  readonly faint?: boolean;
  /** The text in the legend; series with the same text share one entry. */
  readonly legend?: string;
}

export interface ChartAxis {
  readonly title: string;
  readonly unit: string | null;
  readonly scale: "linear" | "log";
  readonly reversed?: boolean;
  readonly min?: number;
  readonly max?: number;
  /** Words instead of numbers, for bars. */
  readonly categories?: readonly string[];
}

/** A chart as data: what is stored, sent to the browser and drawn, the same everywhere. */
export interface ChartDescription {
  readonly title?: string;
  readonly subtitle?: string;
  readonly x: ChartAxis;
  readonly y: ChartAxis;
  readonly right?: ChartAxis;
  readonly series: readonly Series[];
  readonly legend?: "top" | "none";
}
