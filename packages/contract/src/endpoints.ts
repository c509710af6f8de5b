import { z } from "zod";
import { guideSchema } from "./guide.js";
import { jobDiffSchema, jobHeadSchema, jobSchema, startJobSchema, toleranceSchema, verificationSchema } from "./job.js";
import { valueSchema } from "./output-value.js";
import { previewRequestSchema, previewSchema, verdictsSchema } from "./preview.js";
import {
  additionRequestSchema,
  additionSchema,
  checkSchema,
  emittedRequestSchema,
  emittedSchema,
  completionSchema,
  hoverSchema,
  offsetSchema,
  preflightSchema,
  renameScriptSchema,
  revisionListSchema,
  revisionSchema,
  saveScriptSchema,
  scriptListSchema,
  scriptSchema,
  textSchema,
} from "./script.js";
import {
  liveRequestSchema,
  liveStudySchema,
  logLinesSchema,
  logMatchRequestSchema,
  logMatchSchema,
  logRequestSchema,
} from "./live.js";
import { settingsSchema } from "./settings.js";
import {
  addStudySchema,
  addedStudySchema,
  curvesRequestSchema,
  curvesSchema,
  rowsRequestSchema,
  seriesRequestSchema,
  seriesSchema,
  studyListSchema,
  studySchema,
} from "./study.js";
import {
  drawingRequestSchema,
  drawingSchema,
  outlineRequestSchema,
  outlineSchema,
  pictureSchema,
  sampleSchema,
  surveyRequestSchema,
} from "./survey.js";

/** One request that the server answers. */
export interface Endpoint {
  readonly method: "GET" | "POST" | "PUT" | "DELETE";
  /** Path with parameters as `:name`. */
  readonly path: string;
  /** A sentence for the HTTP API page. */
  readonly about: string;
  readonly body?: z.ZodType;
  readonly query?: z.ZodType;
  /** JSON of the answer; a text says what else it is; none: no content. */
  readonly answer?: z.ZodType | string;
  /** Of success. */
  readonly status?: number;
  /** It is answered without the token. */
  readonly open?: true;
}

const range = z.object({ from: z.coerce.number().optional(), to: z.coerce.number().optional() });
const health = z.object({ ok: z.boolean(), version: z.string() });
const session = z.object({ signedIn: z.boolean(), asksForToken: z.boolean() });
const signIn = z.object({ token: z.string().min(1).max(1000) });
const rows = z.object({ rows: z.number() }).loose();

