import { asDataset, type SeriesKind } from "./series-kind.js";

/** The area between two edges, or within a closed shape. */
export const band: SeriesKind = {
  kind: "band",
  datasets: ({ series: s, color, line, at }) => {
    const fill = color + "30";
    const edge = { ...line, borderWidth: 0.6, borderColor: color + "70", borderDash: [] };
    if (s.closed) return [asDataset({ ...edge, backgroundColor: fill, fill: "shape", data: at(s.y) })];
    return [
      asDataset({ ...edge, label: "", data: at(s.y) }),
      asDataset({ ...edge, backgroundColor: fill, fill: "-1", data: at(s.high ?? s.y) }),
    ];
  },
  legend: { area: "40" },
  thinning: "area",
  isBackground: true,
  hasEdges: true,
};
