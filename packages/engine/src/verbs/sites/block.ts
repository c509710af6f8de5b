import { text } from "../parameters/kinds.js";
import { siteWord } from "./site-word.js";

export const blockWord = siteWord({
  name: "block",
  doc: "A named part of a volume, or several by a pattern.",
  examples: ['walls.reduce(at.block("coil_*"), { area: { size: true } })'],
  parameters: { match: text().called("name").generic("B") },
  returns: "Site<B>",
  site: ({ match }) => ({ kind: "patch", match }),
});
