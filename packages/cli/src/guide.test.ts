import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "@jest/globals";
import { jobRequestSchema } from "@oxtrum/engine";
import { libraryGuide } from "@oxtrum/engine/check";
import { runHere } from "@oxtrum/engine/testing";
import { demoData } from "./testing/demo-data.js";

/** What the examples in the doc comments take for granted. */
const given = `import { study, across, at, calc, chart, picture, emit, fit, input, law, q, together } from "oxtrum";
const runs = study("coldstore-doors").runs;
const air = runs.where({ curtain: "none", fan: [50, 75, 100] }).map((run) => run.table("monitors/hall.csv"));
const run = air.map((_, run) => run).get("075_080_none");
const t = air.get("075_080_none");
const log = run.lines("solver.log").read("t {time:s} s | it {iteration} | dT {dT} | dU {dU}");
const anchors = study("rack-impact").runs.map((run) => run.table("anchors"));
const hit = anchors.get("v2p0-S355");
const peaks = air.rows((t, run) => ({ fan: run.params.fan, open: run.params.doorOpen, peak: t.max("T_mean") }));
const diameter = q("20 mm");
const hall = run.field("fields/hall").at("last");
const walls = run.field("surfaces/*.vtp");
`;
/** Asks for what an example gives, if it gives something that can be asked for. */
const show = `
const show = (name: string, value: unknown): void => {
  const v = value as { max?: unknown; plus?: unknown; get?: unknown; chart?: unknown } | undefined;
  if (typeof v?.max === "function") emit.table(name, value as Parameters<typeof emit.table>[1]);
  else if (typeof v?.plus === "function") emit.value(name, value as Parameters<typeof emit.value>[1]);
  else if ((v as { picture?: boolean } | undefined)?.picture === true) emit.picture(name, value as Parameters<typeof emit.picture>[1]);
  else if (v?.chart === true) emit.chart(name, value as Parameters<typeof emit.chart>[1]);
};
`;

const examples = libraryGuide().flatMap((c) =>
  c.entries.flatMap((e) => e.examples.map((text, k) => ({ name: `${c.name}.${e.name} ${k + 1}`, text }))),
);
let base: string;
beforeAll(() => {
  base = fs.mkdtempSync(path.join(os.tmpdir(), "oxtrum-guide-"));
});
afterAll(() => fs.rmSync(base, { recursive: true, force: true }));

const studies = (): { name: string; folder: string }[] =>
  fs.readdirSync(demoData()).map((name) => ({ name, folder: path.join(demoData(), name) }));

describe("the guide", () => {
  it("has a text for every verb, and an example for most", () => {
    const nouns = libraryGuide().filter((c) =>
      ["functions", "Table", "RunSet", "RunMap", "Run", "Charts", "Sites", "Outputs"].includes(c.name),
    );
    const bare = nouns.flatMap((c) => c.entries.filter((e) => e.text === "").map((e) => `${c.name}.${e.name}`));
    expect(bare).toEqual([]);
    const verbs = nouns.flatMap((c) => c.entries);
    expect(verbs.filter((e) => e.examples.length > 0).length / verbs.length).toBeGreaterThan(0.75);
  });

  it("has examples that pass the checker and give what they promise", async () => {
    const lines = examples.map(({ name, text }) =>
      text.startsWith("emit.") ? `${text};` : `show(${JSON.stringify(name)}, ${text});`,
    );
    const failed: string[] = [];
    const result = await runHere(
      jobRequestSchema.parse({
        files: { "guide.ts": `${given}${show}${lines.join("\n")}\n` },
        main: "guide.ts",
        studies: studies(),
        dataFolder: path.join(base, "oxtrum"),
        outFolder: path.join(base, "out"),
      }),
      (e) => {
        if (e.type === "diagnostics")
          failed.push(
            ...e.diagnostics
              .filter((d) => d.severity === "error")
              .map((d) => `${lines[d.line - given.split("\n").length - show.split("\n").length + 1]}: ${d.message}`),
          );
        if (e.type === "message" && e.level === "error") failed.push(e.text);
      },
    );
    expect(failed).toEqual([]);
    expect(result.outputs.filter((o) => o.failed !== undefined).map((o) => `${o.name}: ${o.failed}`)).toEqual([]);
    expect(result.outputs.length).toBeGreaterThan(examples.length / 2);
  });
});
