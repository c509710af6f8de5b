import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { parentPort, workerData } from "node:worker_threads";
import { countRoom, NoRoom } from "@oxtrum/core/formats";
import { fuzz } from "@oxtrum/core/testing/fuzz";
import { readerTargets } from "@oxtrum/core/testing/fuzz-targets";
import { engineTargets } from "./fuzz-targets.js";

/** Damages the files of one reader, in a thread that can be ended when it hangs. */
const { name, inputs, seed } = workerData as { name: string; inputs: number; seed: number };
const base = fs.mkdtempSync(path.join(os.tmpdir(), "oxtrum-fuzz-"));
const target = [...readerTargets, ...engineTargets(base)].find((t) => t.name === name)!;
let room = 0;
countRoom((bytes) => {
  if ((room += bytes) > 256e6) throw new NoRoom("more than 256 MB");
});
const counted = { ...target, read: (b: Uint8Array) => ((room = 0), target.read(b)) };
const result = fuzz(counted, inputs, seed, 400, (what) => parentPort!.postMessage({ begin: what }));
fs.rmSync(base, { recursive: true, force: true });
parentPort!.postMessage({ result });
