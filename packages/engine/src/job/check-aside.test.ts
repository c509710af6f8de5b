import fs from "node:fs";
import { afterAll, beforeAll, describe, expect, it } from "@jest/globals";
import { jobRequestSchema, type JobEvent, type JobResult } from "../index.js";
import { Sandbox } from "../sandbox/run-script.js";
import { bytesOf, smallStudy, type SmallStudy } from "../testing/index.js";
import { runJob } from "./run-job.js";

/** A script that runs while it is checked: nothing that it does counts, or is told, before it is known to be sound. */
let s: SmallStudy;
beforeAll(() => void (s = smallStudy()));
afterAll(() => s.remove());

interface Ran {
  readonly result: JobResult;
  readonly events: readonly JobEvent[];
  /** What is told of mistakes. */
  readonly mistakes: readonly string[];
}

async function run(text: string, checksAside: boolean, out: string, stopAfter?: number): Promise<Ran> {
  const events: JobEvent[] = [];
  const files = { "main.ts": `import { study, chart, emit } from "oxtrum";\n${text}` };
  const studies = [{ name: "small", folder: s.folder }];
  const request = { files, main: "main.ts", studies, dataFolder: s.data, outFolder: s.out(out), cache: false };
  const stop = new AbortController();
  if (stopAfter !== undefined) setTimeout(() => stop.abort(), stopAfter);
  const warm = { sandbox: new Sandbox(), threads: [], checksAside };
  const asked = jobRequestSchema.parse({ ...request, workers: 1 });
  const result = await runJob(asked, (e) => events.push(e), stop.signal, warm);
  const mistakes = events.flatMap((e) =>
    e.type === "diagnostics"
      ? e.diagnostics.map((d) => `${d.line} ${d.message}`)
      : e.type === "message"
        ? [e.text]
        : [],
  );
  return { result, events, mistakes };
}

/** What is told, without what depends on time: cells come run by run, as threads end them. */
const told = (r: Ran): unknown[] =>
  r.events
    .filter((e) => e.type !== "cells")
    .map((e) => (e.type === "done" ? { ...e, summary: { ...e.summary, seconds: 0, peakBytes: 0 } } : e));

const peaks = `const t = study("small").runs.map((run) => run.table("hall.csv"));
const rows = t.rows((x, run) => ({ fan: run.params.fan, peak: x.max("T") }));
emit.table("peaks", rows);
emit.check("cool", rows.max("peak"), { below: "200 K" });
`;
const wrong = `emit.value("wrong", rows.max("peek"));\n`;

describe("a script that is checked while it runs", () => {
  it("tells and writes the same as one that was checked before", async () => {
    const [before, aside] = [await run(peaks, false, "before"), await run(peaks, true, "aside")];
    expect(told(aside)).toEqual(told(before));
    expect(bytesOf(s.out("aside"))).toEqual(bytesOf(s.out("before")));
  });
  it.each([
    ["of types alone", peaks + wrong],
    ["beside one that shows only as it runs", `${peaks}throw new Error("at the end");\n${wrong}`],
    ["of syntax, which nothing can run", `${peaks}emit.value("a", ;\n`],
    ["that preflight finds as well", peaks.replace('"T"', '"Tee"')],
  ])("has the errors of its check alone: %s", async (_, text) => {
    const [before, aside] = [await run(text, false, "never"), await run(text, true, "never")];
    expect(aside.mistakes).toEqual(before.mistakes);
    expect(aside.mistakes).not.toEqual([]);
    expect(aside.events.some((e) => e.type === "output" || e.type === "cells")).toBe(false);
    expect([aside.result.exit, fs.existsSync(s.out("never"))]).toEqual([1, false]);
  });
  it("is told what stopped it where its types are sound", async () => {
    const { result, mistakes } = await run(`${peaks}throw new Error("at the end");\n`, true, "never");
    expect(mistakes).toEqual([expect.stringMatching(/at the end/)]);
    expect([result.exit, fs.existsSync(s.out("never"))]).toEqual([1, false]);
  });
  it("is ended by its errors, not only after its time is up", async () => {
    const { mistakes } = await run(`${peaks}${wrong}for (;;);\n`, true, "never");
    expect(mistakes).toEqual([expect.stringMatching(/peek/)]);
  });
  it("is stopped by who asked for it, whatever the check would say", async () => {
    const { result, events } = await run(`${peaks}${wrong}for (;;);\n`, true, "never", 100);
    const done = events.at(-1)!;
    expect([result.exit, done.type === "done" && done.stopped]).toEqual([1, true]);
  });
});
