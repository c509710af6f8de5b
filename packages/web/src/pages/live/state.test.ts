import { describe, expect, it } from "@jest/globals";
import fc from "fast-check";
import type { LiveSeries, LiveStudy } from "@oxtrum/contract";
import { fromAddress, toAddress, type LiveState, type ShownQuantity } from "./state";
import { merged } from "./use-live";

const name = fc.string({ minLength: 1, maxLength: 12, unit: "grapheme" });
const number = fc.double({ noNaN: true, noDefaultInfinity: true }).map((v) => v + 0);
const quantity: fc.Arbitrary<ShownQuantity["quantity"]> = fc.oneof(
  fc.record({ kind: fc.constant("table" as const), file: name, column: name }),
  fc.record({
    kind: fc.constant("lines" as const),
    file: name,
    patterns: fc.array(name, { minLength: 1, maxLength: 3 }),
    column: name,
  }),
  fc.record({
    kind: fc.constant("field" as const),
    file: name,
    field: name,
    statistic: fc.constantFrom("mean" as const, "min" as const, "max" as const),
  }),
);
const shown: fc.Arbitrary<ShownQuantity> = fc.record({
  quantity,
  along: fc.constantFrom("axis" as const, "row" as const),
  log: fc.boolean(),
  level: fc.option(number, { nil: undefined }),
  range: fc.option(
    fc
      .tuple(number, number)
      .filter(([a, b]) => a !== b)
      .map(([a, b]) => (a < b ? ([a, b] as const) : ([b, a] as const))),
    { nil: undefined },
  ),
});
const state: fc.Arbitrary<LiveState> = fc.record({
  runs: fc.option(fc.uniqueArray(name, { maxLength: 4 }), { nil: undefined }),
  quantities: fc.array(shown, { maxLength: 4 }),
  view: fc.constantFrom("together" as const, "each" as const),
});

describe("what the Live page shows", () => {
  it("comes back from its address, whatever names hold", () => {
    fc.assert(
      fc.property(state, (s) => {
        const address = new URLSearchParams(toAddress(s).toString());
        expect(fromAddress(address)).toEqual(s);
      }),
    );
  });
  it("is nothing where an address is damaged", () => {
    fc.assert(
      fc.property(fc.string(), fc.json(), (text, json) => {
        const a = new URLSearchParams([
          ["q", text],
          ["q", json],
          ["runs", text],
          ["view", json],
        ]);
        for (const q of fromAddress(a).quantities) expect(["table", "lines", "field"]).toContain(q.quantity.kind);
      }),
    );
  });
  it("keeps series that an answer names by their version only", () => {
    const series = (version: string, y?: number[]): LiveSeries => ({ version, ...(y && { x: y, y }) });
    const answer = (...s: LiveSeries[]): LiveStudy => ({
      at: 0,
      lookedAt: 0,
      scannedAt: 0,
      runs: [{ id: "a", state: "running", because: "", written: 0, progress: null, series: s }],
    });
    const held = new Map<string, LiveSeries>();
    merged(answer(series("1", [1]), series("7", [5])), held);
    const second = merged(answer(series("2", [1, 2]), series("7")), held);
    expect(second.runs[0]!.series.map((s) => s.y)).toEqual([[1, 2], [5]]);
    // What another reader has said, and nobody holds, is asked for again: it stays empty until then.
    expect(merged(answer(series("3"), series("7")), held).runs[0]!.series.map((s) => s.y)).toEqual([undefined, [5]]);
  });
});
