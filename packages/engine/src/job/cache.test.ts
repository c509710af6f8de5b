import fs from "node:fs";
import path from "node:path";
import { afterEach, beforeEach, describe, expect, it } from "@jest/globals";
import { chance } from "@oxtrum/core/testing/mutate";
import { bytesOf, runNames, runScript, smallStudy, type Ran, type SmallStudy } from "../testing/small-study.js";

let s: SmallStudy;
beforeEach(() => void (s = smallStudy()));
afterEach(() => s.remove());

const run = (text: string, more: object = {}): Promise<Ran> => runScript(s, text, more);
const write = (r: string, f: (t: number) => string, head = "time [s],T [K],p [Pa]"): void =>
  fs.writeFileSync(
    path.join(s.folder, "runs", r, "hall.csv"),
    `${head}\n${Array.from({ length: 101 }, (_, t) => f(t)).join("\n")}\n`,
  );

const ACROSS = `const t = study("small").runs.map((run) => run.table("hall.csv"));
const mean = t.rows((x) => ({ p: x.max("T") })).mean("p");
const d = t.map((x) => x.derive("d", "T - m", { with: { m: mean } }).pick("time", "d"));
emit.table("far", d.rows((x) => ({ max: x.max("d"), end: x.last("d") })));
emit.table("all", d.stack());
emit.value("mean", mean);
emit.chart("air", chart.lines(d, { x: "time", y: "d" }), { formats: ["csv"] });
`;

describe("kept results are those that would be computed", () => {
  it("of a run's value that uses all runs, after another run changed, and with other runs", async () => {
    await run(ACROSS, { outFolder: s.out("a") });
    write("f100_d3", (t) => `${t},${7 * t},3`);
    const warm = await run(ACROSS, { outFolder: s.out("warm") });
    await run(ACROSS, { outFolder: s.out("cold"), cache: false });
    expect(warm.exit).toBe(0);
    expect(bytesOf(s.out("warm"))).toEqual(bytesOf(s.out("cold")));
    await run(ACROSS, { outFolder: s.out("warm2"), runs: "fan=50" });
    await run(ACROSS, { outFolder: s.out("cold2"), runs: "fan=50", cache: false });
    expect(bytesOf(s.out("warm2"))).toEqual(bytesOf(s.out("cold2")));
  });
  it("of a table of which first one column was needed, then others", async () => {
    const head = `const t = study("small").runs.map((run) => run.table("hall.csv").derive("c", "T + 1 K").derive("e", "2 * c"));\n`;
    await run(`${head}emit.chart("one", chart.lines(t, { x: "time", y: "c" }), { formats: ["csv"] });`, {
      outFolder: s.out("a"),
    });
    const text = `${head}emit.chart("one", chart.lines(t, { x: "time", y: "c" }), { formats: ["csv"] });
const u = t.map((x) => x.derive("f", "e + c"));
emit.table("two", u.rows((x) => ({ e: x.max("e"), f: x.mean("f") })));
emit.chart("three", chart.lines(u, { x: "p", y: "f" }), { formats: ["csv"] });`;
    const warm = await run(text, { outFolder: s.out("warm") });
    await run(text, { outFolder: s.out("cold"), cache: false, workers: 1 });
    expect([warm.exit, warm.errors]).toEqual([0, []]);
    expect(bytesOf(s.out("warm"))).toEqual(bytesOf(s.out("cold")));
  });
  it("of runs with the same damaged file: each condition names its own run", async () => {
    for (const r of ["f050_d1", "f050_d2"])
      fs.writeFileSync(path.join(s.folder, "runs", r, "hall.csv"), "time [s],T [K],p [Pa]\n0,1,2\n1,2\n2,3,4\n");
    const text = `emit.table("peaks", study("small").runs.map((run) => run.table("hall.csv")).rows((x) => ({ p: x.max("T") })));`;
    for (let k = 0; k < 2; k++) {
      const r = await run(text, { outFolder: s.out(`c${k}`) });
      expect(r.output("peaks").conditions!.map((c) => [c.study, c.run])).toEqual([
        ["small", "f050_d1"],
        ["small", "f050_d2"],
      ]);
    }
  });
});

