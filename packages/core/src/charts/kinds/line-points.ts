import { asDataset, type SeriesKind } from "./series-kind.js";

/** Markers that a line joins. */
export const both: SeriesKind = {
  kind: "linePoints",
  datasets: ({ series: s, line, marked, at }) => [asDataset({ ...line, ...marked, data: at(s.y) })],
  legend: { line: true, marker: true },
  hasMarkers: true,
};
