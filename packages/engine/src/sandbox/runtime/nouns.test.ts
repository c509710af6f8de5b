import { describe, expect, it } from "@jest/globals";
import { proofTables } from "../../testing/operation-calls.js";
import { refused } from "../../testing/refused.js";
import { PlainHost, type OperationCall } from "../../testing/plain-host.js";
import type { Quantity } from "@oxtrum/core/tables";

const host = await PlainHost.load();
type Lazy = { $id: number };
type Methods = Record<string, (...given: unknown[]) => Lazy>;
const library = host.runtime as unknown as {
  q: (v: string | number, unit?: string) => Lazy;
  fit: Record<string, (...given: unknown[]) => Methods>;
  law: (name: string) => Methods;
  calc: (...given: unknown[]) => Lazy;
  together: (...given: unknown[]) => Lazy;
};
const { fit, law, calc, together, q } = library;
const history = (): Record<string, (...given: unknown[]) => never> => host.table(proofTables["history"]!) as never;
const other = (): unknown => host.table(proofTables["other"]!);
const asked = (lazy: Lazy): OperationCall => host.call(lazy as never);
const value = (lazy: Lazy): Quantity => {
  const found = host.outcome(lazy as never);
  if (found.kind !== "quantity") throw new Error(found.kind === "failure" ? found.reason : found.kind);
  return found.quantity;
};

describe("a fit", () => {
  it("keeps what is asked for, and each method adds its own", () => {
    const f = fit["exponential"]!(history(), { y: "T", x: "time", confidence: 0.9 });
    const request = { kind: "exponential", y: "T", x: ["time"], confidence: 0.9 };
    expect(asked(f["term"]!("k")).slice(0, 2)).toEqual(["fit.term", { ...request, term: "k", what: "value" }]);
    expect(asked(f["exponent"]!("k"))[1]).toEqual({ ...request, term: "k", what: "value" });
    expect(asked(f["curve"]!())[1]).toEqual({ ...request, points: 100 });
    expect(asked(f["at"]!({ time: q("1 min") }))[1]).toEqual({
      ...request,
      place: { time: { value: 1, unit: "min" } },
    });
    const { lower, upper } = f["interval"]!("k") as unknown as Record<"lower" | "upper", Lazy>;
    expect([asked(lower)[1], asked(upper)[1]]).toMatchObject([{ what: "lower" }, { what: "upper" }]);
  });
  it("finds the law that made the data, in any unit of the place", () => {
    const line = host.table({
      kind: "table",
      table: {
        rows: 3,
        notes: [],
        columns: [
          { kind: "number", name: "x", unit: "s", values: Float64Array.of(0, 1, 2) },
          { kind: "number", name: "y", unit: "K", values: Float64Array.of(5, 8, 11) },
        ],
      },
    });
    const f = fit["linear"]!(line, { y: "y", x: "x" });
    expect(value(f["term"]!("x")).value).toBeCloseTo(3, 12);
    expect(value(f["at"]!({ x: "0.05 min" })).value).toBeCloseTo(14, 12);
    expect(value(f["rSquared"]!()).value).toBeCloseTo(1, 12);
  });
  it("refuses options that it does not have, and what is not a table", () => {
    expect(refused(() => fit["power"]!(history(), { y: "T", x: "q", degree: 2 }))).toBe(
      'fit.power has no option "degree"; there is "y", "x", "weights", "confidence"',
    );
    expect(refused(() => fit["linear"]!({ y: 1 }, { y: "T", x: "q" }))).toBe("fit.linear: a table is needed first");
    expect(refused(() => fit["linear"]!(history(), { x: "q" }))).toBe("fit.linear: say which column is y");
    expect(refused(() => fit["linear"]!(history(), { y: "T", x: "q" })["term"]!("q", 3))).toMatch(
      /term takes no more than it has been given/,
    );
  });
});

