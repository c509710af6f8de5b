import { beforeAll, describe, expect, it } from "@jest/globals";
import { PlainHost, type GivenStudy, type OperationCall } from "../../testing/plain-host.js";
import { proofTables } from "../../testing/operation-calls.js";
import { refused } from "../../testing/refused.js";

const host = await PlainHost.load();
const { study, across, q, Table, Item, RunMap } = host.runtime;
type RunSet = ReturnType<typeof study>["runs"];

/** Runs of a fan and a door; the last has no fan speed, the first is not finished. */
const made = (tried: (k: number) => boolean = () => true, rules: GivenStudy["rules"] = []): GivenStudy => ({
  runs: [
    [50, 10, "none"],
    [50, 30, "air"],
    [75, 10, "none"],
    [100, 30, "strip"],
    [null, 10, "none"],
  ].map((params, k) => ({
    id: `r${k}_${String(params[2])}`,
    name: `r${k}_${String(params[2])}`,
    index: k,
    params,
    tried: tried(k),
    state:
      k === 0 ? { state: "running", because: "a file was written 3 s ago" } : { state: "finished", because: "ended" },
  })),
  parameters: [
    { name: "fan", unit: "%", type: "number", values: [50, 75, 100] },
    { name: "open", unit: "s", type: "number", values: [10, 30] },
    { name: "curtain", unit: null, type: "text", values: ["none", "air", "strip"] },
  ],
  rules,
  files: ["hall.csv", "door.csv", "door.log"],
});
const accept = { name: "short", op: "rule.table", read: { table: "hall.csv" }, judge: { below: 3 } };

let names = 0;
/** A study under a name of its own: the library asks for each once. */
function runsOf(given: GivenStudy): RunSet {
  const name = `study ${names++}`;
  host.studies.set(name, given);
  return study(name).runs;
}
let runs: RunSet;
beforeAll(() => void (runs = runsOf(made())));

const asked = (lazy: unknown): OperationCall => host.call(lazy as never);
const history = (): never => host.table(proofTables["history"]!) as never;
const ids = (r: { ids: string[] }): string => r.ids.map((i) => i.slice(0, 2)).join(" ");

describe("a set of runs", () => {
  it.each<readonly [what: string, condition: Record<string, unknown>, found: string]>([
    ["a number", { fan: 50 }, "r0 r1"],
    ["a number in another unit", { open: "0.5 min" }, "r1 r3"],
    ["a quantity", { open: () => q(30, "s") }, "r1 r3"],
    ["one of several", { fan: [50, 100] }, "r0 r1 r3"],
    ["a range", { fan: { min: 60 } }, "r2 r3"],
    ["a range with units, its ends included", { open: { min: "10 s", max: "0.3 min" } }, "r0 r2 r4"],
    ["a word", { curtain: "none" }, "r0 r2 r4"],
    ["no value", { fan: null }, "r4"],
    ["a name", { id: "r1_air" }, "r1"],
    ["a pattern", { id: "r*_none" }, "r0 r2 r4"],
    ["several patterns", { id: ["*air", "*_s*p"] }, "r1 r3"],
    ["two parameters", { fan: 50, curtain: "air" }, "r1"],
    ["what the study has, but not together", { fan: 75, curtain: "air" }, ""],
  ])("is narrowed by %s", (_, condition, found) => {
    const plain = Object.fromEntries(
      Object.entries(condition).map(([k, v]) => [k, typeof v === "function" ? (v as () => unknown)() : v]),
    );
    expect(ids(runs.where(plain))).toBe(found);
  });
  it.each([
    [
      "a parameter that there is not",
      { speed: 3 },
      'the runs have no parameter "speed"; there are "fan", "open", "curtain"',
    ],
    ["a value that no run has", { fan: 60 }, '"fan" has no such value in any run; its values are 50, 75, 100 %'],
    [
      "a word that no run has",
      { curtain: "red" },
      '"curtain" has no such value in any run; its values are "none", "air", "strip"',
    ],
    [
      "a name that no run has",
      { id: "r9" },
      'no run is called "r9"; runs are r0_none, r1_air, r2_none, r3_strip, r4_none',
    ],
  ])("refuses %s", (_, condition, message) => {
    expect(refused(() => runs.where(condition))).toBe(message);
  });
  it("is narrowed by a function of its runs, and sorted with runs without a value last", () => {
    expect(ids(runs.where((r) => r.params["curtain"] !== "none"))).toBe("r1 r3");
    expect(ids(runs.sort("fan", "falling"))).toBe("r3 r2 r0 r1 r4");
    expect(ids(runs.sort("curtain"))).toBe("r1 r0 r2 r4 r3");
    expect(runs.count).toBe(5);
  });
  it("has parameters with their units, words as they are, and nothing where a run has none", () => {
    const [first, , , , last] = runs.$runs;
    const fan = first!.params["fan"] as ReturnType<typeof q>;
    expect([fan.value, fan.unit(), first!.params["curtain"], last!.params["fan"]]).toEqual([
      50,
      "%",
      "none",
      undefined,
    ]);
    expect(Object.keys(first!.params)).toEqual(["fan", "open", "curtain"]);
    expect([first!.has("hall.csv"), first!.has("wall.csv"), first!.id]).toEqual([true, false, "r0_none"]);
  });
  it("reads files by their whole names, and says when a name can be several", () => {
    const [first] = runs.$runs;
    expect(asked(first!.table("hall")).slice(0, 2)).toMatchObject(["run.table", { file: "hall.csv" }]);
    expect(refused(() => first!.table("door"))).toBe('"door" can be door.csv and door.log');
    expect(asked(first!.lines("door.log").read("t {t}", ["a {a}", "b {b}"], { several: "last" }))[1]).toMatchObject({
      file: "door.log",
      patterns: ["t {t}", "a {a}", "b {b}"],
      options: { several: "last" },
    });
  });
});

