import type { ChartDescription } from "@oxtrum/core/charts";
import type { OutputValue } from "@oxtrum/contract";

type Raw = Extract<OutputValue, { kind: "chart" }>["chart"];

const filled = (values: readonly (number | null)[]): Float64Array => Float64Array.from(values, (v) => v ?? Number.NaN);

/** A chart as it came over the wire, with gaps as NaN again. */
export function chartFromWire(raw: Raw): ChartDescription {
  const one = (c: Omit<Raw, "panels">): object => ({
    ...c,
    series: c.series.map((s) => ({
      ...s,
      x: filled(s.x),
      y: filled(s.y),
      ...(s.high && { high: filled(s.high) }),
      ...(s.low && { low: filled(s.low) }),
    })),
    ...(c.heat && { heat: { ...c.heat, x: filled(c.heat.x), y: filled(c.heat.y), values: filled(c.heat.values) } }),
  });
  return { ...one(raw), ...(raw.panels && { panels: raw.panels.map(one) }) } as ChartDescription;
}
