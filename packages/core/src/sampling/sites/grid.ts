import { z } from "zod";
import type { Place } from "../places.js";
import { block, count, MOST_PLACES, place, siteKind } from "./site-kind.js";

const schema = z.strictObject({
  ...block,
  kind: z.literal("grid"),
  origin: place,
  step: place,
  count: z.tuple([count, count, count]) as unknown as z.ZodType<Place>,
});

const size = ({ count: [a, b, c] }: { readonly count: readonly [number, number, number] }): number => a * b * c;

/** Places in rows and layers, x fastest. */
export const grid = siteKind<z.infer<typeof schema>>({
  kind: "grid",
  schema,
  called: "grid of points",
  places: (s) => {
    const [a, b, c] = s.count;
    if (size(s) > MOST_PLACES) throw new Error(`a grid of ${a} × ${b} × ${c} places is more than ten million`);
    const xyz = new Float64Array(3 * size(s));
    let at = 0;
    for (let k = 0; k < c; k++)
      for (let j = 0; j < b; j++)
        for (let i = 0; i < a; i++) [i, j, k].forEach((n, d) => void (xyz[at++] = s.origin[d]! + n * s.step[d]!));
    return { xyz };
  },
  highestBlocks: true,
  staysOverTime: true,
  count: size,
  fewest: (s) => ({ ...s, count: [1, 1, 1] }),
});
