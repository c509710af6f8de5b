import fs from "node:fs";
import path from "node:path";
import { afterEach, beforeEach, describe, expect, it } from "@jest/globals";
import { readDefinition } from "../index.js";
import { runScript, smallStudy, type SmallStudy } from "../testing/small-study.js";

let s: SmallStudy;
const define = (accept: unknown): void =>
  fs.writeFileSync(
    path.join(s.folder, "oxtrum.study.json"),
    JSON.stringify({ oxtrum: 1, runs: { case: "case.json" }, accept }),
  );
beforeEach(() => {
  s = smallStudy();
  define({
    "reached the end": { table: "hall.csv", value: "last(time)", above: "1.5 min" },
    converged: { lines: "solver.log", read: ["Time = {time:s}", "residual {r}"], value: "last(r)", below: 1e-4 },
    steady: { table: "hall.csv", value: "range(p)", over: "20 s", within: ["0 Pa", "1 Pa"] },
  });
  const file = (run: string, name: string): string => path.join(s.folder, "runs", run, name);
  fs.writeFileSync(file("f050_d1", "hall.csv"), "time [s],T [K],p [Pa]\n0,1,1\n40,2,1\n");
  fs.writeFileSync(file("f100_d1", "solver.log"), "Time = 0 s\n  residual 1e-3\nTime = 1 s\n  residual 2e-3\n");
  fs.rmSync(file("f100_d3", "solver.log"));
});
afterEach(() => s.remove());

const read = (folder: string, name: string): string[][] =>
  fs
    .readFileSync(path.join(folder, name), "utf8")
    .trim()
    .split("\n")
    .map((l) => l.split(","));

describe("rules for which runs count", () => {
  const SCRIPT = `
const runs = study("small").runs.accepted;
const peaks = runs.rows((run) => ({ peak: run.table("hall.csv").max("T") }));
emit.table("peaks", peaks);
emit.check("some", peaks.max("peak"), { above: "1 K" });
emit.check("count", peaks.count("peak"), { equal: runs.count });
emit.table("verdicts", study("small").runs.verdicts());
`;

  it("leave runs out before any statistic, name the value that decided, and leave no check undecided", async () => {
    const r = await runScript(s, SCRIPT, { outFolder: s.out("a") });
    expect(r.errors).toEqual([]);
    expect(
      read(s.out("a"), "peaks.csv")
        .slice(1)
        .map((l) => l[0]),
    ).toEqual(["f050_d2", "f050_d3", "f100_d2"]);
    const left = Object.fromEntries(r.output("peaks").left.map((l) => [l.run, l.reason]));
    expect(left["f050_d1"]).toBe("not accepted: reached the end: 40 s, limit: > 1.5 min");
    expect(left["f100_d1"]).toMatch(/^not accepted: converged: 0\.002, limit: </);
    expect(left["f100_d3"]).toMatch(/^not accepted: converged: cannot be judged: .*solver\.log/);
    expect([r.output("some").verdict, r.output("count").verdict]).toEqual(["passed", "passed"]);
    expect(r.exit).toBe(2); // f100_d3 lacks a file: that is a gap, and told as one.
  });

  it("do not make a job incomplete by themselves", async () => {
    const r = await runScript(
      s,
      SCRIPT.replace(".runs.accepted", '.runs.where({ kind: "narrow" }).accepted').replace(/.*verdicts.*/, ""),
      { outFolder: s.out("a") },
    );
    expect(r.output("peaks").left.map((l) => l.run)).toEqual(["f050_d1", "f100_d1"]);
    expect(r.exit).toBe(0);
  });

  it("tell every run's numbers in a table", async () => {
    await runScript(s, SCRIPT, { outFolder: s.out("a") });
    const rows = read(s.out("a"), "verdicts.csv");
    expect(rows[0]).toEqual(["run", "accepted", "reached the end [s]", "converged", "steady [Pa]", "because"]);
    expect(rows[2]!.slice(0, 5)).toEqual(["f050_d2", "yes", "100", "0.00001", "0"]);
    expect(rows[6]!.slice(0, 4)).toEqual(["f100_d3", "no", "100", ""]);
  });

  it("are asked of in a dry run, which takes all runs to count", async () => {
    const r = await runScript(s, SCRIPT, { mode: "dry" });
    const asked = r.events.flatMap((e) => (e.type === "asked" ? e.asked : []));
    expect(asked.filter((a) => a.file === "solver.log" && a.line === 3)).toHaveLength(6);
    expect(asked.find((a) => a.run === "f100_d3" && a.file === "solver.log")?.missing).toMatch(/no solver\.log/);
  });

  it("judge only the run that is tried", async () => {
    const r = await runScript(s, SCRIPT, { mode: "try", tryRuns: { small: "f050_d2" }, viewFolder: s.out("views") });
    expect(r.errors).toEqual([]);
    expect(r.output("peaks")).toMatchObject({ runs: 1, notTried: 5 });
  });

  it("are a mistake where a column is not there, and where there are none", async () => {
    define({ "no such": { table: "hall.csv", value: "last(nothing)", below: 1 } });
    expect((await runScript(s, SCRIPT)).errors.join()).toMatch(/no column "nothing"/);
    define({});
    expect((await runScript(s, SCRIPT)).errors.join()).toMatch(/no rules for which runs count/);
  });
});

describe("a rule in the definition", () => {
  it.each([
    [{ table: "hall.csv", value: "last(time)" }, /needs a limit/],
    [{ value: "last(time)", below: 1 }, /table or lines/],
    [{ lines: "solver.log", value: "last(r)", below: 1 }, /needs the patterns/],
    [{ table: "hall.csv", value: "last(time)", below: "3 parsnips" }, /parsnips/],
    [{ table: "hall.csv", value: "last(time)", under: 3 }, /under|nrecognized/],
  ])("%j is refused with what is wrong", (rule, message) => {
    define({ odd: rule });
    expect(() => readDefinition(s.folder)).toThrow(message);
  });
});
