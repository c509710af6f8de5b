import { bundled } from "./bundled.js";
export { runJob, warmUp, type JobResult } from "./job/run-job.js";
export { runUnlessUnchanged } from "./job/unchanged.js";
export { jobRequestSchema, type JobRequest, type JobRequestInput } from "./record/request.js";
export type { JobEvent, OutputRecord, JobSummary, ExitCode } from "./record/events.js";
export { verifyManifest, readManifest, type Verification } from "./job/verify.js";
export { manifestDigest, manifestSchema, type Manifest } from "./record/manifest.js";
export { engineVersion } from "./record/fingerprint.js";
export { safeName } from "./outputs/safe-name.js";
export { tableSlice } from "./outputs/table-slice.js";
export { thinned } from "./outputs/thinned.js";
export { OutputFolder, OutputFolderError, refuseStudies, removeOutputs } from "./outputs/output-folder.js";
export { diskReason, isDiskError, isNoRoom } from "./store/disk-errors.js";
export { isAlive, thisProcess, type ProcessIdentity } from "./store/process-identity.js";
export type { ScriptDiagnostic } from "./check/messages.js";
export { scanStudy, looksLikeTable } from "./study/catalogue.js";
export type {
  Catalogue,
  CatalogueRun,
  CatalogueFile,
  ColumnHead,
  Problem,
  Shape,
} from "./definition/catalogue-model.js";
export {
  readDefinition,
  logicalName,
  resolveFile,
  definitionSchema,
  definitionName,
  DefinitionError,
  type StudyDefinition,
  type ReaderChoices,
} from "./definition/definition.js";
export { keptNames, keptPlace } from "./store/kept-places.js";
export { writeWhole } from "./store/write-whole.js";
export { studyTypes, scriptFiles, mergedColumns } from "./study/types.js";
export { fieldAxisUnit } from "./definition/declared-units.js";
export { fieldDifferences, usualShape } from "./study/field-differences.js";
export { selectRuns } from "./study/selector.js";
export { inside } from "./definition/folders.js";
export { discoverRuns } from "./study/discover.js";
export type { Parameter } from "./definition/raw-parameters.js";
export { unpackValue, packValue } from "./store/serialize.js";
export { ResultCache, trimCache } from "./store/cache.js";
export { FileReader } from "./read/read-files.js";
export { Budget } from "./read/budget.js";
export type { Remembered as IdentityRemembered } from "./store/identity.js";
export * from "./follow/index.js";
export { runStates, type RunState, type RunStateName } from "./definition/states.js";
export { isMesh, showMesh, shownComponents, type ShownMesh } from "./inspect/show-mesh.js";
export {
  surveyDrawing,
  surveyOutline,
  surveyPicture,
  surveyReduce,
  surveySample,
  type Drawing,
  type Outline,
  type Picture,
  type Surveyed,
} from "./inspect/survey.js";
export { showFile, type ShownFile } from "./inspect/show.js";
export { reasonText, type ExcludedRun, type Outcome, type Value, type Verdict } from "./verbs/values.js";
export type { Asked } from "./scheduler/infer.js";
export type { AskedSite } from "./scheduler/asked-sites.js";
export type { CellState } from "./scheduler/protocol.js";
/** The module that a job's child process runs. */
export const jobProcess = bundled("job.cjs") ?? new URL("./job/main.js", import.meta.url);
export { ruleRequests } from "./definition/rules.js";
export { diffJobs, type JobDiff, type OutputDiff } from "./diff-jobs/then-and-now.js";
export { archiveJob, checkArchiveFile, readArchive, writeArchive, type ArchivedJob } from "./job/archive.js";
export { chartStyleSchema, readStyle, styleFile, type HouseStyle } from "./record/chart-style.js";
export { dictionary } from "./dictionary.js";
