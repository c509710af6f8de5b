import { parentPort, workerData } from "node:worker_threads";
import { ResultCache } from "../store/cache.js";
import { Budget } from "./budget.js";
import { evaluateBatch } from "./evaluate.js";
import type { Batch, WorkerSetup } from "./protocol.js";
import { FileReader } from "./read-files.js";

const setup = workerData as WorkerSetup;
const studies = new Map(setup.studies.map((s) => [s.name, s]));
const cache = setup.cacheFolder === undefined ? undefined : new ResultCache(setup.cacheFolder);
const budget = new Budget(setup.budget, setup.budgetLimit);
const stop = new Int32Array(setup.stop);

parentPort!.on("message", (batch: Batch) => {
  try {
    const known = new Map(batch.known.map((r) => [r.path, r]));
    const reader = new FileReader(studies, known, budget, batch.pins);
    const result = evaluateBatch(batch, reader, cache, () => Atomics.load(stop, 0) !== 0);
    parentPort!.postMessage(result);
  } catch (e) {
    parentPort!.postMessage({ id: batch.id, crashed: (e as Error).message });
  } finally {
    // What was read for this batch is given back; what is sent on is counted by its receiver.
    budget.releaseOwn();
  }
});
