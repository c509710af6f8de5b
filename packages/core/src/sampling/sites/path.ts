import { z } from "zod";
import { along, splineThrough } from "../paths.js";
import { block, count, places, siteKind } from "./site-kind.js";

/** Places that a path runs through; with `spline` rounded through them instead of straight between them. */
export const pathShape = { through: places(2), spline: z.boolean().optional() };
const schema = z.strictObject({ ...block, kind: z.literal("path"), ...pathShape, count: count.min(2) });

/** Evenly spaced places along a path; its axis is the distance from its start. */
export const path = siteKind<z.infer<typeof schema>>({
  kind: "path",
  schema,
  places: (s) => along(s.spline ? splineThrough(s.through) : s.through, s.count),
  highestBlocks: true,
  staysOverTime: true,
  count: (s) => s.count,
  fewest: (s) => ({ ...s, count: 2 }),
});
