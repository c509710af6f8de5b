import { describe, expect, it } from "@jest/globals";
import fc from "fast-check";
import {
  evaluateFormula,
  makeTable,
  numberColumn,
  parseFormula,
  convertColumns,
  type Table,
  type UnitSymbol,
} from "./index.js";

const NaNs = Number.NaN;
const table = (columns: Record<string, readonly [UnitSymbol, number[]]>): Table =>
  makeTable(Object.entries(columns).map(([n, [u, v]]) => numberColumn(n, u, v)));
const value = (
  formula: string,
  columns: Record<string, readonly [UnitSymbol, number[]]>,
): { values: number[]; unit: UnitSymbol } => {
  const { values, unit } = evaluateFormula(parseFormula(formula), table(columns));
  return { values: [...values], unit };
};

describe("a condition on a missing value is missing", () => {
  const columns: Record<string, readonly [UnitSymbol, number[]]> = { x: ["1", [1, 5, NaNs]], y: ["1", [0, NaNs, 1]] };
  it.each([
    ["x > 3 ? 10 : 20", [20, 10, NaNs]],
    ["not (x > 3)", [1, 0, NaNs]],
    ["x > 3 and y > 0", [0, NaNs, NaNs]],
    ["x < 3 or y > 0", [1, NaNs, 1]],
    ["x > 3 and y == y", [0, NaNs, NaNs]],
    ["missing(x) ? 0 : x", [1, 5, 0]],
    ["x != 5", [1, 0, NaNs]],
    ["not x", [0, 0, NaNs]],
  ])("%s", (formula, expected) => {
    expect(value(formula, columns).values).toEqual(expected);
  });
});

describe("units in formulas", () => {
  it.each([
    ["time % 1 min", { time: ["s", [59, 60, 61, 130]] }, [59, 0, 1, 10], "s"],
    ["v / 10 m/s", { v: ["m/s", [20]], s: ["1", [7]], m: ["1", [9]] }, [2], "1"],
    ["v - 9.81 m/s^2 * t", { v: ["m/s", [20]], t: ["s", [1]], s: ["1", [7]] }, [20 - 9.81], "m/s"],
    ["q / 5 W/(m^2 K)", { q: ["W/(m^2 K)", [10]] }, [2], "1"],
    ["10 m / s", { s: ["s", [2]] }, [5], "m/s"],
    ["max(a, b, 0)", { a: ["m", [1, -3]], b: ["mm", [2000, -5]] }, [2, 0], "m"],
    ["max(0, a, b)", { a: ["m", [1, -3]], b: ["mm", [2000, -5]] }, [2, 0], "m"],
    ["min(5, 3 cm, a)", { a: ["m", [1, 0.01]] }, [3, 1], "cm"],
    ["hypot(a, b)", { a: ["m", [3]], b: ["mm", [4000]] }, [5], "m"],
    ["1 - p", { p: ["%", [25]] }, [0.75], "1"],
    ["p + 0.5", { p: ["%", [25]] }, [0.75], "1"],
    ["p + q", { p: ["%", [25]], q: ["1", [0.5]] }, [75], "%"],
    ["2 ^ p", { p: ["%", [50]] }, [Math.SQRT2], "1"],
    ["p ^ 2", { p: ["%", [50]] }, [0.25], "1"],
    ["exp(p)", { p: ["%", [100]] }, [Math.E], "1"],
    ["sqrt(p) * 1", { p: ["1", [0.25]] }, [0.5], "1"],
  ] as const)("%s", (formula, columns, expected, unit) => {
    const r = value(formula, columns as unknown as Record<string, readonly [UnitSymbol, number[]]>);
    expect(r.unit).toBe(unit);
    r.values.forEach((v, i) => expect(v).toBeCloseTo(expected[i]!, 12));
  });
  it.each([
    ["T % 10 K", { T: ["degC", [1]] }, /zero of its own/],
    ["a ^ b", { a: ["1", [1]], b: ["s", [1]] }, /"\^" takes a plain number here/],
    ["2 ^ b", { b: ["deg", [1]] }, /takes a plain number/],
    ["hypot(T, T)", { T: ["degC", [1]] }, /zero of its own/],
    ["max(a, b)", { a: ["m", [1]], b: ["s", [1]] }, /joins/],
    ["max(a, b)", { a: ["m", [1]], b: [null, [1]] }, /unknown/],
  ] as const)("%s is refused", (formula, columns, message) => {
    expect(() => value(formula, columns as unknown as Record<string, readonly [UnitSymbol, number[]]>)).toThrow(
      message,
    );
  });
});

