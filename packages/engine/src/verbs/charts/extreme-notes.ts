import type { PointNote, Series } from "@oxtrum/core/charts";
import { displayUnit, formatNumber, type Condition } from "@oxtrum/core/tables";

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
  return notes;
}

/** More values than these, written in a chart, would hide what they are about: then none is. */
export const MOST_NOTES = 12;

/** What is said where values were to be written in a chart, and are too many. */
export const notWritten = (count: number, title: string | undefined): Condition => ({
  kind: "not drawn",
  file: "",
  text:
    `the ${count} lowest or highest values${title === undefined ? "" : ` of "${title}"`} are not written: ` +
    `more than ${MOST_NOTES} would hide the curves`,
});
