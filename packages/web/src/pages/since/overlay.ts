import type { ChartDescription, Series } from "@oxtrum/core/charts";

/** Greys for what was, whatever its colour is now. */
const THEN = { palette: 7 } as const;

const sameLine = (a: Series, b: Series): boolean =>
  a.x.length === b.x.length &&
  Array.from(a.x).every((v, i) => Object.is(v, b.x[i])) &&
  Array.from(a.y).every((v, i) => Object.is(v, b.y[i]));

/**
 * Two states of a chart on the same axes: the series of now in their colours over those of then in grey and dashed;
 * series that did not move are drawn once.
 */
export function overlaid(then: ChartDescription, now: ChartDescription): ChartDescription {
  if (then.panels && now.panels) {
    const panels = now.panels.map((p, k) => {
      const before = then.panels!.find((q) => q.title === p.title) ?? then.panels![k];
      return before ? overlaid(before, p) : p;
    });
    return { ...now, panels };
  }
  const before = then.series
    .filter((s) => !now.series.some((n) => n.name === s.name && n.kind === s.kind && sameLine(n, s)))
    .map((s): Series => ({ ...s, name: `${s.name}, then`, legend: "then", color: THEN, dash: 2 }));
  const { notes: _, ...rest } = now;
  // A range fixed for one state may cut the other one.
  return { ...rest, series: [...now.series, ...before] };
}
