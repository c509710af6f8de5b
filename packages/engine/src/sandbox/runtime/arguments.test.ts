import { describe, expect, it } from "@jest/globals";
import { proofTables } from "../../testing/operation-calls.js";
import { refused } from "../../testing/refused.js";
import { PlainHost } from "../../testing/plain-host.js";

const host = await PlainHost.load();
const table = (): Record<string, (...given: unknown[]) => { $id: number }> => host.table(proofTables["history"]!);
const { q } = host.runtime;

const argsOf = (make: () => { $id: number }): unknown => host.call(make())[1];

describe("what scripts give verbs", () => {
  it("goes into arguments by name, with what is left out filled in", () => {
    expect(argsOf(() => table()["sortBy"]!("T"))).toEqual({ name: "T", order: "rising" });
    expect(argsOf(() => table()["crossings"]!("T", "280 K"))).toEqual({
      name: "T",
      level: { value: 280, unit: "K" },
      direction: "both",
    });
    expect(argsOf(() => table()["since"]!("10 s", { for: q("1 min") }))).toEqual({ length: { value: 1, unit: "min" } });
    expect(argsOf(() => table()["mean"]!("T"))).toEqual({ name: "T", weights: "axis" });
  });
  it("may be names one by one, in a list, or both", () => {
    const names = { names: ["T", "q"] };
    expect(argsOf(() => table()["pick"]!("T", "q"))).toEqual(names);
    expect(argsOf(() => table()["pick"]!(["T", "q"]))).toEqual(names);
    expect(argsOf(() => table()["pick"]!("T", ["q"]))).toEqual(names);
    expect(argsOf(() => table()["to"]!("T", "degC"))).toEqual({ names: ["T"], unit: "degC" });
  });
  it("may be amounts in lists and by name, words that are not amounts, and values of columns", () => {
    expect(argsOf(() => table()["window"]!("time", ["1 s", 2]))).toEqual({
      axis: "time",
      range: [{ value: 1, unit: "s" }, 2],
    });
    expect(argsOf(() => table()["resample"]!("time", { at: ["1 s", q(2, "s")] }))).toEqual({
      axis: "time",
      spacing: {
        at: [
          { value: 1, unit: "s" },
          { value: 2, unit: "s" },
        ],
      },
    });
    expect(argsOf(() => table()["at"]!("T", "last"))).toMatchObject({ place: "last" });
    expect(argsOf(() => table()["where"]!({ state: "on", T: [q("280 K"), 281] }))).toMatchObject({
      equal: { state: "on", T: [{ value: 280, unit: "K" }, 281] },
    });
  });
  it("are inputs where a quantity is not known yet", () => {
    const t = table();
    const mean = t["mean"]!("T");
    const [op, args, ...inputs] = host.call(t["derive"]!("d", "T - m + k", { with: { m: mean, k: 3 } }));
    expect([op, args]).toEqual([
      "table.derive",
      expect.objectContaining({ constants: { m: { input: 1 }, k: { value: 3, unit: "1" } } }),
    ]);
    expect(inputs.map((i) => i.kind)).toEqual(["table", "quantity"]);
  });
  it("is refused where it does not fit: names, options, tables, quantities", () => {
    expect(refused(() => table()["detrend"]!("T", { degre: 2 }))).toBe(
      'detrend has no option "degre"; there is "degree"',
    );
    expect(refused(() => table()["detrend"]!("T", 2))).toBe("detrend: options stand in braces, as in { degree: … }");
    expect(refused(() => table()["max"]!("T", { weights: "none" }))).toBe("max takes no more than it has been given");
    expect(refused(() => table()["join"]!("b"))).toBe("join takes another table");
    expect(refused(() => table()["join"]!(table()["max"]!("T")))).toBe("join takes another table");
    expect(refused(() => table()["since"]!(10))).toMatch(/^since takes a quantity or its text/);
    expect(refused(() => table()["window"]!("time", ["1 s", "two"]))).toMatch(/two/);
  });
  it("makes one node where the same is asked twice of one form, and several parts of one call", () => {
    const t = table();
    const [a, b] = [t["max"]!("T"), t["max"]!("T")];
    expect(a.$id).not.toBe(b.$id);
    expect(host.outcome(a)).toEqual(host.outcome(b));
    const ends = t["meanInterval"]!("T") as unknown as Record<"lower" | "upper", { $id: number }>;
    expect([host.call(ends.lower)[1], host.call(ends.upper)[1]]).toEqual([
      { name: "T", confidence: 0.95, part: "lower" },
      { name: "T", confidence: 0.95, part: "upper" },
    ]);
  });
});