describe("a comparison with a reference", () => {
  it("takes tolerances as amounts or relative ones, and shifts as amounts or an estimate", () => {
    const t = history() as unknown as Record<string, (...given: unknown[]) => Methods>;
    const of = (options: object): unknown => asked(t["against"]!(other(), { y: "T", ...options })["rms"]!())[1];
    expect(of({ within: "0.5 K" })).toEqual({ y: "T", within: { amount: { value: 0.5, unit: "K" } }, what: "rms" });
    expect(of({ within: { relative: "5 %" } })).toMatchObject({ within: { relative: { value: 5, unit: "%" } } });
    expect(of({ shift: "estimate", maxLag: "60 s" })).toMatchObject({
      shift: "estimate",
      maxLag: { value: 60, unit: "s" },
    });
    expect(of({ shift: q("2 s") })).toMatchObject({ shift: { value: 2, unit: "s" } });
    expect(refused(() => of({ tolerance: 1 }))).toMatch(/against has no option "tolerance"; there is "y"/);
  });
  it("has a formula of the table's own columns for a reference", () => {
    const t = history() as unknown as Record<string, (...given: unknown[]) => Methods>;
    const a = t["against"]!("280 K + d", { y: "T", with: { d: "1 K" } });
    expect(asked(a["side"]!())[1]).toEqual({ y: "T", reference: "the formula" });
    expect(value(a["bias"]!()).unit).toMatch(/K/);
  });
});

describe("laws and functions", () => {
  it("take quantities, their texts and numbers, known or still to be computed", () => {
    const mean = (history() as unknown as Record<string, (...given: unknown[]) => Lazy>)["mean"]!("T");
    expect(asked(law("air.density")["at"]!({ T: "5 degC" }))[1]).toEqual({
      law: "air.density",
      inputs: { T: { value: 5, unit: "degC" } },
    });
    const [, args, first] = asked(law("air.density")["at"]!({ T: mean }, { outside: "keep" }));
    expect([args, (first as { kind: string }).kind]).toEqual([
      { law: "air.density", inputs: { T: { input: 0 } }, outside: "keep" },
      "quantity",
    ]);
    expect(value(law("air.density")["at"]!({ T: mean })).value).toBeCloseTo(
      value(law("air.density")["at"]!({ T: value(mean).value + " K" })).value,
      10,
    );
  });
  it("run over one input as a curve", () => {
    const [op, args] = asked(
      law("friction.smooth")["curve"]!({ Re: [4000, q(1e5, "1")] }, { points: 5, steps: "log" }),
    );
    expect([op, args]).toEqual([
      "law.curve",
      {
        law: "friction.smooth",
        over: "Re",
        from: { value: 4000, unit: "1" },
        to: { value: 1e5, unit: "1" },
        inputs: {},
        points: 5,
        steps: "log",
      },
    ]);
    for (const wrong of [{ Re: 4000 }, { Re: [1, 2], Pr: [3, 4] }, {}])
      expect(refused(() => law("friction.smooth")["curve"]!(wrong))).toMatch(
        /runs over one input, given as \[from, to\]/,
      );
  });
  it("compute with units", () => {
    expect(value(calc("a + b", { a: "1 m", b: "20 cm" }, { unit: "mm" }))).toMatchObject({ value: 1200, unit: "mm" });
    const product = value(calc("2 * k", { k: calc("3 * a", { a: "2 s" }) }));
    expect([product.value, product.unit]).toEqual([12, "s"]);
    expect(refused(() => calc("a", { a: "1 m" }, { units: "m" }))).toMatch(
      /calc has no option "units"; there is "unit"/,
    );
  });
  it("bring tables together on one axis, by steps in any unit", () => {
    const seconds = asked(together({ a: history(), b: other() }, { axis: { step: "5 s" } }));
    expect(seconds.slice(0, 2)).toEqual(["together", { names: ["a", "b"], axis: { step: { value: 5, unit: "s" } } }]);
    const rows = (step: string): number => {
      const found = host.outcome(together({ a: history(), b: other() }, { axis: { step } }) as never);
      if (found.kind !== "table") throw new Error(found.kind);
      return found.table.rows;
    };
    expect(rows("5 s")).toBe(rows("5000 ms"));
    expect(asked(together({ a: history(), b: other() }, { axis: "union" }))[1]).toMatchObject({ axis: "union" });
    expect(refused(() => together({ a: history(), b: q("1 m") }))).toBe('together: "b" is not a table');
  });
});
