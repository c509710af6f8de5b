import { emitWord } from "./emit-word.js";

export const chartWord = emitWord({
  name: "chart",
  doc:
    "A chart, as SVG and PNG unless said otherwise; SVG and PDF are vectors with their text in " +
    "embedded fonts, CSV holds the numbers that are drawn.",
  examples: [
    'emit.chart("hall air", chart.lines(t, { x: "time", y: "T_mean", size: ["160 mm", "90 mm"] }), { formats: ["pdf", "csv"] })',
  ],
  signature: '(name: string, chart: Chart, options?: { formats?: ("svg" | "png" | "pdf" | "csv")[] }): void',
  takes: "chart",
});
