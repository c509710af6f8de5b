import { BatchWork } from "./batch-work.js";
import { asMistake } from "./internal-error.js";
import type { BatchRunner } from "./pool.js";
import type { Batch, BatchResult, WorkerSetup } from "./protocol.js";

/** Evaluates batches in the calling thread, one after the other: for tests, where starting threads takes most time. */
export class InlinePool implements BatchRunner {
  readonly size = 1;
  #work: BatchWork | undefined;

  constructor(private readonly setup: () => WorkerSetup) {}

  warm(): void {}

  async run(batch: () => Batch, _urgent = false, started: () => void = () => undefined): Promise<BatchResult> {
    // Later, as with threads: whoever hands many batches over first says what they are.
    await new Promise((later) => setImmediate(later));
    this.#work ??= new BatchWork(this.setup());
    const made = batch();
    started();
    try {
      return this.#work.evaluate(made);
    } catch (e) {
      throw asMistake(e, "working on a run") ?? e;
    }
  }

  close(): Promise<void> {
    return Promise.resolve();
  }
}
