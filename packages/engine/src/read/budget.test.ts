import { describe, expect, it } from "@jest/globals";
import { refused } from "../testing/refused.js";
import { Budget, BudgetError } from "./budget.js";

describe("the memory of a job", () => {
  it("counts what all threads take, and the most at once", () => {
    const one = Budget.create(1e6);
    const other = new Budget(one.shared, 1e6);
    one.take(300_000);
    other.take(200_000);
    // In KiB, rounded up.
    expect(one.used).toBe(1024 * (293 + 196));
    other.release(200_000);
    expect([one.used, one.peak]).toEqual([1024 * 293, 1024 * 489]);
    one.releaseOwn();
    expect([one.used, one.peak]).toEqual([0, 1024 * 489]);
  });
  it("refuses what is too much, with the cure, and counts none of it", () => {
    const b = Budget.create(1e6);
    b.take(900_000);
    const used = b.used;
    expect(() => b.take(200_000)).toThrow(BudgetError);
    expect(refused(() => b.take(2_000_000))).toBe(
      "2 MB more are needed, but the job's 1 MB are in use; give it more with --memory, or pick fewer columns",
    );
    expect([b.used, b.peak]).toEqual([used, used]);
  });
  it("gives numbers in memory that all threads see", () => {
    const b = Budget.create(1e6);
    const values = b.numbers(1000);
    expect([values.length, values.buffer instanceof SharedArrayBuffer, b.used]).toEqual([1000, true, 8 * 1024]);
    expect(() => b.numbers(1e6)).toThrow(BudgetError);
  });
  it("counts what caches hold from batch to batch, or tells that they have to be emptied", () => {
    const b = Budget.create(1e6);
    expect(b.holdCaches(400_000)).toBe(true);
    expect(b.holdCaches(500_000)).toBe(true);
    expect(b.used).toBe(1024 * 489);
    b.take(400_000);
    b.releaseOwn();
    // What a thread has taken is given back, not what its caches hold.
    expect(b.used).toBe(1024 * 489);
    b.take(400_000);
    expect(b.holdCaches(700_000)).toBe(false);
    expect(b.used).toBe(1024 * 391);
    expect(b.holdCaches(100_000)).toBe(true);
  });
});
