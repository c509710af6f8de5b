/**
 * Sampling: fields at sites. A field at one time (blocks of meshes with values) and a site (`sites`) go in, tables
 * come out: rows of places or cells, or reductions. Also what a picture needs to be drawn. May import mesh, formats
 * and tables.
 */
export type { DerivedField, FieldAtTime } from "./columns.js";
export { Block, componentNames, type NamedField, type ReadWatch } from "./field-set.js";
export { blockSummaries, type BlockSummary } from "./block-summaries.js";
export { unifiedFields, type FieldNote, type UnifiedFields } from "./unified-fields.js";
export { cachedBytes, forgetGeometry, limitCaches } from "./byte-cache.js";
export { withDerivatives, type Derivative } from "./derivatives.js";
export { OverTime, type TimeStatistic } from "./over-time.js";
export { reduceSite } from "./reduce.js";
export type { Load, Reduction, Reductions } from "./reductions.js";
export { cornersOf } from "./cell-rows.js";
export { sampleSite, settled, type SampleOptions } from "./sample.js";
export type { Method } from "./scattered/methods.js";
export {
  kindOf,
  piecesOf,
  placesOf,
  siteSchema,
  stationColumn,
  type LineAt,
  type Site,
  type SiteKind,
} from "./sites/index.js";
export { axis, bounds, count, place, places, range } from "./sites/site-kind.js";
export { lineShape } from "./sites/line.js";
export { pathShape } from "./sites/path.js";
export type { Axis, Box, Place } from "./places.js";
export type { DistanceAxis } from "./order-along.js";
export { directionsIn, viewOf, viewPart, type ViewOptions } from "./view.js";
