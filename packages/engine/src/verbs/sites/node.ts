import { numbers } from "./site-parameters.js";
import { siteWord } from "./site-word.js";

export const nodeWord = siteWord({
  name: "node",
  doc: "Points of the mesh by their numbers in the file, from 0.",
  examples: ['hall.sample(at.node([0, 100]), "temperature")'],
  parameters: { ids: numbers() },
  site: ({ ids }) => ({ kind: "nodes", ids }),
});
