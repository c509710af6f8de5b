import { runJob, type JobEvent, type JobRequest, type JobResult } from "../index.js";
import { Sandbox } from "../sandbox/run-script.js";
import { InlinePool } from "../scheduler/inline-pool.js";

let next: Sandbox | undefined;

/** A sandbox that was started while the job before was running. */
function started(): Sandbox {
  const ready = next ?? new Sandbox();
  next = new Sandbox();
  return ready;
}

/** A job whose runs are worked on in this thread: starting threads takes longer than most tests' work. */
export function runHere(request: JobRequest, tell: (e: JobEvent) => void): Promise<JobResult> {
  const warm = {
    sandbox: started(),
    runner: (setup: ConstructorParameters<typeof InlinePool>[0]) => new InlinePool(setup),
  };
  return runJob(request, tell, undefined, warm);
}