describe("runs that are finished, or accepted", () => {
  it("leave the others out with what decided it", () => {
    const finished = runs.finished.map((r) => r.id);
    expect(ids(finished)).toBe("r1 r2 r3 r4");
    expect(finished.$missing).toMatchObject([{ reason: "not finished: running, a file was written 3 s ago" }]);
    // What was left out stays so in what is made of the set.
    expect(runs.finished.where({ fan: 50 }).map((r) => r.id).$missing).toHaveLength(1);
    expect(runs.finished.where({ fan: 100 }).map((r) => r.id).$missing).toHaveLength(0);
  });
  it("want rules, and judge each run by each of them", () => {
    expect(refused(() => runs.accepted)).toMatch(/has no rules for which runs count; they stand under "accept"/);
    const { op, args, inputs } = host.nodeOf(runsOf(made(undefined, [accept])).verdicts() as never);
    expect([op, args, inputs.length]).toEqual([
      "rule.verdicts",
      { runs: ["r0_none", "r1_air", "r2_none", "r3_strip", "r4_none"], rules: ["short"] },
      5,
    ]);
  });
});

describe("a callback for each run", () => {
  it("is called in order, and the host is told for which runs", () => {
    const before = host.told.length;
    const seen: string[] = [];
    const m = runs.map((r) => seen.push(r.id));
    expect([seen.join(" "), ids(m)]).toEqual(["r0_none r1_air r2_none r3_strip r4_none", "r0 r1 r2 r3 r4"]);
    expect(host.told[before]).toMatchObject({ runs: [0, 1, 2, 3, 4] });
  });
  it("leaves out a run whose value cannot be had, with the reason, and any other mistake stops the script", () => {
    const gone = runs.map((r) => {
      if (r.id.startsWith("r2")) throw new host.runtime.ExcludedRun("no such column", 7);
      return r.id;
    });
    expect(ids(gone)).toBe("r0 r1 r3 r4");
    expect(gone.$missing.map((m) => [m.run.$id, m.node, m.reason])).toEqual([["r2_none", 7, "no such column"]]);
    expect(refused(() => gone.get("r2_none"))).toBe('run "r2_none" is excluded here: no such column');
    expect(refused(() => gone.get("r9"))).toBe('no run "r9" in this set');
    expect(gone.map((v) => `${String(v)}!`).get("r1_air")).toBe("r1_air!");
    expect(
      refused(() =>
        runs.map(() => {
          throw new Error("a slip");
        }),
      ),
    ).toBe("a slip");
    expect(refused(() => runs.map(() => ({ then: () => 1 })))).toMatch(/no promises in a script/);
  });
  it("is called in a Try for the run that is tried, and for others where they are named", () => {
    const one = runsOf(made((k) => k === 2));
    const m = one.map((r) => r.id);
    expect([ids(m), m.$missing.length, m.$missing[0]!.reason]).toEqual(["r2", 4, "not tried"]);
    expect(m.get("r0_none")).toBe("r0_none");
    expect(m.map((v) => `${String(v)}!`).get("r0_none")).toBe("r0_none!");
    // A set without the tried run tries its first one.
    expect(ids(one.where({ fan: 100 }).map((r) => r.id))).toBe("r3");
    expect(
      one
        .where({ fan: 50 })
        .map((r) => r.id)
        .$missing.map((x) => x.run.$id),
    ).toEqual(["r1_air"]);
  });
});

