import { describe, expect, it } from "@jest/globals";
import type { Quantity as Plain } from "@oxtrum/core/tables";
import { PlainHost } from "../../testing/plain-host.js";
import { proofTables } from "../../testing/operation-calls.js";
import { refused } from "../../testing/refused.js";

const host = await PlainHost.load();
const { q, input, Quantity, bound, keyValue, toQuantity, lawInput, constantInput } = host.runtime;
type Q = InstanceType<typeof Quantity>;

/** The hottest of a table: a quantity that nobody knows before it is computed. */
const unknown = (): Q =>
  (host.table(proofTables["history"]!) as never as Record<string, (n: string) => Q>)["max"]!("T");
const held = (x: Q): [number, string | null] => [x.value, x.unit()];
const outcome = (x: Q): Plain => {
  const found = host.outcome(x as never);
  if (found.kind !== "quantity") throw new Error(found.kind);
  return found.quantity;
};

describe("a quantity that is known", () => {
  it.each<readonly [what: string, made: () => Q, value: number, unit: string | null]>([
    ["a text", () => q("20 min"), 20, "min"],
    ["a number and a unit", () => q(20, "min"), 20, "min"],
    ["a number alone", () => q(3), 3, "1"],
    ["converted", () => q("20 min").in("s"), 1200, "s"],
    ["on another scale", () => q("0 degC").in("K"), 273.15, "K"],
    ["a sum in its own unit", () => q("1 min").plus("30 s"), 1.5, "min"],
    ["a sum with a bare number", () => q("1 min").plus(2), 3, "min"],
    ["a difference", () => q("5 m").minus("50 cm"), 4.5, "m"],
    ["a product", () => q("2 m").times("3 m"), 6, "m^2"],
    ["a product with a bare number", () => q("2 m").times(3), 6, "m"],
    ["a ratio of one kind", () => q("1 min").over("30 s"), 2, "1"],
    ["a power", () => q("3 m").power(2), 9, "m^2"],
    ["a root", () => q("9 m^2").root(), 3, "m"],
    ["a cube root", () => q("8 m^3").root(3), 2, "m"],
    ["a magnitude", () => q("-3 K").abs(), 3, "K"],
    ["a bare number", () => toQuantity(4), 4, "1"],
    ["a unit that it is told", () => toQuantity(4).unit("kPa"), 4, "kPa"],
  ])("is %s", (_, made, value, unit) => {
    const x = made();
    expect(x.$known).toBeDefined();
    expect(x.value).toBeCloseTo(value, 12);
    expect(x.unit()).toBe(unit);
    // What is computed here is what an operation gives.
    expect(outcome(x).value).toBe(x.value);
  });
  it("shows the difference of two temperatures in K, and not its mark", () => {
    expect(held(q("20 degC").minus("15 degC"))).toEqual([5, "K"]);
  });
  it.each([
    ["what has no unit", () => q("20 fortnights"), /fortnights/],
    ["no number", () => q("soon"), /soon/],
    ["a sum of two kinds", () => q("1 m").plus("1 s"), /m.*s|s.*m/],
    ["a conversion to another kind", () => q("1 m").in("s"), /m.*s|s.*m/],
    ["a scale with a zero of its own times something", () => q("5 degC").times(2), /zero of its own|K first|°C|degC/],
  ])("refuses %s", (_, make, message) => {
    expect(refused(make)).toMatch(message);
    expect(() => make()).toThrow(host.runtime.ScriptError);
  });
});

