import { asDataset, type SeriesKind } from "./series-kind.js";

/** Values that hold until the next one. */
export const steps: SeriesKind = {
  kind: "steps",
  datasets: ({ series: s, line, at }) => [asDataset({ ...line, stepped: "before", data: at(s.y) })],
  legend: { line: true },
  keepsAllPoints: true,
};