describe("a formula of converted columns is the converted formula", () => {
  const families: readonly (readonly [string, string])[] = [
    ["K", "mK"],
    ["s", "min"],
    ["s", "ms"],
    ["m", "mm"],
    ["Pa", "bar"],
    ["%", "1"],
  ];
  const formulas = [
    "max(x, y)",
    "min(x, y, x / 2)",
    "hypot(x, y)",
    "x + y",
    "x - y",
    "x > y",
    "x > y ? x : y",
    "x % y",
    "abs(x) - y",
    "x * y",
    "x / y",
    "x >= y and y < x",
  ];
  it("for all pairs of units", () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...families),
        fc.constantFrom(...formulas),
        fc.double({ min: 0.25, max: 99, noNaN: true }),
        fc.double({ min: 0.25, max: 99, noNaN: true }),
        (units, formula, a, b) => {
          const [u, v] = units;
          const t = table({ x: [u, [a]], y: [u, [b]] });
          const tree = parseFormula(formula);
          const one = evaluateFormula(tree, t);
          const other = evaluateFormula(tree, convertColumns(t, ["x"], v));
          const both = evaluateFormula(tree, convertColumns(t, ["x", "y"], v));
          for (const r of [other, both]) {
            const back = convertColumns(makeTable([numberColumn("r", r.unit, r.values)]), ["r"], one.unit ?? "1");
            const [p, q] = [(back.columns[0] as { values: Float64Array }).values[0]!, one.values[0]!];
            // Rounding may tip a comparison or a remainder of values that are all but equal.
            if (/[<>%]/.test(formula) && Math.min(Math.abs(a - b), a % b, b - (a % b)) < 1e-9 * a) return;
            expect(Math.abs(p - q)).toBeLessThanOrEqual(1e-9 * (Math.abs(q) + a + b));
          }
        },
      ),
      { numRuns: 400, seed: 5 },
    );
  });
});

