import fs from "node:fs";
import path from "node:path";
import { afterEach, beforeEach, describe, expect, it } from "@jest/globals";
import { runScript, smallStudy, type SmallStudy } from "../testing/small-study.js";

let s: SmallStudy;
beforeEach(() => void (s = smallStudy()));
afterEach(() => s.remove());

/** Says other parameters of a run. */
const says = (run: string, params: object): void =>
  fs.writeFileSync(path.join(s.folder, "runs", run, "case.json"), JSON.stringify(params));
const lines = (name: string): string[] =>
  fs
    .readFileSync(path.join(s.out("out"), `${name}.csv`), "utf8")
    .trim()
    .split("\n");

describe("a parameter that is a word in some runs, a number in others, and nowhere in the rest", () => {
  beforeEach(() => {
    says("f050_d1", {});
    says("f050_d2", { mode: "strip" });
    says("f050_d3", { mode: 2.5 });
    says("f100_d1", { mode: { value: 40, unit: "%" } });
  });
  it.each([1, 2])("is text in all rows, whichever run comes first (%i)", async (first) => {
    if (first === 2) says("f050_d1", { mode: "none" });
    const r = await runScript(
      s,
      `const t = study("small").runs.map((run) => run.table("hall.csv").window("time", ["0 s", "0 s"]));
emit.table("stacked", t.stack(), { formats: ["csv"] });
emit.table("rows", t.rows((x, run) => ({ T: x.max("T"), mode: run.params.mode })), { formats: ["csv"] });
`,
      { outFolder: s.out("out") },
    );
    expect(r.errors).toEqual([]);
    const head = lines("stacked")[0]!.split(",");
    const at = head.findIndex((h) => h.startsWith("mode"));
    expect(head[at]).toBe("mode");
    const modes = lines("stacked")
      .slice(1)
      .map((l) => l.split(",")[at]!);
    expect(modes.slice(0, 3)).toEqual([first === 1 ? "" : "none", "strip", "2.5"]);
    // A number keeps its unit as a word.
    expect(modes[3]).toMatch(/^40(?: %)?$/);
    expect(modes.slice(4)).toEqual(["", ""]);
    expect(lines("rows")).toHaveLength(7);
  });
});
