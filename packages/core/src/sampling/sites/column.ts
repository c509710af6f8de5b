import { z } from "zod";
import type { Place } from "../places.js";
import type { line } from "./line.js";
import { axis, block, count, range, siteKind } from "./site-kind.js";

const schema = z.strictObject({
  ...block,
  kind: z.literal("column"),
  /** Its two other coordinates, in the order of the axes. */
  place: range,
  along: axis,
  from: z.number().optional(),
  to: z.number().optional(),
  count: count.min(2),
});
export type Column = z.infer<typeof schema>;

/** The line that a column is, from the mesh's lower to its upper end where it says no heights. */
function lineOf(site: Column, bounds: readonly number[]): z.infer<(typeof line)["schema"]> {
  const k = "xyz".indexOf(site.along);
  const low = site.from ?? bounds[2 * k]!;
  let high = site.to ?? bounds[2 * k + 1]!;
  if (!(high > low)) high = low + 1;
  const end = (v: number): Place => {
    const [a, b] = site.place;
    return k === 0 ? [v, a, b] : k === 1 ? [a, v, b] : [a, b, v];
  };
  return { kind: "line", from: end(low), to: end(high), count: site.count };
}

/** An upright line through the whole mesh, or from one height to another. */
export const column = siteKind<Column>({
  kind: "column",
  schema,
  settled: lineOf,
  highestBlocks: true,
  staysOverTime: true,
  fewest: (s) => ({ ...s, count: 2 }),
});
