import type { Warm } from "../app.js";
import { Checker } from "../checks/checker.js";
import { JobProcesses } from "../jobs/process.js";
import { Reading } from "../reading/reading.js";

let kept: Warm | undefined;

/**
 * Processes of jobs and the threads that check scripts and read, for all servers of tests: starting them takes longer
 * than most of what tests ask them for. They end with the tests' process.
 */
export const warm = (): Warm =>
  (kept ??= { processes: new JobProcesses(), checker: new Checker(), reading: new Reading() });
