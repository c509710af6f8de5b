import { bundled } from "../bundled.js";
import { Worker } from "node:worker_threads";
import { InternalError } from "./internal-error.js";
import type { Batch, BatchResult, WorkerSetup } from "./protocol.js";

interface Waiting {
  /** Made when a thread takes it up: thousands wait in the queue. */
  readonly batch: () => Batch;
  readonly done: (r: BatchResult) => void;
  readonly failed: (e: Error) => void;
  readonly started: () => void;
}

/** Threads that wait for a job, and how many at most. */
const spare: Worker[] = [];
const MOST_SPARE = 8;

/** A thread that can work for any job: it is told which with its first batch. */
function startThread(): Worker {
  const worker = new Worker(bundled("worker.cjs") ?? new URL("./worker.js", import.meta.url));
  const drop = (): void => {
    const at = spare.indexOf(worker);
    if (at >= 0) spare.splice(at, 1);
  };
  worker.on("error", drop).on("exit", drop);
  return worker;
}

/** Puts a thread by for another job; it holds up no process that has nothing else to do. */
function putBy(worker: Worker): void {
  if (spare.length >= MOST_SPARE) return void worker.terminate();
  worker.unref();
  spare.push(worker);
}

/** Sees to it that a thread waits for the next job: starting one takes a quarter of a second. */
export function prestartThread(): void {
  if (spare.length === 0) putBy(startThread());
}

/** Milliseconds after which waiting work gets one more thread: before the pace of work is known, and then. */
const FIRST_WAIT = 400;
const WAIT = 50;
/** Milliseconds of waiting work that are worth one more thread. */
const WORTH = 300;

/** Whatever evaluates batches for a job. */
export interface BatchRunner {
  readonly size: number;
  /** Starts what it needs before there is work. */
  warm(): void;
  /** @param started called when the batch is taken up */
  run(batch: () => Batch, urgent?: boolean, started?: () => void): Promise<BatchResult>;
  /** @param stays whether free threads are put by for the next job */
  close(stays?: boolean): Promise<void>;
}

/**
 * Worker threads that work batches off, first come first served. A thread that dies fails its batch and is replaced.
 * Threads of the job before are taken first: they have loaded their code, and it is warm.
 */
export class Pool implements BatchRunner {
  readonly #idle: Worker[] = [];
  /** All threads, with what ends this pool's listening to them. */
  readonly #all = new Map<Worker, () => void>();
  readonly #queue: Waiting[] = [];
  readonly #busy = new Map<Worker, Waiting>();
  #closed = false;

  readonly #told = new Set<Worker>();
  /** When a thread took up its batch. */
  readonly #since = new WeakMap<Worker, number>();
  #pace: number | undefined;
  #growing: NodeJS.Timeout | undefined;

  constructor(
    private readonly count: number,
    private readonly setup: () => WorkerSetup,
  ) {
    for (const worker of spare.splice(0, count)) this.#idle.push(this.#adopt(worker));
  }

  get size(): number {
    return this.count;
  }

  /** Starts a thread before there is work for it; the others start when there is enough to do for them. */
  warm(): void {
    if (this.#all.size === 0 && !this.#closed) this.#idle.push(this.#start());
  }

  /** @param started called when a thread takes the batch up */
  run(batch: () => Batch, urgent = false, started: () => void = () => undefined): Promise<BatchResult> {
    return new Promise((done, failed) => {
      if (urgent) this.#queue.unshift({ batch, done, failed, started });
      else this.#queue.push({ batch, done, failed, started });
      this.#next();
    });
  }

  #next(): void {
    while (this.#queue.length > 0 && !this.#closed) {
      const worker = this.#idle.pop() ?? (this.#all.size === 0 ? this.#start() : undefined);
      if (!worker) return this.#growLater();
      const waiting = this.#queue.shift()!;
      this.#busy.set(worker, waiting);
      // Later, so that whoever hands many batches over can first say what they are.
      setImmediate(() => {
        if (this.#busy.get(worker) === waiting) waiting.started();
      });
      if (!this.#told.has(worker)) worker.postMessage({ setup: this.setup() });
      else this.#since.set(worker, performance.now());
      this.#told.add(worker);
      worker.postMessage(waiting.batch());
    }
  }

  /** One more thread, if there may be more and work is waiting. */
  #grow(): void {
    if (this.#closed || this.#queue.length === 0 || this.#all.size >= this.count) return;
    this.#idle.push(this.#start());
    this.#next();
  }

  /** One more thread when what waits still waits a little later: a new thread first takes time of those that work. */
  #growLater(): void {
    if (this.#growing || this.#all.size >= this.count) return;
    const wait = this.#pace === undefined ? FIRST_WAIT : WAIT;
    this.#growing = setTimeout(() => {
      this.#growing = undefined;
      this.#grow();
    }, wait);
  }

  /** How long a batch takes, as the last one showed; a thread's first batch is not a measure, it has to load first. */
  #measured(worker: Worker): void {
    const since = this.#since.get(worker);
    if (since === undefined) return;
    this.#pace = performance.now() - since;
    if (this.#pace * this.#queue.length > WORTH) this.#grow();
  }

  #start(): Worker {
    return this.#adopt(startThread());
  }

  #adopt(worker: Worker): Worker {
    worker.ref();
    const hear = (r: BatchResult & { crashed?: string; internal?: boolean }): void => {
      const waiting = this.#busy.get(worker);
      this.#busy.delete(worker);
      this.#idle.push(worker);
      this.#measured(worker);
      if (r.crashed !== undefined) waiting?.failed(r.internal ? new InternalError(r.crashed) : new Error(r.crashed));
      else waiting?.done(r);
      this.#next();
    };
    const gone = (reason: string): void => {
      if (!this.#all.delete(worker)) return;
      const waiting = this.#busy.get(worker);
      this.#busy.delete(worker);
      const at = this.#idle.indexOf(worker);
      if (at >= 0) this.#idle.splice(at, 1);
      waiting?.failed(new Error(reason));
      this.#next();
    };
    const broken = (e: Error): void => gone(`a worker stopped: ${e.message}`);
    const ended = (): void => gone("a worker stopped");
    worker.on("message", hear).on("error", broken).on("exit", ended);
    this.#all.set(worker, () => void worker.off("message", hear).off("error", broken).off("exit", ended));
    return worker;
  }

  async close(stays = false): Promise<void> {
    this.#closed = true;
    clearTimeout(this.#growing);
    for (const w of this.#queue.splice(0)) w.failed(new Error("stopped"));
    for (const worker of stays ? this.#idle.splice(0) : []) {
      this.#all.get(worker)!();
      this.#all.delete(worker);
      putBy(worker);
    }
    await Promise.all([...this.#all.keys()].map((w) => w.terminate()));
  }
}
