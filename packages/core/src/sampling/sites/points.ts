import { z } from "zod";
import { block, places, siteKind } from "./site-kind.js";

const schema = z.strictObject({
  ...block,
  kind: z.literal("points"),
  places: places(),
  names: (z.array(z.string()) as z.ZodType<readonly string[]>).optional(),
});

/** Single places, with names if wanted. */
export const points = siteKind<z.infer<typeof schema>>({
  kind: "points",
  schema,
  called: "set of points",
  places: (s) => ({ xyz: Float64Array.from(s.places.flat()), ...(s.names && { names: s.names }) }),
  highestBlocks: true,
  staysOverTime: true,
  count: (s) => s.places.length,
  fewest: (s) => ({ ...s, places: s.places.slice(0, 1), names: s.names?.slice(0, 1) }),
});
