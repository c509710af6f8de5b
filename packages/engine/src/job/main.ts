import { jobRequestSchema, type JobRequest } from "../record/request.js";
import type { JobEvent } from "../record/events.js";
import { runJob, warmUp } from "./run-job.js";

/** The child process of a job: takes one request, tells events, ends. A second message stops it. */
const abort = new AbortController();
const warm = warmUp();
let begun = false;

process.on("message", (m: { type: "start"; request: unknown } | { type: "stop" }) => {
  if (m.type === "stop") {
    abort.abort();
    // A thread that does not look at the flag in time is ended with the process.
    setTimeout(() => process.exit(1), 3000).unref();
    return;
  }
  if (begun) return;
  begun = true;
  let request: JobRequest;
  try {
    request = jobRequestSchema.parse(m.request);
  } catch (e) {
    process.stderr.write(
      `Error: what the job was asked cannot be read: ${(e as Error).message.replace(/\s+/g, " ")}\n`,
    );
    process.exit(1);
  }
  void runJob(request, (e: JobEvent) => process.send?.(e), abort.signal, warm).then(
    (r) => process.send?.({ type: "ended", exit: r.exit }, () => process.exit(r.exit)),
    (e: unknown) => {
      process.stderr.write(String((e as Error).stack ?? e) + "\n");
      process.exit(1);
    },
  );
});
/** A job does not outlive who asked for it. */
process.on("disconnect", () => process.exit(1));
if (!process.connected) process.exit(1);
