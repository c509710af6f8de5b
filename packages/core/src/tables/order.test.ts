import { describe, expect, it } from "@jest/globals";
import fc from "fast-check";
import { concat, direction, filterRows, risingAlong, sortBy, windowRows } from "./order.js";
import { makeTable, numberColumn, numbers, textColumn, type Table } from "./table.js";

const table = (time: readonly number[], more: Parameters<typeof makeTable>[0] = [], unit = "s"): Table =>
  makeTable(
    [
      numberColumn("time", unit, time),
      numberColumn(
        "row",
        "1",
        time.map((_, i) => i),
      ),
      ...more,
    ],
    { axis: "time" },
  );
const rows = (t: Table): number[] => Array.from(numbers(t, "row").values);
const number = fc.oneof(
  { weight: 6, arbitrary: fc.integer({ min: -9, max: 9 }) },
  fc.constantFrom(Number.NaN, -0, Infinity, -Infinity),
);

describe("rows in order", () => {
  it("property: rise or fall, equal ones as they were, missing ones last", () => {
    fc.assert(
      fc.property(fc.array(number, { maxLength: 30 }), fc.boolean(), (values, rises) => {
        const order = rows(sortBy(table(values), "time", rises ? "rising" : "falling"));
        expect([...order].sort((a, b) => a - b)).toEqual(values.map((_, i) => i));
        for (let i = 1; i < order.length; i++) {
          const [k, l] = [order[i - 1]!, order[i]!];
          const [a, b] = [values[k]!, values[l]!];
          if (Number.isNaN(a)) expect(b).toBeNaN();
          else if (!Number.isNaN(b)) expect(rises ? a <= b : a >= b).toBe(true);
          if (a === b || (Number.isNaN(a) && Number.isNaN(b))) expect(k).toBeLessThan(l);
        }
      }),
    );
  });
  it("go by words as well", () => {
    const t = table([0, 1, 2, 3], [textColumn("run", ["b", "a", "B", "a"])]);
    expect(rows(sortBy(t, "run"))).toEqual([2, 1, 3, 0]);
    expect(rows(sortBy(t, "run", "falling"))).toEqual([0, 1, 3, 2]);
  });
  it.each([
    [[1, 2, 2, 3], "rising"],
    [[3, Number.NaN, 1], "falling"],
    [[1, 2, 1], "mixed"],
    [[5, 5], "constant"],
    [[], "constant"],
    [[Number.NaN], "constant"],
    [[-Infinity, Infinity], "rising"],
  ] as const)("%j is %s", (values, way) => expect(direction(Float64Array.from(values))).toBe(way));
  it("rise along the axis: turned where they fall, sorted and told where they are mixed, refused where passes would mix", () => {
    const up = table([1, 2, 2]);
    expect(risingAlong(up)).toBe(up);
    const down = risingAlong(table([3, 2, 1]));
    expect([rows(down), down.notes]).toEqual([[2, 1, 0], []]);
    const mixed = risingAlong(table([2, 1, 3]));
    expect([rows(mixed), mixed.notes.join()]).toEqual([[1, 0, 2], expect.stringMatching(/sorted/)]);
    const passes = table([0, 1, 0, 1], [numberColumn("pass", "1", [1, 1, 2, 2])]);
    expect(() => risingAlong(passes)).toThrow(/pass/);
  });
});

