import { describe, expect, it } from "@jest/globals";
import { pauseAfter } from "./pace.js";

describe("the pause after a scan", () => {
  it("goes with what the scan took, is never short, and ends within what one waits for a new run", () => {
    expect([0, 10, 500, 2000, 7000, 120_000].map((took) => pauseAfter("moved", took))).toEqual([
      4000, 4000, 10_000, 40_000, 60_000, 60_000,
    ]);
    expect([0, 500, 60_000].map((took) => pauseAfter("grown", took))).toEqual([8000, 30_000, 300_000]);
  });
});
