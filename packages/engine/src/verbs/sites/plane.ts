import { type Place } from "@oxtrum/core/sampling";
import { number } from "../parameters/kinds.js";
import { Mistake } from "../values.js";
import { bounds, place } from "./site-parameters.js";
import { siteWord } from "./site-word.js";

export const planeWord = siteWord({
  name: "plane",
  doc: "A plane across an axis, or through a point with any normal; within bounds if wanted.",
  examples: ['hall.reduce(at.plane({ x: 12, bounds: { z: [0, 2] } }), { T: { mean: "temperature" } })'],
  parameters: {
    x: number().option().optional(),
    y: number().option().optional(),
    z: number().option().optional(),
    through: place().option().optional(),
    normal: place().option().optional(),
    bounds: bounds().option().optional(),
  },
  alternatives: [
    ["x!", "bounds"],
    ["y!", "bounds"],
    ["z!", "bounds"],
    ["through!", "normal!", "bounds"],
  ],
  site: ({ x, y, z, through, normal, bounds }) => {
    const k = [x, y, z].findIndex((v) => v !== undefined);
    const within = bounds === undefined ? {} : { bounds };
    if (k >= 0) {
      const across: Place = k === 0 ? [1, 0, 0] : k === 1 ? [0, 1, 0] : [0, 0, 1];
      const at = [x, y, z][k]!;
      return { kind: "plane", point: [across[0] * at, across[1] * at, across[2] * at], normal: across, ...within };
    }
    if (!through || !normal)
      throw new Mistake("at.plane: say where it lies, as in { x: 12 } or { through: [12, 4, 1], normal: [1, 1, 0] }");
    return { kind: "plane", point: through, normal, ...within };
  },
});