describe("what a formula's text means", () => {
  const columns: Record<string, readonly [UnitSymbol, number[]]> = {
    a: ["1", [7]],
    b: ["1", [3]],
    m: ["1", [100]],
    U: ["1", [0]],
    "U.x": ["1", [2]],
    T: ["degC", [-8]],
    "T@cell": ["1", [6]],
    "x y": ["1", [4]],
    größe: ["1", [9]],
  };
  it.each([
    ["a - b - 1", 3],
    ["a / b / 7", 1 / 3],
    ["2^3^2", 512],
    ["-b^2", -9],
    ["2^-b", 0.125],
    ["a % b * 2", 2],
    ["a mod b", 1],
    ["-a % b", -1],
    ["1 + 2 > 2 and not a < b", 1],
    ["not a < b or a < b", 1],
    ["a < b ? 1 : a == 7 ? 2 : 3", 2],
    ["U.x + T@cell + col('x y') + größe", 21],
    ["T < -5 degC", 1],
    ["T > -10 °C", 1],
    ["a * 50 %", 350],
    ["1 - 25 %", 0.75],
    ["100 % b", 1],
    ["2 m / 4 m", 0.5],
    ["2 m^2 / 1 m^2", 2],
    [".5 + 1. + 1e1 + 2E-1", 11.7],
    ["pow(2, b)", 8],
    ["+a", 7],
  ])("%s", (formula, expected) => {
    expect(value(formula, columns).values[0]).toBeCloseTo(expected, 12);
  });
  it.each([
    ["a b", /write "\*" between two values, at character 3/],
    ["2 a", /write "\*" between two values, at character 3/],
    ["2 (a)", /write "\*" between/],
    ["2 min(a)", /write "\*" between/],
    ["a +", /it ends where a value is expected/],
    ["", /it ends where a value/],
    ["(a", /"\)" is missing/],
    ["a ? b", /":" is missing/],
    ["a)", /"\)" is not expected here, at character 2/],
    ["a = b", /"=" has no place in a formula; compare with "=="/],
    ["a && b", /"&" has no place.*write "and"/],
    ["a ** 2", /powers are written with "\^"/],
    ["a < b < 3", /chained comparisons/],
    ["sqr(a)", /no function "sqr".*Did you mean "sqrt"/],
    ["max()", /max takes 1 to 16 values, not 0/],
    ['"x y" + 1', /is a text; a column is written/],
    ["col(a)", /col takes one name/],
    ["a; b", /";" has no place/],
    ["`${1}`", /has no place/],
    ["a[0]", /"\[" has no place/],
    ["(".repeat(5000), /too long/],
    ["(".repeat(900) + "a" + ")".repeat(900), /nested too deeply/],
    ["-".repeat(1500) + "a", /nested too deeply/],
    ["2^".repeat(900) + "2", /nested too deeply/],
  ])("%s is refused", (formula, message) => {
    expect(() => value(formula, columns)).toThrow(message);
  });
  it("any text is a formula or an error that says so", () => {
    const piece = fc.constantFrom(
      "a",
      "b1",
      "U.x",
      "1",
      "2.5",
      "3 K",
      "5 %",
      "(",
      ")",
      "+",
      "-",
      "*",
      "/",
      "^",
      "%",
      "<",
      "==",
      "and",
      "not",
      "?",
      ":",
      ",",
      "max",
      "col(",
      '"q"',
      " ",
      "@",
      "²",
      "😀",
    );
    fc.assert(
      fc.property(fc.array(piece, { maxLength: 30 }), (pieces) => {
        try {
          parseFormula(pieces.join(""));
        } catch (e) {
          expect((e as Error).name).toBe("FormulaError");
        }
      }),
      { numRuns: 2000 },
    );
  });
  it("property: written with all its parentheses, a tree is read as it is", () => {
    type Tree = ReturnType<typeof parseFormula>;
    const { tree } = fc.letrec<{ tree: Tree }>((tie) => ({
      tree: fc.oneof(
        { maxDepth: 5 },
        fc
          .double({ min: 0, max: 1e9, noNaN: true })
          .map((v): Tree => ({ kind: "number", value: Object.is(v, -0) ? 0 : v })),
        fc.constantFrom("a", "U.x", "T_1", "T@point").map((name): Tree => ({ kind: "name", name })),
        fc.record({
          kind: fc.constant("literal" as const),
          value: fc.integer({ min: 0, max: 99 }),
          unit: fc.constantFrom("K", "m/s", "W/(m^2 K)", "min"),
        }),
        fc.record({
          kind: fc.constant("call" as const),
          fn: fc.constantFrom("+", "-", "*", "/", "^", "%", "<", ">=", "and", "or"),
          args: fc.tuple(tie("tree"), tie("tree")),
        }),
        fc.record({
          kind: fc.constant("call" as const),
          fn: fc.constantFrom("neg", "not", "sqrt"),
          args: fc.tuple(tie("tree")),
        }),
        fc.record({ kind: fc.constant("if" as const), args: fc.tuple(tie("tree"), tie("tree"), tie("tree")) }),
      ),
    }));
    const write = (t: Tree): string => {
      if (t.kind === "number") return `(${t.value})`;
      if (t.kind === "literal") return `(${t.value} ${t.unit})`;
      if (t.kind === "name") return t.name;
      const args = t.args.map(write);
      if (t.kind === "if") return `(${args[0]} ? ${args[1]} : ${args[2]})`;
      if (t.fn === "sqrt") return `sqrt(${args[0]})`;
      return args.length === 1 ? `(${t.fn === "neg" ? "-" : "not "}${args[0]})` : `(${args.join(` ${t.fn} `)})`;
    };
    fc.assert(
      fc.property(tree, (t) => {
        const text = write(t);
        if (text.length <= 2000) expect(parseFormula(text)).toEqual(t);
      }),
      { numRuns: 500 },
    );
  });
});
