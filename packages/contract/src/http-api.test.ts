import fs from "node:fs";
import { describe, expect, it } from "@jest/globals";
import fc from "fast-check";
import { z } from "zod";
import { applyEvent, emptyLive, jobEventSchema, liveSchema } from "./job-events.js";
import { httpApiPage, schemaText } from "./http-api.js";

describe("the page of the HTTP API", () => {
  it("is what the schemas say; node scripts/http-api.mjs writes it anew", () => {
    const page = new URL("../../../docs/http-api.md", import.meta.url);
    expect(fs.readFileSync(page, "utf8")).toBe(httpApiPage());
  });
  it("shows a schema as a type", () => {
    const schema = z.object({
      a: z.number(),
      b: z.array(z.union([z.string(), z.null()])).optional(),
      c: z.record(z.string(), z.enum(["x", "y"])),
      d: z.number().default(3),
    });
    expect(schemaText(schema, "input")).toBe(
      '{\n  a: number;\n  b?: (string | null)[];\n  c: {\n    [name: string]: "x" | "y";\n  };\n  d?: number; // default: 3\n}',
    );
  });
});

describe("what a job has told", () => {
  const text = fc.string({ maxLength: 8 });
  const excluded = fc.record({ run: text, reason: text });
  const event = fc.oneof(
    fc.record({ type: fc.constant("stage"), stage: text }),
    fc.record({ type: fc.constant("message"), level: fc.constantFrom("note", "error"), text }),
    fc.record({
      type: fc.constant("cells"),
      study: text,
      run: text,
      cells: fc.array(fc.record({ line: fc.nat(99), state: fc.constantFrom("running", "done", "cache") }), {
        maxLength: 3,
      }),
    }),
    fc.record({
      type: fc.constant("done"),
      exit: fc.nat(3),
      summary: fc.record({
        runs: fc.nat(),
        left: fc.array(excluded, { maxLength: 2 }),
        cellsDone: fc.nat(),
        cellsCached: fc.nat(),
        peakBytes: fc.nat(),
        seconds: fc.nat(),
      }),
    }),
  );
  it("is the same whether its events come one by one or again from a journal, and fits the schema of answers", () => {
    fc.assert(
      fc.property(fc.array(event, { maxLength: 20 }), (events) => {
        const [here, again] = [emptyLive(), emptyLive()];
        for (const e of events) applyEvent(here, jobEventSchema.parse(e));
        const journal = events.map((e) => JSON.stringify(e)).join("\n");
        for (const line of journal === "" ? [] : journal.split("\n"))
          applyEvent(again, jobEventSchema.parse(JSON.parse(line)));
        expect(JSON.parse(JSON.stringify(again))).toEqual(JSON.parse(JSON.stringify(here)));
        expect(liveSchema.parse(here)).toEqual(here);
        expect(here.seq).toBe(events.length);
      }),
    );
  });
});
