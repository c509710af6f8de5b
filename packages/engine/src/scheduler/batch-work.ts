import { countRoom } from "@oxtrum/core/formats";
import { stopWhen } from "@oxtrum/core/tables";
import { cachedBytes, forgetGeometry, limitCaches } from "@oxtrum/core/sampling";
import { ResultCache } from "../store/cache.js";
import { Budget } from "../read/budget.js";
import { evaluateBatch } from "./evaluate.js";
import type { Batch, BatchResult, WorkerSetup } from "./protocol.js";
import type { WorkStudy } from "../read/work-study.js";
import { FileReader } from "../read/read-files.js";

/** Evaluates batches of one job, in whatever thread it was made. */
export class BatchWork {
  readonly #studies: ReadonlyMap<string, WorkStudy>;
  readonly #cache: ResultCache | undefined;
  readonly #budget: Budget;
  readonly #stop: Int32Array;

  constructor({ studies, cacheFolder, budget, budgetLimit, cacheBytes, stop }: WorkerSetup) {
    limitCaches(cacheBytes);
    if (cacheFolder === undefined) forgetGeometry();
    this.#studies = new Map(studies.map((s) => [s.name, s]));
    this.#cache = cacheFolder === undefined ? undefined : new ResultCache(cacheFolder);
    this.#budget = new Budget(budget, budgetLimit);
    this.#stop = new Int32Array(stop);
    // A thread that has worked for another job may still hold some of its geometry.
    if (!this.#budget.holdCaches(cachedBytes())) limitCaches(limitCaches(0));
  }

  /** @throws InternalError for a mistake of our own; Error when the job was stopped */
  evaluate(batch: Batch): BatchResult {
    try {
      const known = new Map(batch.known.map((r) => [r.path, r]));
      const stopped = (): boolean => Atomics.load(this.#stop, 0) !== 0;
      stopWhen(stopped);
      // Arrays of mesh files are counted before they are there.
      countRoom((bytes) => this.#budget.take(bytes));
      const reader = new FileReader(this.#studies, known, this.#budget, batch.pins);
      return evaluateBatch(batch, reader, this.#cache, stopped);
    } finally {
      // What was read for this batch is given back; what is sent on is counted by its receiver.
      countRoom(undefined);
      stopWhen(undefined);
      this.#budget.releaseOwn();
      // Geometry that stays for the next run counts until it goes.
      if (!this.#budget.holdCaches(cachedBytes())) limitCaches(limitCaches(0));
    }
  }
}
