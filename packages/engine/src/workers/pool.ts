import { Worker } from "node:worker_threads";
import type { Batch, BatchResult, WorkerSetup } from "./protocol.js";

interface Waiting {
  /** Made when a thread takes it up: thousands wait in the queue. */
  readonly batch: () => Batch;
  readonly done: (r: BatchResult) => void;
  readonly failed: (e: Error) => void;
  readonly started: () => void;
}

/** Worker threads that work batches off, first come first served. A thread that dies fails its batch and is replaced. */
export class Pool {
  readonly #idle: Worker[] = [];
  readonly #all = new Set<Worker>();
  readonly #queue: Waiting[] = [];
  readonly #busy = new Map<Worker, Waiting>();
  #closed = false;

  constructor(
    private readonly count: number,
    private readonly setup: () => WorkerSetup,
  ) {}

  get size(): number {
    return this.count;
  }

  /** Starts the threads before there is work for them. */
  warm(): void {
    while (this.#all.size < this.count && !this.#closed) this.#idle.push(this.#start());
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
      const worker = this.#idle.pop() ?? (this.#all.size < this.count ? this.#start() : undefined);
      if (!worker) return;
      const waiting = this.#queue.shift()!;
      this.#busy.set(worker, waiting);
      // Later, so that whoever hands many batches over can first say what they are.
      setImmediate(waiting.started);
      worker.postMessage(waiting.batch());
    }
  }

  #start(): Worker {
    const worker = new Worker(new URL("./worker.js", import.meta.url), { workerData: this.setup() });
    this.#all.add(worker);
    worker.on("message", (r: BatchResult & { crashed?: string }) => {
      const waiting = this.#busy.get(worker);
      this.#busy.delete(worker);
      this.#idle.push(worker);
      if (r.crashed !== undefined) waiting?.failed(new Error(r.crashed));
      else waiting?.done(r);
      this.#next();
    });
    const gone = (reason: string): void => {
      if (!this.#all.delete(worker)) return;
      const waiting = this.#busy.get(worker);
      this.#busy.delete(worker);
      const at = this.#idle.indexOf(worker);
      if (at >= 0) this.#idle.splice(at, 1);
      waiting?.failed(new Error(reason));
      this.#next();
    };
    worker.on("error", (e) => gone(`a worker stopped: ${e.message}`));
    worker.on("exit", () => gone("a worker stopped"));
    return worker;
  }

  async close(): Promise<void> {
    this.#closed = true;
    for (const w of this.#queue.splice(0)) w.failed(new Error("stopped"));
    await Promise.all([...this.#all].map((w) => w.terminate()));
  }
}
