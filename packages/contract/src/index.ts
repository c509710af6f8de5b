/**
 * What the server and those who ask it agree on: Zod schemas of every request, answer, live event and error, how a
 * job's events are added up, and the table of all requests. Pages, the command line and the HTTP API page of the
 * documentation use them; nothing of this is written down twice. It imports nothing of Oxtrum.
 */
export * from "./error.js";
export * from "./fault.js";
export * from "./study.js";
export * from "./script.js";
export * from "./diagnostic.js";
export * from "./output.js";
export * from "./output-value.js";
export * from "./job-events.js";
export * from "./job.js";
export * from "./live.js";
export * from "./live-stream.js";
export * from "./preview.js";
export * from "./survey.js";
export * from "./guide.js";
export * from "./settings.js";
export * from "./endpoints.js";
export * from "./command.js";
