import { jobRequestSchema, type JobRequest } from "../record/request.js";
import type { JobEvent } from "../record/events.js";
import { runJob, warmUp } from "./run-job.js";

/**
 * The process of jobs: takes one request at a time, tells events, says that the job has ended and whether it stays for
 * another one. It ends with a job that is stopped or breaks, with whoever asked for it, and when it has grown.
 */

/** Bytes that a process may hold while it waits for the next job. */
const MOST_HELD = 600e6;
/** Milliseconds that a stopped job has to clear up. */
const GRACE = 3000;

let warm = warmUp();
let job: { readonly abort: AbortController } | undefined;

function start(given: unknown): void {
  const abort = new AbortController();
  job = { abort };
  let request: JobRequest;
  try {
    request = jobRequestSchema.parse(given);
  } catch (e) {
    process.stderr.write(
      `Error: what the job was asked cannot be read: ${(e as Error).message.replace(/\s+/g, " ")}\n`,
    );
    process.exit(1);
  }
  void runJob(request, (e: JobEvent) => process.send?.(e), abort.signal, warm).then(
    ({ exit }) => {
      const stays = !abort.signal.aborted && process.memoryUsage.rss() < MOST_HELD;
      if (stays) {
        job = undefined;
        warm = warmUp();
      }
      process.send?.({ type: "ended", exit, stays }, () => void (stays || process.exit(exit)));
    },
    (e: unknown) => {
      process.stderr.write(String((e as Error).stack ?? e) + "\n");
      process.exit(1);
    },
  );
}

process.on("message", (m: { type: "start"; request: unknown } | { type: "stop" }) => {
  if (m.type === "start") {
    if (!job) start(m.request);
    return;
  }
  // The job may have ended before the wish to stop it came.
  if (!job) return;
  job.abort.abort();
  // A thread that does not look at the flag in time is ended with the process.
  setTimeout(() => process.exit(1), GRACE).unref();
});
/** A job does not outlive who asked for it. */
process.on("disconnect", () => process.exit(1));
if (!process.connected) process.exit(1);
