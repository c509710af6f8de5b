import { describe, expect, it } from "@jest/globals";
import fc from "fast-check";
import { PlainHost } from "../../testing/plain-host.js";
import { proofTables } from "../../testing/operation-calls.js";
import { refused } from "../../testing/refused.js";

const host = await PlainHost.load();
const { decode, encode, flush, formOf, newTrace, node, read, scriptLine, shortNode, traced, ExcludedRun } =
  host.runtime;

describe("values on their way to the host", () => {
  it("property: come back as they were, through JSON, with NaN, infinities and the sign of zero", () => {
    const leaf = fc.oneof(fc.double(), fc.string(), fc.boolean(), fc.constant(null));
    // A name that stands for a number is not a name that an option has.
    const tree = fc.letrec<{ tree: unknown }>((tie) => ({
      tree: fc.oneof(
        { maxDepth: 4 },
        leaf,
        fc.array(tie("tree"), { maxLength: 4 }),
        fc.dictionary(
          fc.string().filter((k) => k !== "$n" && k !== "__proto__"),
          tie("tree"),
          { maxKeys: 4, noNullPrototype: true },
        ),
      ),
    })).tree;
    fc.assert(
      fc.property(tree, (v) => {
        expect(decode(JSON.parse(JSON.stringify(encode(v))))).toEqual(v);
      }),
    );
  });
  it("leave out what is undefined, and refuse what cannot be told", () => {
    expect(encode({ a: undefined, b: 1 })).toEqual({ b: 1 });
    expect(refused(() => encode({ a: () => 1 }))).toBe("a function cannot stand here");
    expect(refused(() => encode([Symbol("x")]))).toBe("a symbol cannot stand here");
    expect(refused(() => encode({ a: { b: 10n } }))).toBe("a bigint cannot stand here");
    expect(refused(() => encode({ a: host.table(proofTables["history"]!) }))).toMatch(
      /a lazy value cannot stand inside/,
    );
  });
});

describe("nodes", () => {
  it("are numbered in their order, and have one form per operation with its arguments", () => {
    const first = node("given", { number: 900 }, []);
    const second = node("given", { number: 901 }, [first]);
    const third = node("given", { number: 900 }, [second], 4);
    expect([second - first, third - second]).toEqual([1, 1]);
    expect(host.nodeOf({ $id: third } as never)).toMatchObject({
      op: "given",
      args: { number: 900 },
      inputs: [second],
    });
    expect(formOf("given", { number: 900 })).toBe(formOf("given", { number: 900 }));
    expect(formOf("given", { number: 900 })).not.toBe(formOf("given", { number: 901 }));
    expect(formOf("given", { number: -0 })).not.toBe(formOf("given", { number: 0 }));
  });
  it("are told by a short key, whose arguments are asked for once", () => {
    let asked = 0;
    const args = (): object => ({ number: 1000 + asked++ });
    const made = ["a", "a", "b", "a"].map((key) => shortNode("given", key, args, []));
    expect(asked).toBe(2);
    const numbers = made.map((id) => (host.nodeOf({ $id: id } as never).args as { number: number }).number);
    expect(numbers).toEqual([1000, 1000, 1001, 1000]);
  });
  it("go to the host in batches, none lost", () => {
    flush();
    const ids = Array.from({ length: 9001 }, (_, k) => node("given", { number: 5000 + (k % 7) }, []));
    expect(ids.at(-1)! - ids[0]!).toBe(9000);
    for (const k of [0, 3999, 4000, 8000, 9000])
      expect(host.nodeOf({ $id: ids[k]! } as never).args).toEqual({ number: 5000 + (k % 7) });
  });
});

/** A call from a line of a script, as the interpreter's stacks tell it: the library's frames come first. */
function from<T>(place: string, make: () => T): T {
  const before = Error.prepareStackTrace;
  Error.prepareStackTrace = () => `    at node (oxtrum:record.js:7)\n    at ${place})\n    at <anonymous> (late.ts:99)`;
  try {
    return make();
  } finally {
    Error.prepareStackTrace = before;
  }
}

describe("lines", () => {
  it("are those of the nearest frame that is not the library's, with the number of its module", () => {
    const first = from("peak (first.ts:12:3", scriptLine);
    const other = from("peak (second.ts:5", scriptLine);
    expect([first % 1_000_000, other % 1_000_000]).toEqual([12, 5]);
    const number = (line: number): number => Math.floor(line / 1_000_000);
    expect(number(other)).toBe(number(first) + 1);
    expect(host.told.slice(-2)).toEqual([
      { module: "first.ts", number: number(first) },
      { module: "second.ts", number: number(other) },
    ]);
    // A module's number is told once.
    const told = host.told.length;
    expect(from("first.ts:40", scriptLine)).toBe(1_000_000 * number(first) + 40);
    expect(host.told.length).toBe(told);
  });
  const lineOf = (id: number): number =>
    (host.nodeOf({ $id: id } as never) as never as { line: number }).line % 1_000_000;
  it("of a callback are found for its first run, and are the same for all others", () => {
    const memory = newTrace();
    const make = (line: number): number[] =>
      traced(memory, () => [
        from(`first.ts:${line}`, () => node("given", { number: 1 }, [])),
        from(`first.ts:${line + 1}`, () => node("given", { number: 2 }, [])),
      ]);
    const runs = [make(12), make(30), make(50)];
    expect(runs.map((ids) => ids.map(lineOf))).toEqual([
      [12, 13],
      [12, 13],
      [12, 13],
    ]);
  });
  it("are found again where a run goes another way", () => {
    const memory = newTrace();
    const once = (op: string, args: object, line: number): number =>
      traced(memory, () => from(`first.ts:${line}`, () => node(op, args, [])));
    expect(lineOf(once("given", { number: 1 }, 12))).toBe(12);
    expect(lineOf(once("constant", { value: 1, unit: "m" }, 20))).toBe(20);
    expect(lineOf(once("constant", { value: 2, unit: "m" }, 33))).toBe(20);
  });
  it("of a callback within a callback are its own, and the outer one goes on with its", () => {
    const [outer, inner] = [newTrace(), newTrace()];
    traced(outer, () => {
      traced(inner, () => node("given", { number: 3 }, []));
      node("given", { number: 4 }, []);
    });
    expect([outer.at, inner.at]).toEqual([1, 1]);
  });
});

describe("a value that is read", () => {
  it("is computed, or leaves its run out with the reason", () => {
    const history = host.given(proofTables["history"]!);
    expect((read(history, "rows") as { rows: number }).rows).toBeGreaterThan(3);
    const wrong = node("table.max", { name: "nothing" }, [history]);
    expect(refused(() => read(wrong, "quantity"))).toMatch(/nothing/);
    expect(() => read(wrong, "quantity")).toThrow(ExcludedRun);
    expect(refused(() => read(history, "values:nothing"))).toBe('no column "nothing"');
    expect((read(history, "values:T") as number[]).length).toBe((read(history, "rows") as { rows: number }).rows);
  });
});
