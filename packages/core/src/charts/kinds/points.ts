import { asDataset, type SeriesKind } from "./series-kind.js";

/** Markers at the points. */
export const points: SeriesKind = {
  kind: "points",
  datasets: ({ series: s, base, marked, at }) => [
    asDataset({ ...base, ...marked, type: "scatter", data: at(s.y), showLine: false }),
  ],
  legend: { marker: true },
  hasMarkers: true,
};
