import { z } from "zod";
import { along } from "../paths.js";
import { block, count, place, siteKind } from "./site-kind.js";

/** The ends of a line, and how many places it has, both ends among them. */
export const lineShape = { from: place, to: place, count: count.min(2) };
const schema = z.strictObject({ ...block, kind: z.literal("line"), ...lineShape });

/** Evenly spaced places on a line; its axis is the distance from its start. */
export const line = siteKind<z.infer<typeof schema>>({
  kind: "line",
  schema,
  places: (s) => along([s.from, s.to], s.count),
  highestBlocks: true,
  staysOverTime: true,
  count: (s) => s.count,
  fewest: (s) => ({ ...s, count: 2 }),
});
