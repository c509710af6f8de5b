import { flag, number } from "../parameters/kinds.js";
import { count, places, placesAlong } from "./site-parameters.js";
import { siteWord } from "./site-word.js";

export const pathWord = siteWord({
  name: "path",
  doc: "Evenly spaced points along straight pieces, or with `spline` along a rounded path through the given points.",
  examples: ['hall.sample(at.path([[2, 4, 1], [12, 4, 1], [12, 10, 1]], { count: 80, spline: true }), "temperature")'],
  parameters: {
    through: places(2),
    count: count().option().optional(),
    step: number().option().optional(),
    spline: flag().option().optional(),
  },
  site: ({ through, spline, ...spacing }) => ({
    kind: "path",
    through,
    ...(spline && { spline }),
    count: placesAlong("at.path", spacing, through),
  }),
});
