import { describe, expect, it } from "@jest/globals";
import { along, convertColumns, declareUnit, drop, findColumns, pick, rename } from "./select.js";
import { makeTable, numberColumn, numbers, textColumn, type Table } from "./table.js";

const table: Table = makeTable(
  [
    numberColumn("time", "s", [0, 60]),
    numberColumn("T_low", "degC", [0, 10]),
    numberColumn("T_high", "K", [273.15, 300]),
    numberColumn("p", null, [1, 2]),
    textColumn("word", ["a", "b"]),
  ],
  { axis: "time", notes: ["read"] },
);
const names = (t: Table): string[] => t.columns.map((c) => c.name);

describe("columns that are chosen", () => {
  it("stand in the order that is asked for, the axis with them", () => {
    expect(names(pick(table, ["word", "p"]))).toEqual(["time", "word", "p"]);
    expect(names(pick(table, ["p", "time"]))).toEqual(["p", "time"]);
    expect([pick(table, ["p"]).axis, pick(table, ["p"]).notes]).toEqual(["time", ["read"]]);
    expect(names(drop(table, ["p", "word"]))).toEqual(["time", "T_low", "T_high"]);
    for (const change of [pick, drop])
      expect(() => change(table, ["T_lo"])).toThrow(/"T_lo".*"T_low"|no column "T_lo"/);
  });
  it("have other names, the axis too; a name that is taken is refused, swapped ones are not", () => {
    const t = rename(table, { time: "t", p: "pressure" });
    expect([names(t), t.axis]).toEqual([["t", "T_low", "T_high", "pressure", "word"], "t"]);
    expect(names(rename(table, { T_low: "T_high", T_high: "T_low" }))).toEqual([
      "time",
      "T_high",
      "T_low",
      "p",
      "word",
    ]);
    expect(() => rename(table, { p: "word" })).toThrow(/word/);
    expect(() => rename(table, { q: "x" })).toThrow(/q/);
  });
  it("are found by pattern and by what their units measure", () => {
    const find = (query: object): string[] => findColumns(table.columns, table.axis, query);
    expect(find({})).toEqual(["T_low", "T_high", "p"]);
    expect(find({ match: "T_*" })).toEqual(["T_low", "T_high"]);
    expect(find({ match: "{T_low,word,time}" })).toEqual(["T_low"]);
    expect(find({ unit: "K" })).toEqual(["T_low", "T_high"]);
    expect(find({ unit: "Pa" })).toEqual([]);
    expect(find({ match: "*high", unit: "degF" })).toEqual(["T_high"]);
  });
  it("can be the axis when they are numbers", () => {
    expect(along(table, "T_low").axis).toBe("T_low");
    expect(() => along(table, "word")).toThrow(/word/);
  });
});

describe("units of columns", () => {
  it("are declared without a change of numbers, and converted with one", () => {
    const declared = declareUnit(table, "p", "kPa");
    expect([numbers(declared, "p").unit, Array.from(numbers(declared, "p").values)]).toEqual(["kPa", [1, 2]]);
    const converted = convertColumns(table, ["T_low", "T_high"], "K");
    expect(["T_low", "T_high"].map((n) => numbers(converted, n).unit)).toEqual(["K", "K"]);
    expect(Array.from(numbers(converted, "T_low").values)).toEqual([273.15, 283.15]);
    expect(Array.from(numbers(convertColumns(table, ["time"], "min"), "time").values)).toEqual([0, 1]);
  });
  it("that are unknown or measure something else are refused, with what may be done", () => {
    expect(() => convertColumns(table, ["p"], "Pa")).toThrow('the unit of "p" is unknown');
    expect(() => convertColumns(table, ["p"], "Pa")).toThrow('say it first with .unit("p", "…")');
    expect(() => convertColumns(table, ["time"], "K")).toThrow('column "time": ');
    expect(() => convertColumns(table, ["word"], "K")).toThrow(/word/);
    expect(() => declareUnit(table, "word", "K")).toThrow(/word/);
    expect(() => declareUnit(table, "p", "furlongs")).toThrow(/furlongs/);
  });
});