describe("tables of all runs", () => {
  const tables = (): InstanceType<typeof RunMap> => runs.map(() => history());
  it("know runs, parameters and units of what they are made of", () => {
    const common = {
      runs: ["r0_none", "r1_air", "r2_none", "r3_strip", "r4_none"],
      missing: [],
      units: { fan: "%", open: "s" },
    };
    expect(asked(tables().stack()).slice(0, 2)).toMatchObject(["runs.stack", common]);
    expect(asked(tables().wide("T"))[1]).toMatchObject({ ...common, name: "T" });
    expect((asked(tables().stack())[1] as { params: object[] }).params[4]).toEqual({
      fan: null,
      open: 10,
      curtain: "none",
    });
    const band = asked(across(tables(), { on: "time", columns: ["T"], axis: { step: "1 s" }, confidence: 0.9 }));
    expect(band.slice(0, 2)).toMatchObject([
      "runs.across",
      { ...common, on: "time", columns: ["T"], axis: { step: "1 s" }, percentiles: [], confidence: 0.9 },
    ]);
    expect(refused(() => runs.map(() => 3).stack())).toBe("the callback has to give a table or a quantity for this");
  });
  it("have rows of quantities, numbers, words and gaps", () => {
    const rows = runs.rows((r) => ({
      peak: q(Number(r.id[1]), "K"),
      fan: r.params["fan"],
      word: r.id,
      plain: 3,
      flag: r.id === "r0_none",
      none: null,
      ...(r.id === "r1_air" && { some: 1 }),
    }));
    const outcome = host.outcome(rows as never);
    if (outcome.kind !== "table") throw new Error(outcome.kind);
    const column = (name: string): unknown => {
      const c = outcome.table.columns.find((x) => x.name === name)!;
      return [c.kind === "number" ? c.unit : "text", ...c.values];
    };
    expect(outcome.table.columns.map((c) => c.name)).toEqual([
      "run",
      "peak",
      "fan",
      "word",
      "plain",
      "flag",
      "none",
      "some",
    ]);
    expect(column("peak")).toEqual(["K", 0, 1, 2, 3, 4]);
    expect(column("fan")).toEqual(["%", 50, 50, 75, 100, NaN]);
    expect(column("flag")).toEqual(["text", "yes", "no", "no", "no", "no"]);
    expect(column("some")).toEqual([null, NaN, 1, NaN, NaN, NaN]);
    expect(column("run")).toEqual(["text", "r0_none", "r1_air", "r2_none", "r3_strip", "r4_none"]);
  });
  it.each([
    ["a table", () => history(), 'rows: the callback has to give an object, as in ({ peak: t.max("T") })'],
    [
      "a table in a cell",
      () => ({ a: history() }),
      'rows: "a" is a table; a cell takes a quantity, a number or a word',
    ],
    ["a list in a cell", () => ({ a: [1] }), 'rows: "a" has to be a quantity, a number or a word'],
    ["nothing", () => null, 'rows: the callback has to give an object, as in ({ peak: t.max("T") })'],
  ])("refuse rows of %s", (_, make, message) => {
    expect(refused(() => runs.rows(make as never))).toBe(message);
  });
  it("are asked of sets without a run too", () => {
    const none = runs.where({ fan: 75, curtain: "air" }).map(() => history());
    expect(asked(none.stack())[1]).toEqual({ units: {}, runs: [], missing: [], params: [] });
    expect(new RunMap([new Item(runs.$runs[0]!, 1)], []).ids).toEqual(["r0_none"]);
  });
});

describe("studies", () => {
  it("are asked for once, and have tables beside their runs", () => {
    const name = `study ${names++}`;
    host.studies.set(name, made());
    const s = study(name);
    expect(study(name)).toBe(s);
    const t = s.table("hall");
    expect(t).toBeInstanceOf(Table);
    expect(asked(t).slice(0, 2)).toEqual(["study.table", { study: name, file: "hall.csv", options: {} }]);
    expect(t.$file).toEqual({ study: name, file: "hall.csv", options: {} });
    expect(refused(() => study("nowhere"))).toBe('there is no study "nowhere"');
  });
  it("say that a state's name may not be put together", () => {
    const given = made();
    const without = runsOf({ ...given, runs: given.runs.map((r) => ({ ...r, state: null })) });
    expect(refused(() => without.$runs[0]!.state)).toMatch(/write run\.state or runs\.finished in full/);
    expect(runs.$runs[0]!.state).toBe("running");
  });
});
