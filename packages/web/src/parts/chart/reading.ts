import type { ChartDescription, Series } from "@oxtrum/core/charts";

/** What a crosshair reads off at a place. */
export interface Reading {
  readonly left: number;
  readonly x: number;
  readonly rows: readonly { readonly name: string; readonly color: string; readonly value: number }[];
}

function nearest(s: Series, x: number): number {
  let best = -1;
  for (let i = 0; i < s.x.length; i++) if (best < 0 || Math.abs(s.x[i]! - x) < Math.abs(s.x[best]! - x)) best = i;
  return best;
}

/** The values of all lines that are drawn, at the point nearest to a place along the bottom. */
export const valuesAt = (
  chart: ChartDescription,
  colors: readonly string[],
  hidden: ReadonlySet<string>,
  x: number,
): Reading["rows"] =>
  chart.series.flatMap((s, i) => {
    if (s.kind === "band" || s.faint || hidden.has(s.legend ?? s.name)) return [];
    const k = nearest(s, x);
    return k < 0 || Number.isNaN(s.y[k]) ? [] : [{ name: s.name, color: colors[i]!, value: s.y[k]! }];
  });
