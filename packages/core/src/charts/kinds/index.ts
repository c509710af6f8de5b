/**
 * Kinds of series, a file each: how one is drawn, thinned, and shown in a legend. Adding one takes its file and its
 * line here. In: descriptions of charts. Out: datasets and shapes for the drawing; which columns become series is the
 * engine's (`verbs/charts/kinds`).
 */
import type { Series } from "../description.js";
import { band } from "./band.js";
import { bars } from "./bars.js";
import { both } from "./line-points.js";
import { box } from "./box.js";
import { errors } from "./error-bars.js";
import { lines } from "./lines.js";
import { points } from "./points.js";
import type { SeriesKind } from "./series-kind.js";
import { steps } from "./steps.js";

const kinds: ReadonlyMap<string, SeriesKind> = new Map(
  [lines, points, both, steps, bars, band, errors, box].map((k) => [k.kind, k]),
);

/** The kind of a series. @throws Error for one that is not known */
export function seriesKind(s: Pick<Series, "kind">): SeriesKind {
  const found = kinds.get(s.kind);
  if (!found) throw new Error(`there is no kind of series "${s.kind}"; there is ${[...kinds.keys()].join(", ")}`);
  return found;
}
