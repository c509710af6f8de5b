import { siteWord } from "./site-word.js";

export const allWord = siteWord({
  name: "all",
  doc: "All cells of the mesh.",
  examples: ['hall.reduce(at.all(), { T: { mean: "temperature" }, volume: { size: true } })'],
  parameters: {},
  site: () => ({ kind: "all" }),
});
