import { numbers } from "./site-parameters.js";
import { siteWord } from "./site-word.js";

export const cellWord = siteWord({
  name: "cell",
  doc: "Cells by their numbers in the file, from 0.",
  examples: ['hall.sample(at.cell(17), "temperature")'],
  parameters: { ids: numbers() },
  site: ({ ids }) => ({ kind: "cells", ids }),
});
