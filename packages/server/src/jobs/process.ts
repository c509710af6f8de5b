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

/** What a process says besides the job's events. */
interface Ended {
  readonly type: "ended";
  readonly exit: number;
  /** Whether it waits for another job. */
  readonly stays: boolean;
}

/** Processes that wait for a job at most, and for how long a job has run, in ms, when one more is got ready. */
const MOST_IDLE = 2;
const LONG = 1500;

/**
 * Job processes. One is always kept ready, its modules loaded, so that a Try does not wait for a process to start; a
 * process whose job went well takes the next one, which finds its code and threads warm.
 */
export class JobProcesses {
  readonly #idle: ChildProcess[] = [];
  #closed = false;
  readonly #all = new Set<ChildProcess>();

  constructor() {
    this.#ready();
  }

  /** Makes sure that a process waits. */
  #ready(): void {
    if (!this.#closed && this.#idle.length === 0) this.#idle.push(this.#fork());
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
      this.#drop(child);
    });
    return child;
  }

  #drop(child: ChildProcess): void {
    const at = this.#idle.indexOf(child);
    if (at >= 0) this.#idle.splice(at, 1);
  }

  /** The processes that are there, with or without a job. */
  get pids(): readonly number[] {
    return [...this.#all].flatMap((child) => child.pid ?? []);
  }

  /** The one whose job has ended last is the warmest. */
  #take(): ChildProcess {
    for (let child = this.#idle.pop(); child; child = this.#idle.pop()) if (child.connected) return child;
    return this.#fork();
  }

  #giveBack(child: ChildProcess): void {
    if (this.#closed || this.#idle.length >= MOST_IDLE) child.kill("SIGKILL");
    else this.#idle.push(child);
  }

  start(request: JobRequest, tell: (e: JobEvent) => void): RunningProcess {
    const child = this.#take();
    let errors = "";
    let over = false;
    let late: NodeJS.Timeout | undefined;
    const soon = setTimeout(() => this.#ready(), LONG).unref();
    const ended = new Promise<{ exit: number | null }>((done) => {
      let exit: number | null = null;
      const finish = (): void => {
        over = true;
        clearTimeout(late);
        clearTimeout(soon);
        child.off("message", hear).off("error", broken).off("close", gone);
        child.stderr?.off("data", note);
        done({ exit });
        this.#ready();
      };
      const hear = (m: EngineEvent | Ended): void => {
        if (m.type !== "ended") return tell(jobEventSchema.parse(m));
        exit = m.exit;
        if (!m.stays) return;
        this.#giveBack(child);
        finish();
      };
      const note = (d: Buffer): void => void (errors = (errors + d.toString()).slice(-4000));
      const broken = (): void => void (child.pid === undefined && finish());
      const gone = (code: number | null): void => {
        if (exit === null && code !== null && errors !== "")
          tell({ type: "message", level: "error", text: `the job's process ended: ${firstLine(errors)}` });
        finish();
      };
      child.stderr?.on("data", note);
      child.on("message", hear).on("error", broken).on("close", gone);
    });
    child.send({ type: "start", request }, () => undefined);
    // What comes after the job's end would reach another job.
    return {
      ended,
      kill: () => void (over || child.kill("SIGKILL")),
      stop: () => {
        if (over) return;
        if (child.connected) child.send({ type: "stop" }, () => undefined);
        late = setTimeout(() => child.kill("SIGKILL"), 5000).unref();
      },
    };
  }

  close(): void {
    this.#closed = true;
    for (const c of this.#all) c.kill("SIGKILL");
  }
}
