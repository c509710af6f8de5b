import { text } from "../parameters/kinds.js";
import { siteWord } from "./site-word.js";

export const patchWord = siteWord({
  name: "patch",
  doc: "Blocks by name or pattern: on files of surfaces these are its patches.",
  examples: ['walls.reduce(at.patch("floor"), { heat: { integral: "heat_flux" } })'],
  parameters: { match: text().called("name").generic("B") },
  returns: "Site<B>",
  site: ({ match }) => ({ kind: "patch", match }),
});
