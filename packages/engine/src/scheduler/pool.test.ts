import { afterEach, describe, expect, it } from "@jest/globals";
import { smallStudy, type SmallStudy } from "../testing/small-study.js";
import { Budget } from "../read/budget.js";
import { Pool } from "./pool.js";
import type { Batch, WorkerSetup } from "./protocol.js";

let study: SmallStudy | undefined;
let pool: Pool | undefined;
afterEach(async () => {
  await pool?.close();
  study?.remove();
  pool = study = undefined;
});

function poolOf(count: number): Pool {
  study ??= smallStudy();
  const budget = Budget.create(1e9);
  const setup = (): WorkerSetup => ({
    studies: [],
    cacheFolder: undefined,
    budget: budget.shared,
    budgetLimit: 1e9,
    cacheBytes: 1e8,
    stop: new SharedArrayBuffer(4),
  });
  return (pool = new Pool(count, setup));
}

/** A batch that adds one to a number. */
const batch = (id: number): Batch => ({
  id,
  study: "s",
  run: 0,
  nodes: [{ id: 1, op: "quantity.combine", args: { op: "plus", bare: 1 }, inputs: [0], line: 1 }],
  wanted: [{ id: 1 }],
  known: [],
  pins: {},
  given: [{ id: 0, outcome: { kind: "quantity", quantity: { value: id, unit: "K" } }, key: undefined }],
});

/** How many threads this process starts while something is done. */
async function startedBy(work: () => Promise<unknown>): Promise<number> {
  let count = 0;
  const note = (): void => void count++;
  process.on("worker", note);
  await work().finally(() => process.off("worker", note));
  return count;
}

describe("the pool of threads", () => {
  it.each([1, 2])(
    "of %i processes all batches, each answered with its own result; urgent ones come first",
    async (n) => {
      const p = poolOf(n);
      const ended: number[] = [];
      const run = async (id: number, urgent = false): Promise<number> => {
        const r = await p.run(() => batch(id), urgent);
        ended.push(id);
        const [{ outcome }] = r.results as unknown as [{ outcome: { quantity: { value: number } } }];
        return outcome.quantity.value;
      };
      const results = await Promise.all([run(1), run(2), run(3), run(4, true)]);
      expect(results).toEqual([2, 3, 4, 5]);
      // The first is taken up at once; of those that wait the urgent one comes next. Two threads may end in any order.
      if (n === 1) expect(ended).toEqual([1, 4, 2, 3]);
    },
  );
  it("fails what is waiting when it is closed", async () => {
    const p = poolOf(1);
    p.warm();
    const results = [1, 2, 3].map((id) =>
      p
        .run(() => batch(id))
        .then(
          () => "done",
          (e: Error) => e.message,
        ),
    );
    await p.close();
    expect((await Promise.all(results)).slice(1)).toEqual(["stopped", "stopped"]);
  });
  it("fails the batch of a mistake of our own, and goes on", async () => {
    const p = poolOf(1);
    const broken = { ...batch(1), nodes: [{ id: 1, op: "quantity.in", args: null, inputs: [0], line: 1 }] } as Batch;
    const first = await p.run(() => broken).catch((e: Error) => e);
    expect(first).toMatchObject({ results: [{ outcome: { kind: "failure" } }] });
    expect((await p.run(() => batch(7))).results[0]!.outcome).toMatchObject({ quantity: { value: 8 } });
  });
  it("leaves its free threads to the next one, which finds them as if they were new", async () => {
    const works = async (): Promise<void> => {
      const p = poolOf(1);
      for (const id of [1, 2])
        expect((await p.run(() => batch(id))).results[0]!.outcome).toMatchObject({ quantity: { value: id + 1 } });
      await p.close(true);
    };
    await works();
    expect(await startedBy(works)).toBe(0);
    // What is busy when it is closed does not answer the next one; of a pool that leaves nothing nothing is left.
    const busy = poolOf(1);
    const last = busy.run(() => batch(7)).catch((e: Error) => e.message);
    await busy.close(true);
    await last;
    await works();
    const p = poolOf(8);
    p.warm();
    await p.close();
    expect(await startedBy(works)).toBe(1);
  });
});
