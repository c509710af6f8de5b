import { parentPort } from "node:worker_threads";
import { BatchWork } from "./batch-work.js";
import { asMistake } from "./internal-error.js";
import type { Batch, WorkerSetup } from "./protocol.js";

let work: BatchWork | undefined;

parentPort!.on("message", (m: Batch | { readonly setup: WorkerSetup }) => {
  if ("setup" in m) {
    work = new BatchWork(m.setup);
    return;
  }
  try {
    parentPort!.postMessage(work!.evaluate(m));
  } catch (e) {
    const own = asMistake(e, "working on a run");
    parentPort!.postMessage({ id: m.id, crashed: (own ?? (e as Error)).message, internal: own !== undefined });
  }
});
