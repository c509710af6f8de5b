/** One series of a chart. `x` and `y` have equal length; NaN breaks the line. */
export interface Series {
  /** One of `kinds`: lines, points, bars and others. */
  readonly kind: string;
  readonly name: string;
  readonly x: ArrayLike<number>;
  /** Values; of a box its median. */
  readonly y: ArrayLike<number>;
  /** The other edge of a band (`y` is its lower one), or the upper end of an error bar. */
  readonly high?: ArrayLike<number>;
  /** The lower end of an error bar. */
  readonly low?: ArrayLike<number>;
  /** The points go round a shape, which is filled; of bands along an upright axis. */
  readonly closed?: boolean;
  /** One for each place of a box series. */
  readonly boxes?: readonly Box[];
  /** Bars without gaps between them, of counts. */
  readonly touching?: boolean;
  /** Bars with the same word stand on each other. */
  readonly stack?: string;
  /** The run it belongs to. */
  readonly run?: string;
  /** Which colour: a place in the palette, or a fraction of the ramp from 0 to 1. */
  readonly color: { readonly palette: number } | { readonly ramp: number };
  /** Which dash pattern and marker. */
  readonly dash?: number;
  readonly marker?: number;
  readonly axis?: "left" | "right";
  /** Drawn thin and pale, behind the rest. */
  readonly faint?: boolean;
  /** What it shows, as its column is called. */
  readonly quantity?: string;
  /** The text in the legend; series with the same text share one entry. */
  readonly legend?: string;
}

/** Five numbers of a box and what lies beyond its whiskers. */
export interface Box {
  readonly low: number;
  readonly q1: number;
  readonly median: number;
  readonly q3: number;
  readonly high: number;
  readonly beyond: readonly number[];
}

export interface ChartAxis {
  readonly title: string;
  /** What its column is called where the numbers are written, if that is not the title. */
  readonly name?: string;
  readonly unit: string | null;
  readonly scale: "linear" | "log";
  readonly reversed?: boolean;
  readonly min?: number;
  readonly max?: number;
  /** Significant digits of the numbers at the axis and at its marks. */
  readonly digits?: number;
  /** Words instead of numbers. */
  readonly categories?: readonly string[];
}

/** A line or a region that is not data: a limit, a time span. One of `x` and `y` is given; a pair is a region. */
export interface Mark {
  readonly x?: number | readonly [number, number];
  readonly y?: number | readonly [number, number];
  readonly axis?: "left" | "right";
  readonly text?: string;
}

/** A value that is written at its point. */
export interface PointNote {
  readonly series: number;
  readonly x: number;
  readonly y: number;
  readonly text: string;
}

/** Coloured cells: `values[j * x.length + i]` at `x[i]`, `y[j]`; NaN stays open. */
export interface HeatCells {
  readonly x: ArrayLike<number>;
  readonly y: ArrayLike<number>;
  readonly values: ArrayLike<number>;
  readonly title: string;
  readonly unit: string | null;
  readonly min: number;
  readonly max: number;
}

export type LegendPlace = "top" | "right" | "inside" | "ends" | "none";

/** A chart as data: what is stored, sent to the browser and drawn, the same everywhere. */
export interface ChartDescription {
  readonly title?: string;
  readonly subtitle?: string;
  readonly x: ChartAxis;
  readonly y: ChartAxis;
  readonly right?: ChartAxis;
  readonly series: readonly Series[];
  readonly heat?: HeatCells;
  readonly marks?: readonly Mark[];
  readonly notes?: readonly PointNote[];
  readonly legend?: LegendPlace;
  /** Ink on white for paper; the screen's colours otherwise. */
  readonly theme?: "screen" | "print";
  /** What the workspace's house style says. */
  readonly style?: ChartStyle;
  /** Several charts side by side, with common axes; the chart itself then has no series. */
  readonly panels?: readonly ChartDescription[];
  /** How many panels stand side by side. */
  readonly columns?: number;
}

/** How all charts of a workspace look. Sizes are in pixels of 1/96 inch. */
export interface ChartStyle {
  readonly textSize?: number;
  readonly lineWidth?: number;
  readonly markerSize?: number;
  readonly colors?: readonly string[];
  readonly grid?: "lines" | "none";
  /** Significant digits of the numbers at axes, by unit. */
  readonly digits?: Readonly<Record<string, number>>;
}
