import { text } from "../parameters/kinds.js";
import { rawAmount } from "./site-parameters.js";
import { siteWord } from "./site-word.js";

export const isoWord = siteWord({
  name: "iso",
  doc: "The surface on which a field has a value.",
  examples: ['hall.reduce(at.iso("temperature", "276 K"), { area: { size: true } })'],
  parameters: { field: text(), value: rawAmount() },
  site: (given) => ({ kind: "iso", ...given }),
});