describe("a quantity that is not known yet", () => {
  it("becomes an operation for each step, and is computed when its number is asked for", () => {
    const hottest = unknown();
    expect(hottest.$known).toBeUndefined();
    const steps = hottest.in("K").minus("273.15 K").abs().power(2);
    expect(steps.$known).toBeUndefined();
    expect(host.nodeOf(steps as never).op).toBe("quantity.power");
    const plain = outcome(hottest.in("K")).value - 273.15;
    expect(steps.value).toBeCloseTo(plain ** 2, 9);
    expect(held(hottest)).toEqual([outcome(hottest).value, outcome(hottest).unit]);
  });
  it("takes bare numbers in its own unit, and known quantities as written", () => {
    const hottest = unknown();
    expect(host.nodeOf(hottest.plus(2) as never)).toMatchObject({
      args: { op: "plus", bare: 2 },
      inputs: [hottest.$id],
    });
    expect(host.nodeOf(hottest.times("2 m") as never).args).toEqual({ op: "times", literal: true });
    expect(host.nodeOf(hottest.over(unknown()) as never).args).toEqual({ op: "over" });
  });
  it("tells where it is, along the axis of its table", () => {
    expect(host.nodeOf(unknown().at as never).op).toBe("quantity.at");
    expect(unknown().at.unit()).toBe(unknown().at.$held.unit);
  });
});

describe("a quantity is not plain", () => {
  it.each<readonly [string, () => unknown, string]>([
    ["a text", () => `${q("1 m") as never}`, "a quantity is not text; use .value for its number"],
    [
      "a number",
      () => (q("1 m") as never as number) + 1,
      "a quantity is not a plain number; use .value, or .plus, .minus, .times, .over",
    ],
    [
      "compared",
      () => q("1 m") > q("2 m"),
      "a quantity is not a plain number; use .value, or .plus, .minus, .times, .over",
    ],
    ["JSON", () => JSON.stringify({ a: q("1 m") }), "a quantity cannot stand here; use .value"],
    ["its unit without brackets", () => `${q("1 m").unit as never}`, "unit is a function: write .unit()"],
  ])("as %s", (_, make, message) => {
    expect(refused(make)).toBe(message);
  });
});

describe("what stands for a quantity in options", () => {
  it("is a quantity, its text, or a bare number of the column's unit", () => {
    expect([bound(q("3 m")), bound("3 m"), bound(3), bound(undefined)]).toEqual([
      { value: 3, unit: "m" },
      { value: 3, unit: "m" },
      3,
      undefined,
    ]);
    const hottest = unknown();
    expect(bound(hottest)).toEqual({ value: outcome(hottest).value, unit: outcome(hottest).unit });
    expect(refused(() => bound("warm"))).toMatch(/warm/);
  });
  it("stays a word where words are compared", () => {
    expect(keyValue(["none", q("3 m"), 5])).toEqual(["none", { value: 3, unit: "m" }, 5]);
  });
  it("is an input of a law where it is not known, beside its table", () => {
    const inputs: number[] = [];
    const hottest = unknown();
    expect(lawInput("x", inputs)).toBe("x");
    expect(lawInput(q("3 m"), inputs)).toEqual({ value: 3, unit: "m" });
    expect(lawInput(hottest, inputs)).toEqual({ input: 1 });
    expect(constantInput(hottest, inputs, 4)).toEqual({ input: 5 });
    expect(constantInput(2, inputs)).toEqual({ value: 2, unit: "1" });
    expect(inputs).toEqual([hottest.$id, hottest.$id]);
  });
});

describe("an input", () => {
  it("is its own value, or that which is set from outside", () => {
    host.inputs.set("limit", { quantity: { value: 5, unit: "min" } });
    host.inputs.set("word", { plain: "air" });
    expect(held(input("limit", q("20 min")) as Q)).toEqual([5, "min"]);
    expect(held(input("other", q("20 min")) as Q)).toEqual([20, "min"]);
    expect([input("word", "none"), input("flag", true), input("count", 3)]).toEqual(["air", true, 3]);
  });
  it("says what is wrong with what is set", () => {
    host.inputs.set("bad", { error: 'input "bad": "x" is not a number' });
    expect(refused(() => input("bad", 3))).toBe('input "bad": "x" is not a number');
  });
});
