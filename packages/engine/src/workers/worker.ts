import { parentPort } from "node:worker_threads";
import { countRoom } from "@oxtrum/core/formats";
import { ResultCache } from "../store/cache.js";
import { Budget } from "./budget.js";
import { evaluateBatch } from "./evaluate.js";
import type { Batch, WorkerSetup, WorkStudy } from "./protocol.js";
import { InternalError, isOwnMistake } from "./internal-error.js";
import { FileReader } from "./read-files.js";

/** What a thread knows of the job it works for. */
interface Place {
  readonly studies: ReadonlyMap<string, WorkStudy>;
  readonly cache: ResultCache | undefined;
  readonly budget: Budget;
  readonly stop: Int32Array;
}
let place: Place | undefined;

parentPort!.on("message", (m: Batch | { readonly setup: WorkerSetup }) => {
  if ("setup" in m) {
    const { studies, cacheFolder, budget, budgetLimit, stop } = m.setup;
    place = {
      studies: new Map(studies.map((s) => [s.name, s])),
      cache: cacheFolder === undefined ? undefined : new ResultCache(cacheFolder),
      budget: new Budget(budget, budgetLimit),
      stop: new Int32Array(stop),
    };
  } else work(m, place!);
});

function work(batch: Batch, { studies, cache, budget, stop }: Place): void {
  try {
    const known = new Map(batch.known.map((r) => [r.path, r]));
    // Arrays of mesh files are counted before they are there.
    countRoom((bytes) => budget.take(bytes));
    const reader = new FileReader(studies, known, budget, batch.pins);
    parentPort!.postMessage(evaluateBatch(batch, reader, cache, () => Atomics.load(stop, 0) !== 0));
  } catch (e) {
    const own = e instanceof InternalError ? e : isOwnMistake(e) ? InternalError.of(e, "working on a run") : undefined;
    parentPort!.postMessage({ id: batch.id, crashed: (own ?? (e as Error)).message, internal: own !== undefined });
  } finally {
    // What was read for this batch is given back; what is sent on is counted by its receiver.
    countRoom(undefined);
    budget.releaseOwn();
  }
}
