export { runJob, warmUp, type JobResult } from "./job/run-job.js";
export { jobRequestSchema, type JobRequest, type JobRequestInput } from "./job/request.js";
export type { JobEvent, OutputRecord, JobSummary, ExitCode } from "./job/events.js";
export { verifyManifest, readManifest, type Verification } from "./job/verify.js";
export { manifestDigest, manifestSchema, type Manifest } from "./job/manifest.js";
export { engineVersion } from "./job/fingerprint.js";
export { safeName } from "./job/safe-name.js";
export { tableSlice, thinned } from "./job/write-outputs.js";
export { OutputFolder, OutputFolderError, refuseStudies, removeOutputs } from "./outputs/output-folder.js";
export { diskReason, isDiskError, isNoRoom } from "./outputs/disk-errors.js";
export { isAlive, thisProcess, type ProcessIdentity } from "./store/process-identity.js";
export type { ScriptDiagnostic } from "./check/messages.js";
export { scanStudy, looksLikeTable } from "./study/catalogue.js";
export type { Catalogue, CatalogueRun, CatalogueFile, ColumnHead, Problem, Shape } from "./study/catalogue-model.js";
export {
  readDefinition,
  resolveFile,
  definitionSchema,
  definitionName,
  DefinitionError,
  type StudyDefinition,
  type ReaderChoices,
} from "./study/definition.js";
export { writeWhole } from "./store/write-whole.js";
export { studyTypes, scriptFiles, mergedColumns } from "./study/types.js";
export { fieldDifferences, usualShape } from "./study/field-differences.js";
export { selectRuns } from "./study/selector.js";
export { inside } from "./study/folders.js";
export { discoverRuns } from "./study/discover.js";
export type { Parameter } from "./study/raw-parameters.js";
export { unpackValue, packValue } from "./store/serialize.js";
export { ResultCache, trimCache } from "./store/cache.js";
export { FileReader } from "./workers/read-files.js";
export { Budget } from "./workers/budget.js";
export type { Remembered as IdentityRemembered } from "./store/identity.js";
export { isMesh, showMesh, shownComponents, type ShownMesh } from "./study/show-mesh.js";
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
} from "./study/survey.js";
export { showFile, type ShownFile } from "./study/show.js";
export type { LeftOut, Outcome, Value, Verdict } from "./operations/values.js";
export type { Asked } from "./graph/infer.js";
export type { AskedSite } from "./graph/asked-sites.js";
export type { CellState } from "./workers/protocol.js";
/** The module that a job's child process runs. */
export const jobProcess = new URL("./job/main.js", import.meta.url);
export { ruleRequests } from "./study/rules.js";
export { diffJobs, type JobDiff, type OutputDiff } from "./job/then-and-now.js";
export { archiveJob, checkArchiveFile, readArchive, writeArchive, type ArchivedJob } from "./job/archive.js";
export { chartStyleSchema, readStyle, styleFile, type HouseStyle } from "./job/chart-style.js";
export { dictionary } from "./dictionary.js";
