import type { ChartDescription, Series } from "./description.js";
import { lightTheme, printTheme, rampColor, type Theme } from "./palette.js";

/** How a chart is to be drawn; sizes in pixels of 1/96 inch. */
export interface ChartLook {
  readonly theme?: Theme;
  readonly width: number;
  readonly height: number;
  readonly fonts?: ChartFonts;
  /** Draw without title, legend and axis titles, for small pictures. */
  readonly small?: boolean;
  /** Legend texts whose series are switched off. */
  readonly hidden?: ReadonlySet<string>;
  /** One of several panels: which axis titles it has, and no legend. */
  readonly panel?: { readonly xTitle: boolean; readonly yTitle: boolean };
}

export interface ChartFonts {
  readonly sans: string;
  readonly mono: string;
}

/** The fonts by the names under which they ship. */
export const chartFonts: ChartFonts = {
  sans: '"IBM Plex Sans", "DejaVu Sans", sans-serif',
  mono: '"IBM Plex Mono", "DejaVu Sans", monospace',
};

/** A chart, what it is to look like, and what follows from both. */
export interface Drawing {
  readonly chart: ChartDescription;
  readonly look: ChartLook;
  readonly theme: Theme;
  readonly fonts: ChartFonts;
  /** Size of axis titles and legend; the rest follows from it. */
  readonly size: number;
  readonly titled: boolean;
}

export function drawingOf(chart: ChartDescription, look: ChartLook): Drawing {
  const base =
    look.theme?.name === "dark" ? look.theme : chart.theme === "print" ? printTheme : (look.theme ?? lightTheme);
  const colors = chart.style?.colors;
  return {
    chart,
    look,
    theme: colors && colors.length > 0 && base.name !== "dark" ? { ...base, series: colors } : base,
    fonts: look.fonts ?? chartFonts,
    size: chart.style?.textSize ?? 12,
    titled: look.small !== true,
  };
}

/** The colour of a series in a theme. */
export function seriesColor(theme: Theme, s: Series): string {
  return "ramp" in s.color ? rampColor(theme, s.color.ramp) : theme.series[s.color.palette % theme.series.length]!;
}
