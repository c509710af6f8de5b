import { z } from "zod";
import { planePieces } from "../pieces.js";
import { partsOf } from "./parts.js";
import { block, bounds, place, siteKind } from "./site-kind.js";

const schema = z.strictObject({
  ...block,
  kind: z.literal("plane"),
  point: place,
  normal: place,
  bounds: bounds.optional(),
});
type Plane = z.infer<typeof schema>;

/** The cut of a plane through the cells, within bounds if wanted. */
export const plane = siteKind<Plane>({
  kind: "plane",
  schema,
  parts: (f, s) => partsOf(f.blocks, (b) => planePieces(b, s.point, s.normal, s.bounds)),
  highestBlocks: true,
  ofCells: true,
  staysOverTime: false,
  picture: { rim: true, outline: false },
});
