import { describe, expect, it } from "@jest/globals";
import fc from "fast-check";
import { fromAddress, laws, numbersOfCurve, toAddress, views, type Comparison, type Source } from "./state";

const name = fc.string({ minLength: 1, maxLength: 12, unit: "grapheme" });
const word = fc.string({ maxLength: 8, unit: "grapheme" });
const number = fc.double({ noNaN: true, noDefaultInfinity: true }).map((v) => v + 0);
const triple = fc.tuple(number, number, number);
const site = fc.oneof(
  fc.record({ kind: fc.constant("line" as const), name, from: triple, to: triple, count: fc.integer({ min: 2 }) }),
  fc.record({ kind: fc.constant("points" as const), name, place: triple }),
  fc.record({ kind: fc.constant("patch" as const), name, match: name }),
);
const source: fc.Arbitrary<Source | undefined> = fc.oneof(
  fc.constant(undefined),
  fc.record({ kind: fc.constant("column" as const), file: name, column: name }),
  fc.record({ kind: fc.constant("output" as const), output: name, column: name }),
  fc.record({
    kind: fc.constant("site" as const),
    file: name,
    site,
    quantity: name,
    time: fc.constantFrom("", '.at("last")', ".at({ time: 12.5 })"),
  }),
);
/** A parameter's name stands before a colon in the address. */
const parameter = name.filter((n) => !n.includes(":") && n !== "__proto__");
const comparison: fc.Arbitrary<Comparison> = fc.record({
  source,
  view: fc.constantFrom(...views),
  where: fc.dictionary(parameter, fc.array(word, { minLength: 1, maxLength: 3 }), { noNullPrototype: true }),
  accepted: fc.boolean(),
  unit: word,
  color: word,
  align: fc.option(fc.record({ at: fc.constantFrom("max", "min", "rising", "falling", "baseline"), level: word }), {
    nil: undefined,
  }) as fc.Arbitrary<Comparison["align"]>,
  base: word,
  percent: fc.boolean(),
  number: fc.constantFrom(...numbersOfCurve),
  parameter: word,
  law: fc.constantFrom(...laws),
  reference: fc.option(fc.record({ file: name, column: word, shift: word }), { nil: undefined }),
});

describe("the address of a comparison", () => {
  it("gives the comparison again, whatever things are called", () => {
    fc.assert(
      fc.property(comparison, (c) => {
        // As a browser keeps it: a text, read again.
        expect(fromAddress(new URLSearchParams(toAddress(c).toString()))).toEqual(c);
      }),
    );
  });

  it("is empty where nothing has been chosen", () => {
    expect(toAddress(fromAddress(new URLSearchParams())).toString()).toBe("");
  });

  it("holds what is needed to see it again and no more", () => {
    const a = "file=monitors%2Fhall.csv&column=T_mean&view=band&where=curtain%3Anone&where=curtain%3Astrip&unit=degC";
    expect(toAddress(fromAddress(new URLSearchParams(a))).toString()).toBe(a);
    expect(toAddress(fromAddress(new URLSearchParams(`${a}&law=none&number=max&old=1`))).toString()).toBe(a);
  });

  it("passes over what it does not understand", () => {
    const c = fromAddress(new URLSearchParams("view=cake&number=most&law=ohm&where=curtain&where=:none&align=noon"));
    expect([c.view, c.number, c.law, c.where, c.align]).toEqual([
      "overlay",
      "max",
      "none",
      {},
      { at: "max", level: "" },
    ]);
    expect(fromAddress(new URLSearchParams("file=fields/hall&site={broken&column=T")).source).toBeUndefined();
    expect(fromAddress(new URLSearchParams('file=fields/hall&site={"kind":"sphere"}&column=T')).source).toEqual({
      kind: "column",
      file: "fields/hall",
      column: "T",
    });
  });

  it("takes no other words for a time than those that stand in scripts", () => {
    const at = (time: string): string => {
      const a = new URLSearchParams({
        file: "fields/hall",
        column: "T",
        site: '{"kind":"patch","match":"wall"}',
        time,
      });
      const s = fromAddress(a).source;
      return s?.kind === "site" ? s.time : "none";
    };
    for (const time of ['.at("last")', ".at({ time: 1.5e-3 })", ".at({ step: -2 })", ""]) expect(at(time)).toBe(time);
    for (const time of ['.at("last"); emit.text("a", "b")', ".at({ time: x })", ".sample()", " "])
      expect(at(time)).toBe("");
  });
});
