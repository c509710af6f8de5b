import { z } from "zod";
import { type Place } from "@oxtrum/core/sampling";
import { place, shape } from "./site-parameters.js";
import { siteWord } from "./site-word.js";

export const gridWord = siteWord({
  name: "grid",
  doc: "Places in rows and layers.",
  examples: ['hall.sample(at.grid({ origin: [2, 4, 1], step: [2, 1, 1], count: [5, 3, 3] }), "temperature")'],
  parameters: {
    origin: place().option(),
    step: place().option(),
    count: shape(
      z.tuple([z.number(), z.number(), z.number()]) as unknown as z.ZodType<Place>,
      "[number, number, number]",
    ).option(),
  },
  site: (given) => ({ kind: "grid", ...given }),
});