/** All requests that the server answers, by group. The server's routes, the page and the HTTP API page follow it. */
export const endpoints = {
  Server: [
    {
      method: "GET",
      path: "/api/health",
      about: "Whether the server runs, and its version.",
      answer: health,
      open: true,
    },
    {
      method: "GET",
      path: "/api/session",
      about: "Whether a token is asked for, and given.",
      answer: session,
      open: true,
    },
    { method: "POST", path: "/api/session", about: "Signs in with the token.", body: signIn, status: 204, open: true },
    { method: "DELETE", path: "/api/session", about: "Signs out.", status: 204, open: true },
    { method: "GET", path: "/api/settings", about: "The server's settings.", answer: settingsSchema },
    { method: "PUT", path: "/api/settings", about: "Sets them.", body: settingsSchema, answer: settingsSchema },
    { method: "GET", path: "/api/guide", about: "The reference of the script library.", answer: guideSchema },
    {
      method: "GET",
      path: "/api/events",
      about:
        "The live stream, as server-sent events: changes of resources, states of jobs, progress of " +
        "scans; with `jobs=all` also what jobs tell. `Last-Event-ID` asks for the messages after that " +
        "one.",
      query: z.object({ jobs: z.literal("all").optional() }),
      answer: "text/event-stream",
    },
  ],
  Studies: [
    { method: "GET", path: "/api/studies", about: "All studies.", answer: studyListSchema },
    {
      method: "POST",
      path: "/api/studies",
      about: "Adds a folder as a study.",
      body: addStudySchema,
      answer: addedStudySchema,
      status: 201,
    },
    {
      method: "GET",
      path: "/api/studies/:name",
      about: "A study: runs, parameters, files, fields.",
      answer: studySchema,
    },
    {
      method: "DELETE",
      path: "/api/studies/:name",
      about: "Removes a study from the list; its files stay.",
      status: 204,
    },
    { method: "POST", path: "/api/studies/:name/scan", about: "Scans the folder again.", answer: studySchema },
    {
      method: "GET",
      path: "/api/studies/:name/verdicts",
      about: "Which runs the acceptance rules of the study accept.",
      answer: verdictsSchema,
    },
    {
      method: "POST",
      path: "/api/studies/:name/series",
      about: "One column over its axis, of many runs, thinned to so many points.",
      body: seriesRequestSchema,
      answer: seriesSchema,
    },
    {
      method: "GET",
      path: "/api/studies/:name/curves",
      about: "What the columns of a table of a run look like: each over its axis, thinned; 200 of them at most.",
      query: curvesRequestSchema,
      answer: curvesSchema,
    },
    {
      method: "GET",
      path: "/api/studies/:name/rows",
      about: "Rows of one table of a run, 1,000 at most.",
      query: rowsRequestSchema,
      answer: rows,
    },
    {
      method: "POST",
      path: "/api/studies/:name/survey/outline",
      about: "The outer surface of a mesh, its times and patches.",
      body: outlineRequestSchema,
      answer: outlineSchema,
    },
    {
      method: "POST",
      path: "/api/studies/:name/survey/drawing",
      about: "Lines and points of sites, to be drawn over a mesh.",
      body: drawingRequestSchema,
      answer: drawingSchema,
    },
    {
      method: "POST",
      path: "/api/studies/:name/survey/picture",
      about: "Values of a field on triangles of a site.",
      body: surveyRequestSchema,
      answer: pictureSchema,
    },
    {
      method: "POST",
      path: "/api/studies/:name/survey/sample",
      about: "Values of fields at a site's points.",
      body: surveyRequestSchema,
      answer: sampleSchema,
    },
    {
      method: "POST",
      path: "/api/studies/:name/survey/reduce",
      about: "Mean, minimum, maximum and flow of fields over a site.",
      body: surveyRequestSchema,
      answer: sampleSchema,
    },
    {
      method: "POST",
      path: "/api/studies/:name/live",
      about: "States of all runs, and quantities of chosen ones as far as they have come.",
      body: liveRequestSchema,
      answer: liveStudySchema,
    },
    {
      method: "POST",
      path: "/api/studies/:name/log/lines",
      about: "Kinds of lines of a run's log that hold numbers.",
      body: logRequestSchema,
      answer: logLinesSchema,
    },
    {
      method: "POST",
      path: "/api/studies/:name/log/match",
      about: "What patterns find in a run's log, and what they miss.",
      body: logMatchRequestSchema,
      answer: logMatchSchema,
    },
  ],
  Scripts: [
    { method: "GET", path: "/api/scripts", about: "All scripts.", answer: scriptListSchema },
    { method: "GET", path: "/api/scripts/:name", about: "A script's text and revision.", answer: scriptSchema },
    {
      method: "PUT",
      path: "/api/scripts/:name",
      about: "Saves a text as the next revision. 409 when another revision was saved since `base`.",
      body: saveScriptSchema,
      answer: scriptSchema,
    },
    {
      method: "POST",
      path: "/api/scripts/:name/rename",
      about: "Renames a script.",
      body: renameScriptSchema,
      status: 204,
    },
    { method: "DELETE", path: "/api/scripts/:name", about: "Removes a script with its revisions.", status: 204 },
    {
      method: "GET",
      path: "/api/scripts/:name/revisions",
      about: "Its revisions, newest first.",
      answer: revisionListSchema,
    },
    {
      method: "GET",
      path: "/api/scripts/:name/revisions/:number",
      about: "The text of one revision.",
      answer: revisionSchema,
    },
    {
      method: "POST",
      path: "/api/scripts/:name/check",
      about: "Checks a text: mistakes with their places and fixes.",
      body: textSchema,
      answer: checkSchema,
    },
    {
      method: "POST",
      path: "/api/scripts/:name/addition",
      about:
        "What has to be changed in a text so that it does also what another script does: its lines at the end, " +
        "imports once, names and outputs renamed where the text has theirs.",
      body: additionRequestSchema,
      answer: additionSchema,
    },
    {
      method: "POST",
      path: "/api/scripts/:name/emitted",
      about: "The words that a text gives to an `emit.table`.",
      body: emittedRequestSchema,
      answer: emittedSchema,
    },
    {
      method: "POST",
      path: "/api/scripts/:name/preflight",
      about: "Which files of which runs a text reads, and which of them are missing.",
      body: textSchema,
      answer: preflightSchema,
    },
    {
      method: "POST",
      path: "/api/scripts/:name/complete",
      about: "Completions at an offset.",
      body: offsetSchema,
      answer: completionSchema,
    },
    {
      method: "POST",
      path: "/api/scripts/:name/hover",
      about: "Signature and documentation at an offset.",
      body: offsetSchema,
      answer: hoverSchema,
    },
  ],
  Jobs: [
    {
      method: "GET",
      path: "/api/jobs",
      about: "The newest jobs; with `tries=true` Tries as well.",
      query: z.object({ tries: z.enum(["true", "false"]).optional() }),
      answer: z.array(jobHeadSchema),
    },
    {
      method: "POST",
      path: "/api/jobs",
      about: "Saves the text, checks it and starts a job, or queues it.",
      body: startJobSchema,
      answer: jobHeadSchema,
      status: 201,
    },
    { method: "GET", path: "/api/jobs/:id", about: "A job and all that it has told.", answer: jobSchema },
    {
      method: "DELETE",
      path: "/api/jobs/:id",
      about: "Removes a job that has ended, with its outputs.",
      status: 204,
    },
    { method: "POST", path: "/api/jobs/:id/stop", about: "Stops a job.", status: 202 },
    {
      method: "GET",
      path: "/api/jobs/:id/events",
      about: "The live stream of one job.",
      answer: "text/event-stream",
    },
    {
      method: "POST",
      path: "/api/jobs/:id/verify",
      about: "Compares the files of a job and its inputs with its manifest.",
      answer: verificationSchema,
    },
    {
      method: "GET",
      path: "/api/jobs/:id/files/:name",
      about: "A file of its outputs; with `download` as an attachment.",
      answer: "the file",
    },
    { method: "GET", path: "/api/jobs/:id/zip", about: "All of it as one archive.", answer: "application/zip" },
    { method: "GET", path: "/api/jobs/:id/pictures/:name", about: "The image of an output.", answer: "image/png" },
    { method: "GET", path: "/api/jobs/:id/reports/:name", about: "A report.", answer: "text/html" },
    { method: "PUT", path: "/api/jobs/:id/pin", about: "Makes it the reference of its script.", status: 204 },
    { method: "DELETE", path: "/api/jobs/:id/pin", about: "Takes that back.", status: 204 },
    {
      method: "GET",
      path: "/api/jobs/:id/diff/:then",
      about: "What differs between two jobs.",
      query: toleranceSchema,
      answer: jobDiffSchema,
    },
    {
      method: "GET",
      path: "/api/jobs/:id/values/:name",
      about: "The numbers of an output; `from` and `to` are rows of a table or a range of x.",
      query: range,
      answer: valueSchema,
    },
  ],
  Previews: [
    {
      method: "POST",
      path: "/api/previews",
      about: "Runs a text that a page wrote; a newer request of the same lane replaces it.",
      body: previewRequestSchema,
      answer: previewSchema,
    },
  ],
} as const satisfies Record<string, readonly Endpoint[]>;
