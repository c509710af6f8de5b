/**
 * Kinds of charts, a file each: the options that a script gives, the columns that they read, and the series that come
 * out. Adding one takes its file and its line here; a kind of series that is drawn in a new way needs its file in
 * core's `charts/kinds` besides.
 */
import { bandLayer } from "./band.js";
import { barsLayer } from "./bars.js";
import { linePointsLayer } from "./line-points.js";
import { boxLayer } from "./box.js";
import { errorBarsLayer } from "./error-bars.js";
import { heatLayer } from "./heat.js";
import { histogramLayer } from "./histogram.js";
import { linesLayer } from "./lines.js";
import { parityLayer } from "./parity.js";
import { pointsLayer } from "./points.js";
import { residualsLayer } from "./residuals.js";
import { stepsLayer } from "./steps.js";
import type { LayerKind } from "../layer-kind.js";

/** In the order in which the Guide shows them. */
export const layerKinds: readonly LayerKind[] = [
  linesLayer,
  pointsLayer,
  linePointsLayer,
  stepsLayer,
  barsLayer,
  bandLayer,
  errorBarsLayer,
  boxLayer,
  histogramLayer,
  heatLayer,
  parityLayer,
  residualsLayer,
];

const byName = new Map(layerKinds.map((k) => [k.name, k]));

/** A kind of chart by its name. @throws Error for one that is not known */
export function layerKindOf(name: string): LayerKind {
  const found = byName.get(name);
  if (!found) throw new Error(`there is no chart.${name}`);
  return found;
}