describe("rows within a window", () => {
  it("property: are those between its ends, both included, in their order; what it does not cover is told", () => {
    const values = fc.array(
      fc.oneof({ weight: 9, arbitrary: fc.integer({ min: 0, max: 20 }) }, fc.constant(Number.NaN)),
      { minLength: 1, maxLength: 20 },
    );
    fc.assert(
      fc.property(values, fc.integer({ min: 0, max: 20 }), fc.integer({ min: 0, max: 8 }), (time, from, length) => {
        const to = from + length;
        const wanted = time.flatMap((t, i) => (t >= from && t <= to ? [i] : []));
        const t = table(time);
        if (wanted.length === 0) return expect(() => windowRows(t, "time", [from, to])).toThrow(/holds no row/);
        const w = windowRows(t, "time", [from, to]);
        expect(rows(w)).toEqual(wanted);
        const there = time.filter((v) => !Number.isNaN(v));
        const isCovered = Math.min(...there) <= from && Math.max(...there) >= to;
        expect([w.notes.length, (w.conditions ?? []).map((c) => c.kind)]).toEqual(
          isCovered ? [0, []] : [1, ["coverage"]],
        );
        if (!isCovered) expect(() => windowRows(t, "time", [from, to], { cover: "need" })).toThrow(/the script needs/);
        else expect(rows(windowRows(t, "time", [from, to], { cover: "need" }))).toEqual(wanted);
      }),
    );
  });
  it("hold the rows at ends that only a conversion has moved", () => {
    const minutes = table([0, 8.2, 10].map((m) => m * 60));
    expect(rows(windowRows(minutes, "time", [8.2 * 60 * (1 - 2e-16), 600]))).toEqual([1, 2]);
    expect(rows(windowRows(minutes, "time", [8.2 * 60 * (1 + 3e-16), 600]))).toEqual([1, 2]);
    expect(rows(windowRows(minutes, "time", [492.001, 600]))).toEqual([2]);
  });
  it("say what is there instead", () => {
    expect(() => windowRows(table([0, 5]), "time", [6, 7])).toThrow(
      "from 6 s to 7 s holds no row; the table runs from 0 s to 5 s",
    );
    expect(() => windowRows(table([Number.NaN]), "time", [6, 7])).toThrow("all of its values are missing");
    expect(() => windowRows(table([]), "time", [6, 7])).toThrow("the table has no rows");
    expect(() => windowRows(table([0]), "time", [7, 6])).toThrow("the start lies behind the end");
    expect(() => windowRows(table([0]), "time", [Number.NaN, 6])).toThrow("the start lies behind the end");
  });
});

describe("rows that are kept", () => {
  it("are those that a condition holds for; undecided ones are told", () => {
    const t = table([0, 1, 2, 3]);
    const kept = filterRows(t, Float64Array.of(1, 0, Number.NaN, 1), "T > 3");
    expect([rows(kept), kept.notes]).toEqual([[0, 3], ["where T > 3: 1 rows left out because a value is missing"]]);
    expect(filterRows(t, Float64Array.of(1, 0, 0, 0), "T > 3").notes).toEqual([]);
  });
});

describe("tables below each other", () => {
  it("have all columns, in the units of the first that has them; what one lacks is missing", () => {
    const a = makeTable([numberColumn("T", "degC", [0, 10]), textColumn("run", ["a", "a"])]);
    const b = makeTable([numberColumn("p", "kPa", [1]), numberColumn("T", "K", [273.15])]);
    const c = makeTable([numberColumn("p", "Pa", [500]), textColumn("run", ["c"])]);
    const t = concat([a, b, c]);
    expect(t.columns.map((x) => [x.name, x.kind === "number" ? x.unit : "text"])).toEqual([
      ["T", "degC"],
      ["run", "text"],
      ["p", "kPa"],
    ]);
    expect(Array.from(numbers(t, "T").values)).toEqual([0, 10, expect.closeTo(0, 9), Number.NaN]);
    expect(Array.from(numbers(t, "p").values)).toEqual([Number.NaN, Number.NaN, 1, 0.5]);
    expect(t.columns[1]!.values).toEqual(["a", "a", "", "c"]);
  });
  it("have numbers among words as files have them; what is missing is empty", () => {
    const words = makeTable([textColumn("kind", ["none"])]);
    const mixed = makeTable([numberColumn("kind", null, [1 / 3, Number.NaN, -Infinity])]);
    expect(concat([words, mixed]).columns[0]!.values).toEqual(["none", "0.3333333333333333", "", "-Inf"]);
    expect(() => concat([mixed, words])).toThrow("holds numbers in one table and text in another");
  });
  it("are refused where units do not agree", () => {
    const of = (unit: string | null): Table => makeTable([numberColumn("p", unit, [1])]);
    expect(() => concat([of("Pa"), of(null)])).toThrow("has a unit in one table and none in another");
    expect(() => concat([of("Pa"), of("K")])).toThrow(/cannot be converted/);
    expect(() => concat([])).toThrow("no tables");
    const one = of("Pa");
    expect(concat([one])).toBe(one);
  });
});
