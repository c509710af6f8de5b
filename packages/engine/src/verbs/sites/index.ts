/**
 * The words by which scripts name sites (`at.line`, `at.plane`, …), a file each: what a script gives, as parameters,
 * and the site of core that it means. Adding one takes its file and its line here; a new kind of site needs its file in
 * core's `sampling/sites` besides.
 */
import { allWord } from "./all.js";
import { blockWord } from "./block.js";
import { cellWord } from "./cell.js";
import { columnWord } from "./column.js";
import { gridWord } from "./grid.js";
import { isoWord } from "./iso.js";
import { lineWord } from "./line.js";
import { nodeWord } from "./node.js";
import { patchWord } from "./patch.js";
import { pathWord } from "./path.js";
import { planeWord } from "./plane.js";
import { pointWord } from "./point.js";
import { pointsWord } from "./points.js";
import { stationsWord } from "./stations.js";
import type { SiteWord } from "./site-word.js";

/** In the order in which the Guide shows them. */
export const siteWords: readonly SiteWord[] = [
  pointWord,
  pointsWord,
  lineWord,
  pathWord,
  gridWord,
  planeWord,
  patchWord,
  blockWord,
  allWord,
  columnWord,
  stationsWord,
  nodeWord,
  cellWord,
  isoWord,
];
