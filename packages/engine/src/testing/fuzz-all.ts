import { Worker } from "node:worker_threads";
import { LONGEST, type FuzzResult } from "@oxtrum/core/testing/fuzz";
import { readerTargets } from "@oxtrum/core/testing/fuzz-targets";
import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { engineTargets } from "./fuzz-targets.js";

/** Seconds on the wall for one input: a busy machine gets more than the input's own share. */
const PATIENCE = 6 * LONGEST;

function fuzzOne(name: string, inputs: number, seed: number): Promise<FuzzResult> {
  return new Promise((done) => {
    const worker = new Worker(new URL("./fuzz.worker.js", import.meta.url), { workerData: { name, inputs, seed } });
    let last = "start";
    let timer: NodeJS.Timeout | undefined;
    const failed = (why: string): void => {
      clearTimeout(timer);
      void worker.terminate();
      done({ target: name, inputs, refused: 0, longest: 0, memory: 0, broken: [`${last}: ${why}`] });
    };
    const wait = (): void => {
      clearTimeout(timer);
      timer = setTimeout(() => failed("does not end"), PATIENCE * 1000);
    };
    wait();
    worker.on("message", (m: { begin?: string; result?: FuzzResult }) => {
      if (m.result) {
        clearTimeout(timer);
        void worker.terminate();
        done(m.result);
      } else {
        last = m.begin ?? last;
        wait();
      }
    });
    worker.on("error", (e) => failed(e.message));
  });
}

/** Gives every reader damaged files, one reader after the other. */
export async function fuzzAll(inputs: number, seed: number, tell: (r: FuzzResult) => void): Promise<FuzzResult[]> {
  const base = fs.mkdtempSync(path.join(os.tmpdir(), "oxtrum-fuzz-"));
  const names = [...readerTargets, ...engineTargets(base)].map((t) => t.name);
  fs.rmSync(base, { recursive: true, force: true });
  const out: FuzzResult[] = [];
  for (const name of names) {
    const r = await fuzzOne(name, inputs, seed);
    tell(r);
    out.push(r);
  }
  return out;
}
