import { parentPort } from "node:worker_threads";
import { diffJobs } from "@oxtrum/engine";
import type { DiffQuestion } from "./differ.js";

parentPort!.on("message", (q: DiffQuestion & { id: number }) => {
  try {
    parentPort!.postMessage({ id: q.id, value: diffJobs(q.then, q.now, q.tolerance) });
  } catch (e) {
    parentPort!.postMessage({ id: q.id, error: (e as Error).message });
  }
});
