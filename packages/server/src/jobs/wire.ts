import { tableSlice, thinned, type Value } from "@oxtrum/engine";

/** Numbers as they travel: arrays, with gaps as null. */
const plain = (v: unknown): unknown =>
  JSON.parse(
    JSON.stringify(v, (_, x: unknown) =>
      ArrayBuffer.isView(x) ? Array.from(x as unknown as number[], (n) => (Number.isFinite(n) ? n : null)) : x,
    ),
  );

/** Points of all series of a chart together that a page can still draw at once. */
const CHART_POINTS = 240_000;
/** Of each stretch of a curve up to four points are kept. */
const KEPT = 4;

/** A value for a page: rows of a table, a chart thinned within a range of x, or the value as it is. */
export function wireOf(v: Value, from: number | undefined, to: number | undefined): unknown {
  const left = v.left ?? [];
  if (v.kind === "table") return { kind: "table", left, ...tableSlice(v.table, from ?? 0, to ?? (from ?? 0) + 2000) };
  if (v.kind === "chart")
    return plain({
      kind: "chart",
      left,
      runs: v.runs ?? [],
      chart: thinned(
        v.chart,
        from,
        to,
        Math.max(20, Math.min(2000, Math.floor(CHART_POINTS / KEPT / Math.max(1, v.chart.series.length)))),
      ),
    });
  if (v.kind === "picture")
    return {
      kind: "picture",
      left,
      runs: v.runs ?? [],
      panels: v.picture.panels.length,
      frames: v.picture.frames === true,
      titles: v.picture.panels.map((p) => p.title ?? ""),
    };
  return plain({ ...v, left });
}
