import type { PointNote, Series } from "@oxtrum/core/charts";
import { displayUnit, formatNumber } from "@oxtrum/core/tables";

/** Values to be written at the lowest and highest points of series. */
export function extremeNotes(
  series: readonly Series[],
  wants: ReadonlyMap<Series, "min" | "max" | "both">,
  units: { x: string | null; left: string | null; right: string | null },
  words: boolean,
): PointNote[] {
  const notes: PointNote[] = [];
  series.forEach((s, index) => {
    const want = wants.get(s);
    if (want === undefined) return;
    for (const sign of [1, -1]) {
      if ((sign === 1 && want === "min") || (sign === -1 && want === "max")) continue;
      let best = -1;
      for (let i = 0; i < s.y.length; i++)
        if (Number.isFinite(s.y[i]) && (best < 0 || sign * s.y[i]! > sign * s.y[best]!)) best = i;
      if (best < 0) continue;
      const with_ = (v: number, unit: string | null): string =>
        `${formatNumber(v, 4)}${displayUnit(unit) ? ` ${displayUnit(unit)}` : ""}`;
      const value = with_(s.y[best]!, s.axis === "right" ? units.right : units.left);
      notes.push({
        series: index,
        x: s.x[best]!,
        y: s.y[best]!,
        text: words ? value : `${value} at ${with_(s.x[best]!, units.x)}`,
      });
    }
  });
  // More than a dozen would hide what they are about.
  return notes.length > 12 ? [] : notes;
}