describe("a callback is called for every run", () => {
  it.each([
    ["a counter in a helper", `let n = 0; const next = () => ++n;`, "next()"],
    ["an iterator", `const it = [1, 2, 3, 4, 5, 6][Symbol.iterator]();`, "it.next().value"],
    [
      "a closure over a mutable object",
      `const o = { n: 0 }; const bump = (x) => { x.n = x.n + 1; return x.n; };`,
      "bump(o)",
    ],
    ["a generator", `function* g() { for (let k = 1; ; k++) yield k; } const c = g();`, "c.next().value"],
    ["an array that is emptied", `const list = [6, 5, 4, 3, 2, 1];`, "list.pop()"],
    ["a method that remembers", `class C { #n = 0; get() { return ++this.#n; } } const c = new C();`, "c.get()"],
  ])("%s", async (_, head, call) => {
    const r = await run(
      `${head}\nemit.table("n", study("small").runs.map((run) => run.table("hall.csv")).rows((x) => ({ n: ${call}, peak: x.max("T") })));`,
      { outFolder: s.out("a") },
    );
    expect(r.errors).toEqual([]);
    const column = fs
      .readFileSync(path.join(s.out("a"), "n.csv"), "utf8")
      .trim()
      .split("\n")
      .slice(1)
      .map((l) => l.split(",")[1]);
    expect(column).toEqual(["1", "2", "3", "4", "5", "6"]);
  });
});

describe("warm is cold, whatever came before", () => {
  const scripts = [
    ACROSS,
    `const t = study("small").runs.map((run) => run.table("hall.csv"));
emit.table("peaks", t.rows((x, run) => ({ fan: run.params.fan, peak: x.max("T"), mean: x.mean("p") })));
emit.chart("band", chart.band(across(t, { on: "time", columns: ["T"] }), { y: "T", show: ["mean", "min", "max"] }), { formats: ["csv"] });`,
    `const t = study("small").runs.where({ fan: 50 }).map((run) => run.table("hall.csv").window("time", ["10 s", "60 s"]));
emit.table("wide", t.wide("T"));
emit.value("n", t.rows((x) => ({ r: x.integral("T") })).max("r"));`,
  ];
  it.each([1, 2])("after changes, other runs, Try then Run, other worker counts (sequence %i)", async (seed) => {
    const random = chance(7 * seed + 3);
    for (let step = 0; step < 3; step++) {
      const r = runNames[random(6)]!;
      const file = path.join(s.folder, "runs", r, "hall.csv");
      const act = random(5);
      if (act === 0) fs.rmSync(file, { force: true });
      else if (act === 1) write(r, (t) => `${t},${step + t * (seed + 1)},${r.length}`);
      else if (act === 2) write(r, (t) => `${t},${t % 3 === 0 ? "" : t},1`);
      else if (act === 3) write(r, (t) => `${t / 60},${t},1`, "time [min],T [degC],p [bar]");
      const text = scripts[random(scripts.length)]!;
      if (random(2) === 0) await run(text, { mode: "try", tryRuns: { small: runNames[random(3)]! } });
      const more = { runs: random(3) === 0 ? "door=1,door=1" : undefined };
      const warm = await run(text, { ...more, outFolder: s.out(`w${step}`) });
      const cold = await run(text, { ...more, outFolder: s.out(`c${step}`), workers: 1 + random(3), cache: false });
      expect([warm.exit, warm.errors]).toEqual([cold.exit, cold.errors]);
      const bytes = (f: string): unknown => (fs.existsSync(f) ? bytesOf(f) : undefined);
      expect([seed, step, bytes(s.out(`w${step}`))]).toEqual([seed, step, bytes(s.out(`c${step}`))]);
    }
  });
});

it("a mistake of our own stops the job and says where to look, instead of passing for a run's reason", async () => {
  const { operations } = await import("../verbs/registry.js");
  const op = operations.get("runs.stack")!;
  const kept = op.run;
  (op as { run: unknown }).run = () => (undefined as unknown as { x: () => never }).x();
  try {
    const r = await run(`emit.table("a", study("small").runs.map((run) => run.table("hall.csv")).stack());`, {
      outFolder: s.out("a"),
    });
    expect([r.exit, r.errors.join()]).toEqual([
      1,
      expect.stringMatching(/a mistake inside Oxtrum, not in your data: runs\.stack: TypeError.*Please report it/),
    ]);
    expect(fs.existsSync(s.out("a"))).toBe(false);
  } finally {
    (op as { run: unknown }).run = kept;
  }
});
