import type { ServerOptions } from "../app.js";
import { Checker } from "../checks/checker.js";
import { JobProcesses } from "../jobs/process.js";

type Warm = NonNullable<ServerOptions["warm"]>;

let kept: Warm | undefined;

/**
 * Processes of jobs and the thread that checks scripts, for all servers of tests: starting them takes longer than most
 * of what tests ask them for. They end with the tests' process.
 */
export const warm = (): Warm => (kept ??= { processes: new JobProcesses(), checker: new Checker() });
