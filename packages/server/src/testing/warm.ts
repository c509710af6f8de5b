import { Checker } from "../checks/checker.js";
import { JobProcesses } from "../jobs/process.js";

let kept: { readonly processes: JobProcesses; readonly checker: Checker } | undefined;

/**
 * Processes of jobs and the thread that checks scripts, for all servers of tests: starting them takes longer than most
 * of what tests ask them for. They end with the tests' process.
 */
export const warm = (): { readonly processes: JobProcesses; readonly checker: Checker } =>
  (kept ??= { processes: new JobProcesses(), checker: new Checker() });
