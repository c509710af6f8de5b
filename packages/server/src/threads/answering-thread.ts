import { Worker } from "node:worker_threads";
import { problem } from "../store/problem.js";
import type { FromThread } from "./answer.js";
import { threadSeconds } from "./thread-time.js";

interface Open {
  readonly id: number;
  readonly question: object;
  readonly done: (v: unknown) => void;
  readonly failed: (e: Error) => void;
  readonly progress: ((p: unknown) => void) | undefined;
  /** Processor seconds of the thread, and the time on the wall, when work on it began. */
  began?: { readonly used: number | undefined; readonly wall: number };
}

export interface ThreadLimits {
  /** Seconds of processor time for one question, from when work on it begins. */
  readonly seconds: number;
  /** What is said of a question that took longer. */
  readonly late: string;
  /** MB of memory. */
  readonly memory?: number;
  /** Questions that may wait. */
  readonly waiting?: number;
}

/** Where the system does not count the time of threads, this many times as much on the wall. */
const WALL = 5;
const LOOK = 250;

/**
 * A thread that answers questions one after the other, so that the server's own thread goes on answering requests. A
 * question has a limit in processor time: a busy machine makes answers slow, not wrong. One that is too late ends the
 * thread and fails alone; those that wait go to a new one.
 */
export class AnsweringThread<Question extends object> {
  #worker: Worker | undefined;
  #thread: string | undefined;
  #ready = false;
  #next = 0;
  #current: Open | undefined;
  #timer: NodeJS.Timeout | undefined;
  #closed = false;
  readonly #queue: Open[] = [];

  constructor(
    private readonly module: URL,
    private readonly limits: ThreadLimits,
  ) {}

  /** @throws HTTPException 503 when too many wait already, 400 with what was wrong with the question */
  ask(question: Question, progress?: (p: unknown) => void): Promise<unknown> {
    if (this.#closed) return Promise.reject(problem(503, "The server ends."));
    if (this.#queue.length >= (this.limits.waiting ?? 100))
      return Promise.reject(problem(503, "The server has too much to do at the moment; ask again in a while."));
    return new Promise((done, failed) => {
      this.#queue.push({ id: this.#next++, question, done, failed, progress });
      this.#go();
    });
  }

  #go(): void {
    if (this.#current || this.#closed) return;
    const open = this.#queue.shift();
    if (!open) return;
    this.#current = open;
    const worker = (this.#worker ??= this.#start());
    // A thread that is only starting has not begun: its own start is not the question's time.
    if (this.#ready) this.#begin();
    worker.postMessage({ ...open.question, id: open.id });
    this.#timer ??= setInterval(() => this.#look(), LOOK).unref();
  }

  #begin(): void {
    if (this.#current) this.#current.began = { used: threadSeconds(this.#thread), wall: performance.now() };
  }

  /** Whether the question under way has used up its time. */
  #look(): void {
    const open = this.#current;
    if (!open?.began) return;
    const now = threadSeconds(this.#thread);
    const { used, wall } = open.began;
    const seconds = now === undefined ? (performance.now() - wall) / 1000 / WALL : now - (used ?? 0);
    if (seconds > this.limits.seconds) this.#broken(problem(503, this.limits.late));
  }

  #start(): Worker {
    const worker = new Worker(this.module, { resourceLimits: { maxOldGenerationSizeMb: this.limits.memory ?? 1024 } });
    worker.unref();
    worker.on("message", (m: FromThread) => {
      if (worker !== this.#worker) return;
      if ("thread" in m) {
        this.#thread = m.thread;
        this.#ready = true;
        this.#begin();
        return;
      }
      const open = this.#current;
      if (open?.id !== m.id) return;
      if ("progress" in m) {
        open.progress?.(m.progress);
        return;
      }
      this.#current = undefined;
      if (m.error === undefined) open.done(m.value);
      else if (m.error.plain) open.failed(problem(400, m.error.message));
      else open.failed(Object.assign(new Error(m.error.message), { stack: m.error.stack }));
      this.#go();
    });
    const gone = (why: string): void => {
      if (worker === this.#worker) this.#broken(problem(503, why));
    };
    worker.on("error", (e: NodeJS.ErrnoException) =>
      gone(
        e.code === "ERR_WORKER_OUT_OF_MEMORY"
          ? "This needs more memory than the server may use for it."
          : `What was asked could not be answered: ${e.message}`,
      ),
    );
    worker.on("exit", () => gone("What was asked could not be answered: its thread ended."));
    return worker;
  }

  /** Ends the thread: the question under way fails with it, the others go on. */
  #broken(e: Error): void {
    const worker = this.#worker;
    this.#worker = undefined;
    this.#thread = undefined;
    this.#ready = false;
    void worker?.terminate().catch(() => undefined);
    const open = this.#current;
    this.#current = undefined;
    open?.failed(e);
    this.#go();
  }

  close(): void {
    this.#closed = true;
    clearInterval(this.#timer);
    const e = problem(503, "The server ends.");
    for (const o of this.#queue.splice(0)) o.failed(e);
    this.#broken(e);
  }
}
