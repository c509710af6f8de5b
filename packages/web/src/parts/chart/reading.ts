import type { ChartAxis, ChartDescription, Series } from "@oxtrum/core/charts";

/** What a crosshair reads off at a place. */
export interface Reading {
  readonly left: number;
  readonly x: number;
  readonly rows: readonly {
    readonly name: string;
    readonly color: string;
    readonly value: number;
    /** Of the axis that the series belongs to. */
    readonly unit: string | null;
  }[];
}

/** As an axis places its numbers, and back. */
const placing = (a: ChartAxis): readonly [to: (v: number) => number, from: (v: number) => number] =>
  a.scale === "log" ? [Math.log, Math.exp] : [(v) => v, (v) => v];

/** The value of a line where it is drawn: on the straight piece between two points; undefined where there is none. */
function onLine(s: Series, x: number, along: ChartAxis, up: ChartAxis): number | undefined {
  const [px] = placing(along);
  const [py, value] = placing(up);
  for (let i = 0; i < s.x.length; i++) {
    if (s.x[i] === x && !Number.isNaN(s.y[i])) return s.y[i]!;
    const [a, b] = [s.x[i]!, s.x[i + 1] ?? Number.NaN];
    if (!((a < x && x < b) || (b < x && x < a)) || Number.isNaN(s.y[i]) || Number.isNaN(s.y[i + 1])) continue;
    // A step holds until the next one.
    if (s.kind === "steps") return s.y[i]!;
    const share = (px(x) - px(a)) / (px(b) - px(a));
    return value(py(s.y[i]!) + share * (py(s.y[i + 1]!) - py(s.y[i]!)));
  }
  return undefined;
}

/** The value of the point nearest to a place, of those that are near enough to it to be pointed at. */
function atPoint(s: Series, x: number, reach: number): number | undefined {
  let best: number | undefined;
  let near = reach;
  for (let i = 0; i < s.x.length; i++) {
    const away = Math.abs(s.x[i]! - x);
    if (!(away <= near) || Number.isNaN(s.y[i])) continue;
    [best, near] = [s.y[i]!, away];
  }
  return best;
}

const isLine = (s: Series): boolean => s.kind === "lines" || s.kind === "linePoints" || s.kind === "steps";

/**
 * The values of all series that are drawn, at a place along the bottom: of lines where they are drawn, of others at
 * their nearest point. What does not reach there, or has a gap, has no value.
 *
 * @param reach how far a point may be from the place, in the unit of `x`
 */
export const valuesAt = (
  chart: ChartDescription,
  colors: readonly string[],
  hidden: ReadonlySet<string>,
  x: number,
  reach: number,
): Reading["rows"] =>
  chart.series.flatMap((s, i) => {
    if (s.kind === "band" || s.faint || hidden.has(s.legend ?? s.name)) return [];
    const axis = s.axis === "right" && chart.right ? chart.right : chart.y;
    const value = (isLine(s) ? onLine(s, x, chart.x, axis) : undefined) ?? atPoint(s, x, reach);
    return value === undefined ? [] : [{ name: s.name, color: colors[i]!, value, unit: axis.unit }];
  });
