import { z } from "zod";
import { dictionary } from "../dictionary.js";
import { readingOperation, type Operation } from "./operation.js";

const options = dictionary(z.unknown()).optional();
const ofRun = { study: z.string(), run: z.number().int().optional(), file: z.string(), options };

/** Operations that read tables: of a run's files, of the lines of its logs, of files beside the runs. */
export const tableReads: readonly Operation[] = [
  readingOperation("run.table", 7, z.object(ofRun), { of: "run", what: "table" }),
  readingOperation("run.lines", 8, z.object({ ...ofRun, patterns: z.array(z.string()).optional() }), {
    of: "run",
    what: "table",
  }),
  readingOperation("study.table", 7, z.object({ study: z.string(), file: z.string(), options }), {
    of: "study",
    what: "table",
  }),
];
