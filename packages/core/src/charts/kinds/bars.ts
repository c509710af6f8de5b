import { asDataset, type SeriesKind } from "./series-kind.js";

/** Bars from zero, side by side or on each other. */
export const bars: SeriesKind = {
  kind: "bars",
  datasets: ({ series: s, base, color, at }) => [
    asDataset({
      ...base,
      type: "bar",
      data: at(s.y),
      ...(s.touching ? { barPercentage: 1, categoryPercentage: 1, barThickness: "flex" } : { maxBarThickness: 40 }),
      backgroundColor: color + "CC",
      borderWidth: 1,
      ...(s.stack !== undefined && { stack: s.stack }),
    }),
  ],
  legend: { area: "CC" },
  keepsAllPoints: true,
  isBars: true,
  isBroad: true,
};
