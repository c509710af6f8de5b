import { number } from "../parameters/kinds.js";
import { count, place, placesAlong } from "./site-parameters.js";
import { siteWord } from "./site-word.js";

export const lineWord = siteWord({
  name: "line",
  doc: "Evenly spaced points on a line, both ends included. Rows are ordered by `distance`.",
  examples: ['hall.sample(at.line([12, 4, 0.1], [12, 4, 5.9], { count: 60 }), ["temperature", "velocity"])'],
  parameters: { from: place(), to: place(), count: count().option().optional(), step: number().option().optional() },
  site: ({ from, to, ...spacing }) => ({ kind: "line", from, to, count: placesAlong("at.line", spacing, [from, to]) }),
});
