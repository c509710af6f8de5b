import { describe, expect, it } from "@jest/globals";
import fc from "fast-check";
import { apiErrorSchema, errorCodeOf, errorCodes } from "./error.js";
import { applyEvent, emptyLive, jobEventSchema, liveSchema, type JobEvent, type Live } from "./job-events.js";

const sum = (events: readonly JobEvent[]): Live => {
  const live = emptyLive();
  for (const e of events) applyEvent(live, e);
  return live;
};
const cells = (run: string, ...list: [line: number, state: "running" | "done" | "failed"][]): JobEvent => ({
  type: "cells",
  study: "s",
  run,
  cells: list.map(([line, state]) => ({ line, state })),
});
const summary = {
  runs: 2,
  left: [{ run: "b", reason: "cut off" }],
  cellsDone: 3,
  cellsCached: 1,
  peakBytes: 9,
  seconds: 1,
};
const output = (name: string): JobEvent => ({
  type: "output",
  output: { name, kind: "text", line: 1, file: "a.ts", files: [], runs: 0, left: [], notes: [] },
});

describe("what a job has told", () => {
  it("is nothing at first, and fits the contract then and later", () => {
    expect(liveSchema.parse(emptyLive())).toEqual(emptyLive());
    const whole = sum([
      { type: "stage", stage: "scanning", text: "s" },
      { type: "grid", runs: [{ study: "s", id: "a", set: 0 }], sets: [[2]], lines: [{ line: 2, label: "hall.csv" }] },
      cells("a", [2, "running"]),
      output("note"),
      { type: "message", level: "warning", text: "odd" },
      { type: "asked", asked: [{ run: "a", file: "hall.csv", line: 2, missing: "not there" }], complete: false },
      { type: "done", exit: 0, summary },
    ]);
    expect(liveSchema.parse(whole)).toEqual(whole);
    expect(whole).toMatchObject({ stage: "done", complete: false, left: summary.left, summary, seq: 7 });
    expect(whole.messages).toEqual([{ level: "warning", text: "odd" }]);
  });

  it("keeps of each cell what was told last, by run and line", () => {
    const live = sum([
      cells("a", [1, "running"], [2, "running"]),
      cells("b", [1, "running"]),
      cells("a", [2, "failed"]),
    ]);
    expect(live.cells).toEqual({
      "s/a": { 1: { state: "running" }, 2: { state: "failed" } },
      "s/b": { 1: { state: "running" } },
    });
  });

  it("keeps outputs in the order in which they were made, and all diagnostics", () => {
    const diagnostic = {
      file: "a.ts",
      line: 1,
      column: 1,
      endLine: 1,
      endColumn: 2,
      severity: "error" as const,
      message: "no",
      fixes: [],
    };
    const live = sum([
      output("b"),
      { type: "diagnostics", diagnostics: [diagnostic] },
      output("a"),
      { type: "diagnostics", diagnostics: [{ ...diagnostic, line: 2 }] },
    ]);
    expect(live.outputs.map((o) => o.name)).toEqual(["b", "a"]);
    expect(live.diagnostics.map((d) => d.line)).toEqual([1, 2]);
  });

  it("says that there were more messages than are kept", () => {
    const message = (k: number): JobEvent => ({ type: "message", level: "note", text: String(k) });
    const live = sum(Array.from({ length: 2005 }, (_, k) => message(k)));
    expect(live.messages).toHaveLength(2001);
    expect(live.messages[1999]).toEqual({ level: "note", text: "1999" });
    expect(live.messages[2000]!.text).toMatch(/more than 2000 messages/);
    expect(live.seq).toBe(2005);
  });

  it("is the same whether events come at once, in parts, or from a journal", () => {
    const event = fc.oneof(
      fc.record({ type: fc.constant("stage" as const), stage: fc.string() }),
      fc
        .tuple(fc.constantFrom("a", "b", "__proto__"), fc.integer({ min: 1, max: 5 }))
        .map(([run, line]) => cells(run, [line, "done"])),
      fc.string().map(output),
      fc.record({ type: fc.constant("message" as const), level: fc.constant("error" as const), text: fc.string() }),
    );
    fc.assert(
      fc.property(fc.array(event, { maxLength: 20 }), fc.nat(20), (events, at) => {
        const once = sum(events);
        const parts = sum(events.slice(0, at));
        for (const e of events.slice(at)) applyEvent(parts, e);
        const journal = events.map((e) => jobEventSchema.parse(JSON.parse(JSON.stringify(e))));
        expect(parts).toEqual(once);
        expect(sum(journal)).toEqual(once);
        expect(once.seq).toBe(events.length);
      }),
    );
  });

  it("is refused where it is not an event", () => {
    for (const odd of [{}, { type: "cells" }, { type: "stage" }, { type: "done", exit: "0" }, null, "stage"])
      expect(jobEventSchema.safeParse(odd).success).toBe(false);
  });
});

describe("errors", () => {
  it("have the code of their HTTP status", () => {
    const codes = { 400: "invalid", 422: "invalid", 401: "unauthorized", 404: "not found", 409: "conflict" };
    const others = { 403: "forbidden", 413: "too large", 503: "unavailable", 507: "storage", 500: "internal" };
    for (const [status, code] of Object.entries({ ...codes, ...others }))
      expect(errorCodeOf(Number(status))).toBe(code);
    for (let status = 400; status < 600; status++) expect(errorCodes).toContain(errorCodeOf(status));
  });

  it("have one shape", () => {
    const error = { code: "not found", message: 'There is no script "a.ts".', hint: "Look at the list." };
    expect(apiErrorSchema.parse({ error })).toEqual({ error });
    for (const odd of [{ error: "no" }, { error: { code: "odd", message: "" } }, { error: { code: "conflict" } }, {}])
      expect(apiErrorSchema.safeParse(odd).success).toBe(false);
  });
});
