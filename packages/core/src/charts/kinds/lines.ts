import { fillsRoom } from "../series-points.js";
import { asDataset, type SeriesKind } from "./series-kind.js";

/** Straight lines from point to point. */
export const lines: SeriesKind = {
  kind: "lines",
  datasets: ({ drawing, series: s, line, at }) => {
    const data = at(s.y);
    // A dash cannot be told from another one where the line fills its room; drawing it there takes ten times as long.
    const dash = line.borderDash.length > 0 && fillsRoom(drawing, s, data) ? [] : line.borderDash;
    return [asDataset({ ...line, borderDash: dash, data, ...(s.x.length === 1 && { pointRadius: 3 }) })];
  },
  legend: { line: true },
  thinning: "line",
};
