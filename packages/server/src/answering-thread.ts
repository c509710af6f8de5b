import { Worker } from "node:worker_threads";

interface Answer {
  readonly id: number;
  readonly value?: unknown;
  readonly error?: string;
}

/** A thread that answers questions; one that takes too long ends it, and the next question starts a new one. */
export class AnsweringThread<Question extends object> {
  #worker: Worker | undefined;
  #next = 0;
  readonly #open = new Map<number, { done: (v: unknown) => void; failed: (e: Error) => void; timer: NodeJS.Timeout }>();

  /**
   * @param longest how long a question may take, ms
   * @param late what is said of one that took longer
   */
  constructor(
    private readonly module: URL,
    private readonly longest: number,
    private readonly late: string,
    private readonly memory = 1024,
  ) {}

  ask(question: Question): Promise<unknown> {
    const worker = (this.#worker ??= this.#start());
    const id = this.#next++;
    return new Promise((done, failed) => {
      const timer = setTimeout(() => this.#end(new Error(this.late)), this.longest);
      this.#open.set(id, { done, failed, timer });
      worker.postMessage({ ...question, id });
    });
  }

  #start(): Worker {
    const worker = new Worker(this.module, { resourceLimits: { maxOldGenerationSizeMb: this.memory } });
    worker.on("message", (m: Answer) => {
      const open = this.#open.get(m.id);
      this.#open.delete(m.id);
      clearTimeout(open?.timer);
      if (m.error !== undefined) open?.failed(new Error(m.error));
      else open?.done(m.value);
    });
    worker.on("error", (e) => this.#end(e));
    return worker;
  }

  #end(e: Error): void {
    void this.#worker?.terminate();
    this.#worker = undefined;
    for (const o of this.#open.values()) {
      clearTimeout(o.timer);
      o.failed(e);
    }
    this.#open.clear();
  }

  close(): void {
    this.#end(new Error("the server ends"));
  }
}
