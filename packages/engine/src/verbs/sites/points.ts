import { text } from "../parameters/kinds.js";
import { placesOrTable, words } from "./site-parameters.js";
import { siteWord } from "./site-word.js";

export const pointsWord = siteWord({
  name: "points",
  doc:
    "Several places, with names if wanted. The places of a table beside the runs: its columns `x`, " +
    "`y` and `z` in any order (or those named), converted to the mesh's unit; names from its first " +
    "column of words.",
  examples: [
    'hall.sample(at.points([[12, 4, 1], [12, 4, 5]], { names: ["low", "high"] }), "temperature")',
    'hall.sample(at.points(study("coldstore-doors").table("points/product.csv")), "temperature")',
  ],
  parameters: {
    places: placesOrTable(),
    names: words().option().optional(),
    x: text("NumberName<C>").option().otherwise("x"),
    y: text("NumberName<C>").option().otherwise("y"),
    z: text("NumberName<C>").option().otherwise("z"),
    name: text("Name<C>").option().optional(),
  },
  generics: ["C"],
  site: ({ places, names, x, y, z, name }) =>
    "file" in places
      ? { kind: "points of a table", table: { ...places, columns: { x, y, z, ...(name !== undefined && { name }) } } }
      : { kind: "points", places, ...(names && { names }) },
});
