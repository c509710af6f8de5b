import fs from "node:fs";
import path from "node:path";
import { afterEach, beforeEach, describe, expect, it } from "@jest/globals";
import fc from "fast-check";
import { pick, type Table } from "@oxtrum/core/tables";
import { smallStudy, type SmallStudy } from "../testing/small-study.js";
import { Budget } from "./budget.js";
import { FileReader, type ReadPlan } from "./read-files.js";

const COLUMNS = ["time", "T", "T_air", "p", "q", "heat", "word"] as const;
const text = Array.from({ length: 40 }, (_, t) =>
  [t < 20 ? t : t - 5, t * 2, 300 + t, 1e5 - t, t === 7 ? "" : t * t, -t, `w${t}`].join(","),
);

describe("a table of which some columns are asked for", () => {
  let s: SmallStudy;
  beforeEach(() => {
    s = smallStudy();
    const more = Array.from({ length: 30 }, (_, t) => [0.5 + t / 2, t, 20 + t, `x${t}`].join(","));
    fs.writeFileSync(
      path.join(s.folder, "runs/f050_d1/more.csv"),
      `time [min],p [bar],T_air [degC],word\n${more.join("\n")}\n`,
    );
    fs.writeFileSync(
      path.join(s.folder, "runs/f050_d1/many.csv"),
      `time [s],T [K],T_air [K],p [Pa],q,heat [W],word\n${text.join("\n")}\nNOT A ROW\n`,
    );
  });
  afterEach(() => s.remove());
  const planned = (
    columns: readonly string[] | undefined,
    names: Record<string, string[]>,
    file = "many.csv",
    units: Record<string, Record<string, string>> = {},
  ): { plan: ReadPlan; bytes: () => number } => {
    const budget = Budget.create(1e9);
    const before = budget.used;
    const definition = {
      files: { both: { path: ["many.csv", "more.csv"] } },
      names,
      units,
      runUnits: [],
      links: [],
    } as never;
    const study = { name: "small", folder: s.folder, definition, runs: [{ id: "f050_d1", folder: "runs/f050_d1" }] };
    const plan = new FileReader(new Map([["small", study]]), new Map(), budget).plan("run.table", {
      study: "small",
      run: 0,
      file,
      ...(columns && { options: { columns } }),
    });
    return { plan, bytes: () => budget.used - before };
  };
  const read = (...given: Parameters<typeof planned>): { table: Table; bytes: number } => {
    const { plan, bytes } = planned(...given);
    return { table: plan.read(), bytes: bytes() };
  };
  const told = (t: Table): unknown => ({
    ...t,
    columns: t.columns.map((c) => ({ ...c, values: [...c.values].map((v) => (v !== v ? "missing" : v)) })),
  });
  const outcome = (f: () => unknown): unknown => {
    try {
      return f();
    } catch (e) {
      return (e as Error).message;
    }
  };

  it("is the whole table without the others, with all that is known of it, whatever other names columns have", () => {
    const name = fc.constantFrom(...COLUMNS, "pass", "warmth", "load");
    fc.assert(
      fc.property(
        fc.uniqueArray(name, { minLength: 1, maxLength: 4 }),
        fc.dictionary(
          fc.constantFrom("warmth", "load", "T", "clock", "time"),
          fc.uniqueArray(fc.constantFrom(...COLUMNS), { minLength: 1, maxLength: 3 }),
        ),
        (columns, names) => {
          const whole = read(undefined, names).table;
          expect(outcome(() => told(read(columns, names).table))).toEqual(
            outcome(() => told({ ...pick(whole, columns), conditions: whole.conditions! })),
          );
        },
      ),
      { numRuns: 60 },
    );
  });
  it("is so of several files, each with its own columns and units", () => {
    const name = fc.constantFrom(...COLUMNS, "pass");
    fc.assert(
      fc.property(fc.uniqueArray(name, { minLength: 1, maxLength: 4 }), (columns) => {
        const both = read(undefined, {}, "both").table;
        const { notes: all, ...whole } = told({ ...pick(both, columns), conditions: both.conditions! }) as Table;
        const { notes, ...some } = told(read(columns, {}, "both").table) as Table;
        expect(some).toEqual(whole);
        // Only what is asked for can be told to be missing somewhere.
        expect(notes).toEqual(all.filter((n) => !/is not in/.test(n) || columns.some((c) => n.startsWith(`"${c}"`))));
      }),
      { numRuns: 30 },
    );
    expect(read(["p"], {}, "both").bytes).toBeLessThan(0.6 * read(undefined, {}, "both").bytes);
  });
  it("gives what is demanded of it as if all had been read, whatever the definition declares", () => {
    const name = fc.constantFrom(...COLUMNS, "pass", "warmth", "nowhere");
    fc.assert(
      fc.property(
        fc.uniqueArray(name, { maxLength: 4 }),
        fc.dictionary(
          fc.constantFrom("warmth", "T", "clock"),
          fc.uniqueArray(fc.constantFrom(...COLUMNS), { maxLength: 2 }),
        ),
        fc.dictionary(fc.constantFrom("T*", "T", "warmth", "q", "p", "word"), fc.constantFrom("K", "kW", "bar")),
        (list, names, units) => {
          const files = { "*.csv": units };
          const whole = read(undefined, names, "many.csv", files).table;
          const some = planned(undefined, names, "many.csv", files).plan.some!(list);
          const left = list.filter((n) => whole.columns.some((c) => c.name === n));
          const picked = (t: Table): unknown => told({ ...pick(t, left), conditions: t.conditions! });
          expect(picked(some)).toEqual(picked(whole));
          if (left.length < list.length) expect(some.columns.length).toBe(whole.columns.length);
        },
      ),
      { numRuns: 100 },
    );
    const { plan, bytes } = planned(undefined, {});
    plan.some!(["p"]);
    expect(bytes()).toBeLessThan(0.6 * read(undefined, {}).bytes);
  });
  it("takes memory for these and the axis only", () => {
    expect(read(["p"], {}).bytes).toBeLessThan(0.6 * read(undefined, {}).bytes);
  });
});
