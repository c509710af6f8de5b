import { afterEach, beforeEach, expect, it } from "@jest/globals";
import { cachedBytes } from "@oxtrum/core/sampling";
import { Budget } from "../read/budget.js";
import { runScript, type SmallStudy } from "../testing/index.js";
import { smallFieldStudy } from "../testing/small-field.js";
import { BatchWork } from "./batch-work.js";

let s: SmallStudy;
beforeEach(() => void (s = smallFieldStudy()));
afterEach(() => s.remove());

it("a job that takes nothing of earlier ones forgets the geometry that its thread holds; any other takes it", async () => {
  const { errors } = await runScript(
    s,
    `import { at } from "oxtrum";
emit.table("mean", study("small").runs.map((run) => run.field("fields/f").at("last")
  .reduce(at.plane({ x: 1 }), { T: { mean: "T" } })));`,
  );
  expect(errors).toEqual([]);
  const held = cachedBytes();
  expect(held).toBeGreaterThan(0);
  const budget = Budget.create(1e9);
  const setup = { studies: [], budget: budget.shared, budgetLimit: 1e9, cacheBytes: 1e8 };
  const stop = new SharedArrayBuffer(4);
  void new BatchWork({ ...setup, stop, cacheFolder: s.data });
  expect(cachedBytes()).toBe(held);
  void new BatchWork({ ...setup, stop, cacheFolder: undefined });
  expect(cachedBytes()).toBe(0);
});
