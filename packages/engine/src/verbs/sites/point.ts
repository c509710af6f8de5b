import { text } from "../parameters/kinds.js";
import { place } from "./site-parameters.js";
import { siteWord } from "./site-word.js";

export const pointWord = siteWord({
  name: "point",
  doc: "One point.",
  examples: ['hall.sample(at.point([12, 4, 1.5]), ["temperature"])'],
  parameters: { place: place(), name: text().option().optional() },
  site: ({ place, name }) => ({ kind: "points", places: [place], ...(name !== undefined && { names: [name] }) }),
});
