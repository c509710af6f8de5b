import { range } from "@oxtrum/core/sampling";
import { choice, number } from "../parameters/kinds.js";
import { count, shape } from "./site-parameters.js";
import { siteWord } from "./site-word.js";

export const columnWord = siteWord({
  name: "column",
  doc: "An upright line through the whole mesh, or from one height to another; for levels, too.",
  examples: ['hall.sample(at.column([12, 4]), "temperature")'],
  parameters: {
    place: shape(range, "[number, number]"),
    along: choice("x", "y", "z").option().otherwise("z"),
    from: number().option().optional(),
    to: number().option().optional(),
    count: count().option().otherwise(200),
  },
  site: (given) => ({ kind: "column", ...given }),
});
