import { describe, expect, it } from "@jest/globals";
import { makeTable, numberColumn, textColumn, type Table } from "@oxtrum/core/tables";
import { agreeing, disagreeing } from "./agreeing-units.js";

const of = (run: string, unit: string | null): { run: string; kind: "number"; unit: string | null } => ({
  run,
  kind: "number",
  unit,
});

describe("runs whose column is of another kind", () => {
  it("are those that differ from most others: by dimensions, not by units", () => {
    const all = [of("a", "degC"), of("b", "K"), of("c", "Pa"), of("d", "mK")];
    expect(disagreeing("T", all)).toEqual([
      {
        run: "c",
        reason:
          'column "T" is in Pa in this run and in °C in 3 others, which cannot be converted to each other; ' +
          "correct its unit with .unit() or in the study's definition, or choose another column",
      },
    ]);
    expect(disagreeing("T", all.slice(0, 2))).toEqual([]);
    expect(disagreeing("T", [])).toEqual([]);
  });
  it("are those without a unit, with what to write", () => {
    const [found] = disagreeing("p", [of("a", "Pa"), of("b", null), of("c", "kPa")]);
    expect(found!.run).toBe("b");
    expect(found!.reason).toContain("is without a unit in this run and in Pa in 2 others");
    expect(found!.reason).toContain('say it with .unit("p", "Pa") or in the study\'s definition');
  });
  it("are those with words; plain numbers are not without a unit", () => {
    const found = disagreeing("n", [of("a", "1"), { run: "b", kind: "text" }, of("c", null)]);
    expect(found.map((f) => f.run)).toEqual(["b", "c"]);
    expect(found[0]!.reason).toContain("is text in this run and in plain numbers in another");
  });
});

describe("tables of runs that agree", () => {
  const table = (unit: string | null, more: string | null = "s"): Table =>
    makeTable([numberColumn("time", more, [0, 1]), numberColumn("T", unit, [1, 2])]);
  const given = (tables: Table[]) => ({
    tables,
    runs: tables.map((_, k) => `r${k}`),
    params: tables.map((_, k) => k),
    left: [{ run: "x", reason: "before" }],
  });
  it("are all, as they are, where none differs", () => {
    const p = given([table("K"), table("degC")]);
    expect(agreeing(p)).toBe(p);
    const one = given([table(null)]);
    expect(agreeing(one)).toBe(one);
  });
  it("leave those out that differ in any column, once and with what else belongs to them", () => {
    const p = agreeing(given([table("K"), table("Pa", "m"), table("K"), table(null)]));
    expect([p.runs, p.params, p.tables.length]).toEqual([["r0", "r2"], [0, 2], 2]);
    expect(p.left.map((l) => l.run)).toEqual(["x", "r1", "r3"]);
  });
  it("may differ in columns that nobody asks for, and lack one", () => {
    const p = given([table("K"), table("Pa"), makeTable([textColumn("word", ["a"])])]);
    expect(agreeing(p, ["time"])).toBe(p);
    expect(agreeing(p, ["T"]).runs).toEqual(["r0", "r2"]);
  });
});
