/**
 * Simulations that are still running: what changes in a study's folder, quantities that grow, states of runs. Files
 * come in by core's growing readers and the names, units and rules of the study's definition; tables and states go to
 * the Live page and to the command `oxtrum run --watch`. May use `read` and what is below; jobs do not need it.
 */
export { agoOf, LiveRun, type LiveQuantity, type Progress } from "./followed-run.js";
export type { FollowedRun, FollowedStudy } from "./followed-study.js";
export { LiveStudy, slopeOf, type Followed, type LiveRunAnswer, type LiveSeries } from "./live-study.js";
export { StudyWatch, type Look } from "./study-watch.js";
