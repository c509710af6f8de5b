import fs from "node:fs";
import path from "node:path";
import { afterEach, beforeEach, describe, expect, it } from "@jest/globals";
import { runScript, smallStudy, type SmallStudy } from "../testing/small-study.js";

let s: SmallStudy;
const log = (run: string, text: string): void =>
  fs.appendFileSync(path.join(s.folder, "runs", run, "solver.log"), text);
const runs = ["f050_d1", "f050_d2", "f050_d3", "f100_d1", "f100_d2", "f100_d3"];
beforeEach(() => {
  s = smallStudy();
  fs.writeFileSync(
    path.join(s.folder, "oxtrum.study.json"),
    JSON.stringify({
      runs: { case: "case.json" },
      states: {
        finished: { file: "solver.log", text: "finished" },
        failed: { file: "solver.log", text: "stopped:" },
        diverging: { lines: "solver.log", read: ["residual {r}"], value: "last(r)", above: 1 },
      },
    }),
  );
});
afterEach(() => s.remove());

const SCRIPT = `
const all = study("small").runs;
const peaks = all.rows((run) => ({ state: run.state, peak: run.table("hall.csv").max("T") }));
emit.table("peaks", peaks, { formats: ["csv"] });
emit.check("cool", peaks.max("peak"), { below: "500 K" });
const done = all.finished.rows((run) => ({ peak: run.table("hall.csv").max("T") }));
emit.table("done", done, { formats: ["csv"] });
emit.check("done cool", done.max("peak"), { below: "500 K" });
`;
const states = (folder: string): string[] =>
  fs
    .readFileSync(path.join(folder, "peaks.csv"), "utf8")
    .trim()
    .split("\n")
    .slice(1)
    .map((l) => l.split(",")[1]!);

describe("states of runs in scripts", () => {
  it("are those of the rules; checks over runs that are not finished are pending", async () => {
    for (const r of runs.slice(0, 4)) log(r, "finished\n");
    log(runs[4]!, "stopped: no memory\n");
    log(runs[5]!, "residual 5\n");
    const r = await runScript(s, SCRIPT, { outFolder: s.out("a") });
    expect(r.errors).toEqual([]);
    expect(states(s.out("a"))).toEqual(["finished", "finished", "finished", "finished", "failed", "diverging"]);
    // The run that failed is at its end: its numbers do not change any more.
    expect(r.output("cool").summary).toBe(
      "undecided: 103 K, limit: < 500 K (pending: a run is not finished (f100_d3))",
    );
    expect(r.output("done").left.map((l) => [l.run, l.reason])).toEqual([
      ["f100_d2", 'not finished: failed, solver.log says "stopped: no memory"'],
      ["f100_d3", "not finished: diverging, last(r) is 5, rule: > 1"],
    ]);
    expect(r.output("done cool").verdict).toBe("undecided");
    log(runs[5]!, "finished\n");
    // A run that failed is decided on.
    expect((await runScript(s, SCRIPT, { outFolder: s.out("b") })).output("done cool").verdict).toBe("passed");
  });

  it("once all runs are finished, nothing tells of it, from the cache or not", async () => {
    const first = await runScript(s, SCRIPT, { outFolder: s.out("a") });
    expect([first.output("cool").verdict, states(s.out("a"))[0]]).toEqual(["undecided", "running"]);
    for (const r of runs) log(r, "finished\n");
    const warm = await runScript(s, SCRIPT, { outFolder: s.out("b") });
    const cold = await runScript(s, SCRIPT, { outFolder: s.out("c"), cache: false });
    for (const r of [warm, cold]) {
      expect([r.output("cool").verdict, r.output("done cool").verdict, r.exit]).toEqual(["passed", "passed", 0]);
      expect(r.output("cool").conditions).toBeUndefined();
    }
    expect(fs.readFileSync(path.join(s.out("b"), "peaks.csv"))).toEqual(
      fs.readFileSync(path.join(s.out("c"), "peaks.csv")),
    );
  });

  it("are not read for a script that does not ask, and one that asks by a name put together is told", async () => {
    const plain = await runScript(s, 'emit.table("a", study("small").runs.rows((run) => ({ fan: run.params.fan })));');
    expect(plain.errors).toEqual([]);
    const odd = await runScript(
      s,
      '// @ts-nocheck\nemit.table("a", study("small").runs.rows((run) => ({ s: run["sta" + "te"] })));'.replace(
        /^/,
        "",
      ),
    );
    expect(odd.errors.join()).toMatch(/write run\.state or runs\.finished in full/);
  });

  it("without rules every run is finished", async () => {
    fs.rmSync(path.join(s.folder, "oxtrum.study.json"));
    const r = await runScript(s, SCRIPT, { outFolder: s.out("a") });
    expect([r.exit, new Set(states(s.out("a")))]).toEqual([0, new Set(["finished"])]);
  });
});
