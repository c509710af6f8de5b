import { fork, type ChildProcess } from "node:child_process";
import { fileURLToPath } from "node:url";
import { jobProcess, type JobEvent, type JobRequest } from "@oxtrum/engine";

export interface RunningProcess {
  /** Asks it to end, and ends it after a while if it does not. */
  stop(): void;
  /** Ends it at once: for what leaves nothing behind. */
  kill(): void;
  readonly ended: Promise<{ exit: number | null }>;
}

/**
 * Starts job processes. One is always kept ready, its modules loaded, so that a Try does not wait for a process to
 * start.
 */
export class JobProcesses {
  #spare: ChildProcess | undefined;
  #closed = false;
  readonly #all = new Set<ChildProcess>();

  constructor() {
    this.#spare = this.#fork();
  }

  #fork(): ChildProcess {
    const child = fork(fileURLToPath(jobProcess), [], {
      stdio: ["ignore", "ignore", "pipe", "ipc"],
      serialization: "advanced",
    });
    this.#all.add(child);
    child.on("exit", () => {
      this.#all.delete(child);
      if (this.#spare === child) this.#spare = undefined;
    });
    return child;
  }

  start(request: JobRequest, tell: (e: JobEvent) => void): RunningProcess {
    const child = this.#spare?.connected ? this.#spare : this.#fork();
    this.#spare = undefined;
    let errors = "";
    child.stderr?.on("data", (d: Buffer) => (errors = (errors + d.toString()).slice(-4000)));
    const ended = new Promise<{ exit: number | null }>((done) => {
      let exit: number | null = null;
      child.on("message", (m: JobEvent | { type: "ended"; exit: number }) => {
        if (m.type === "ended") exit = m.exit;
        else tell(m);
      });
      child.on("error", () => undefined);
      child.on("close", (code) => {
        if (exit === null && code !== null && errors !== "")
          tell({ type: "message", level: "error", text: `the job's process ended: ${errors.trim().split("\n")[0]}` });
        done({ exit: exit ?? null });
      });
    });
    child.send({ type: "start", request });
    if (!this.#closed) setTimeout(() => (this.#spare ??= this.#closed ? undefined : this.#fork()), 300).unref();
    return {
      ended,
      kill: () => void child.kill("SIGKILL"),
      stop: () => {
        if (child.connected) child.send({ type: "stop" });
        setTimeout(() => child.kill("SIGKILL"), 5000).unref();
      },
    };
  }

  close(): void {
    this.#closed = true;
    for (const c of this.#all) c.kill("SIGKILL");
  }
}
