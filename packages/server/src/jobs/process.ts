import { fork, type ChildProcess } from "node:child_process";
import { fileURLToPath } from "node:url";
import { report } from "../background.js";
import { jobEventSchema, type JobEvent } from "@oxtrum/contract";
import { jobProcess, type JobEvent as EngineEvent, type JobRequest } from "@oxtrum/engine";

export interface RunningProcess {
  /** Asks it to end, and ends it after a while if it does not. */
  stop(): void;
  /** Ends it at once: for what leaves nothing behind. */
  kill(): void;
  readonly ended: Promise<{ exit: number | null }>;
}

/** What a process says as it ends: the line that names the error, not those of its stack. */
const firstLine = (errors: string): string => {
  const lines = errors.trim().split("\n");
  return (lines.find((l) => /^(?:\w*Error|FATAL|RuntimeError)\b/.test(l)) ?? lines[0]!).slice(0, 300);
};

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
    child.on("error", (e) => report("a job's process", e));
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
      child.on("message", (m: EngineEvent | { type: "ended"; exit: number }) => {
        if (m.type === "ended") exit = m.exit;
        else tell(jobEventSchema.parse(m));
      });
      child.on("error", () => void (child.pid === undefined && done({ exit: null })));
      child.on("close", (code) => {
        if (exit === null && code !== null && errors !== "")
          tell({ type: "message", level: "error", text: `the job's process ended: ${firstLine(errors)}` });
        done({ exit: exit ?? null });
      });
    });
    child.send({ type: "start", request }, () => undefined);
    if (!this.#closed) setTimeout(() => (this.#spare ??= this.#closed ? undefined : this.#fork()), 300).unref();
    return {
      ended,
      kill: () => void child.kill("SIGKILL"),
      stop: () => {
        if (child.connected) child.send({ type: "stop" }, () => undefined);
        setTimeout(() => child.kill("SIGKILL"), 5000).unref();
      },
    };
  }

  close(): void {
    this.#closed = true;
    for (const c of this.#all) c.kill("SIGKILL");
  }
}
