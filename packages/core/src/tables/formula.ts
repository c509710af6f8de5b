import { FormulaError, formulaNames, formulaText, reductions, type FormulaTree } from "./formula-tree.js";
import { nearly } from "./nearly.js";
import { column, numbers, TableError, type Table, type UnitSymbol } from "./table.js";
import {
  conversion,
  convertedUnit,
  convertValues,
  dimensionless,
  displayUnit,
  divideUnits,
  multiplyUnits,
  parseUnit,
  plainUnit,
  powerUnit,
  sameDimensions,
  stepOf,
  tryParseUnit,
  type Unit,
} from "./units.js";

type Lookup = (name: string) => UnitSymbol;

/** A compiled formula: the unit of its result and the code that fills an array. */
interface Compiled {
  readonly unit: UnitSymbol;
  readonly code: string;
}

const comparisons = new Map([
  ["<", "less"],
  ["<=", "atMost"],
  [">", "more"],
  [">=", "atLeast"],
  ["==", "equal"],
  ["!=", "unequal"],
]);

const missing = Number.NaN;
const compared = (x: number, y: number, holds: boolean): number => (x !== x || y !== y ? missing : holds ? 1 : 0);

/**
 * Conditions of three values: 1, 0 and missing. What depends on a missing value is missing, unless the other side
 * decides it (0 and missing is 0, 1 or missing is 1).
 */
const conditions = {
  less: (x: number, y: number, near = false): number => compared(x, y, x < y && !(near && nearly(x, y))),
  atMost: (x: number, y: number, near = false): number => compared(x, y, x <= y || (near && nearly(x, y))),
  more: (x: number, y: number, near = false): number => compared(x, y, x > y && !(near && nearly(x, y))),
  atLeast: (x: number, y: number, near = false): number => compared(x, y, x >= y || (near && nearly(x, y))),
  equal: (x: number, y: number, near = false): number => compared(x, y, x === y || (near && nearly(x, y))),
  unequal: (x: number, y: number, near = false): number => compared(x, y, x !== y && !(near && nearly(x, y))),
  not: (x: number): number => (x !== x ? missing : x === 0 ? 1 : 0),
  and: (x: number, y: number): number => (x === 0 || y === 0 ? 0 : x !== x || y !== y ? missing : 1),
  or: (x: number, y: number): number =>
    (x === x && x !== 0) || (y === y && y !== 0) ? 1 : x !== x || y !== y ? missing : 0,
  either: (c: number, x: number, y: number): number => (c !== c ? missing : c !== 0 ? x : y),
};
const logical = new Set(["and", "or", "not"]);
const angles = new Set(["sin", "cos", "tan"]);
const plain = new Set(["exp", "log", "log10", "log2", "sinh", "cosh", "tanh", "asin", "acos", "atan"]);

/**
 * The unit of a formula's result; checks every operation's units on the way.
 *
 * Adding and comparing convert; known with unknown is an error; bare numbers take the other side's unit.
 *
 * @throws FormulaError
 */
export function formulaUnit(tree: FormulaTree, unitOf: Lookup): UnitSymbol {
  return compile(tree, unitOf, new Map()).unit;
}

/**
 * Evaluates a formula over a table's rows and over given quantities.
 *
 * @returns values, one per row (0 or 1 for conditions), and their unit.
 * @throws FormulaError, TableError
 */
export function evaluateFormula(
  tree: FormulaTree,
  table: Table,
  constants: Readonly<Record<string, { value: number; unit: UnitSymbol }>> = {},
): { values: Float64Array; unit: UnitSymbol } {
  const names = formulaNames(tree);
  const isConstant = (n: string): boolean => !table.columns.some((c) => c.name === n) && Object.hasOwn(constants, n);
  const slots = new Map(names.map((n, i) => [n, isConstant(n) ? `k${i}` : `a${i}[i]`]));
  const { code, unit } = compile(tree, (n) => (isConstant(n) ? constants[n]!.unit : numbers(table, n).unit), slots);
  const inputs = names.map((n) => (isConstant(n) ? constants[n]!.value : (column(table, n).values as Float64Array)));
  const parameters = names.map((n, i) => (isConstant(n) ? `k${i}` : `a${i}`));
  // The code holds operators, Math functions, numbers and slot names made above; no text of the formula enters it.

  const fill = new Function(
    "out",
    "n",
    "is",
    ...parameters,
    `"use strict"; for (let i = 0; i < n; i++) { out[i] = ${code}; }`,
  ) as (out: Float64Array, n: number, is: typeof conditions, ...rest: (number | Float64Array)[]) => void;
  const values = new Float64Array(table.rows);
  fill(values, table.rows, conditions, ...inputs);
  return { values, unit };
}

const numberCode = (x: number): string =>
  x < 0 || Object.is(x, -0) ? `(${x === 0 ? "-0" : String(x)})` : x !== x ? "NaN" : String(x);

function compile(tree: FormulaTree, unitOf: Lookup, slots: ReadonlyMap<string, string>): Compiled {
  const walk = (t: FormulaTree): Part => ({ ...made(t), tree: t });
  const made = (t: FormulaTree): Part => {
    switch (t.kind) {
      case "number":
        return { unit: "1", code: numberCode(t.value), bare: true };
      case "literal":
        return { unit: parseUnit(t.unit).symbol, code: numberCode(t.value), literal: true };
      case "name":
        return { unit: unitOf(t.name), code: slots.get(t.name) ?? "NaN" };
      case "if": {
        const [c, a, b] = t.args.map(walk) as [Part, Part, Part];
        const [x, y, unit] = alike(a, b, "?:");
        return { unit, code: `is.either(${c.code}, ${x}, ${y})` };
      }
      default:
        return call(t.fn, t.args.map(walk), t.args);
    }
  };
  return walk(tree);
}

/**
 * `bare`: a number without a unit. `literal`: a number written with its unit, as `5 K`, which can be a temperature or a
 * difference.
 */
type Part = Compiled & { bare?: boolean; literal?: boolean; tree?: FormulaTree };

/** An operand as a message names it: `T_out (K)`, `5 m`, `p − 1 bar (bar)`. */
function named(p: Part): string {
  const unit = displayUnit(p.unit) || (p.unit === null ? "unknown unit" : "dimensionless");
  if (p.tree === undefined) return unit;
  const text = formulaText(p.tree);
  return p.literal || p.bare ? text : `${text} (${unit})`;
}

/** Brings two operands to one unit, the first's; a bare number takes the other's. */
function alike(a: Part, b: Part, op: string): [string, string, UnitSymbol] {
  if (a.unit === b.unit) return [a.code, b.code, a.unit];
  if (b.bare) return [a.code, b.code, a.unit];
  if (a.bare) return [a.code, b.code, b.unit];
  if (a.unit === null || b.unit === null)
    throw new FormulaError(
      `"${op}" joins ${named(a.unit === null ? b : a)} with ${named(a.unit === null ? a : b)}: say the ` +
        "unit with .unit(), or in the study's definition",
    );
  try {
    const c = conversion(parseUnit(b.unit), parseUnit(a.unit));
    return [
      a.code,
      c.shift === 0
        ? `(${b.code} * ${numberCode(c.scale)})`
        : `(${b.code} * ${numberCode(c.scale)} + ${numberCode(c.shift)})`,
      a.unit,
    ];
  } catch {
    throw new FormulaError(`"${op}" joins ${named(a)} with ${named(b)}`);
  }
}

function guarded(op: string, make: () => Unit): Unit {
  try {
    return make();
  } catch (e) {
    throw new FormulaError(`"${op}": ${(e as Error).message}`);
  }
}

function call(fn: string, parts: readonly Part[], trees: readonly FormulaTree[]): Part {
  const [a, b] = parts as [Part, Part];
  if (logical.has(fn))
    return { unit: "1", code: fn === "not" ? `is.not(${a.code})` : `is.${fn}(${a.code}, ${b.code})` };
  if (comparisons.has(fn)) {
    const [x, y] = alike(a, b, fn);
    // After a conversion, what is equal but for its rounding is equal.
    const near = x !== a.code || y !== b.code ? ", true" : "";
    return { unit: "1", code: `is.${comparisons.get(fn)!}(${x}, ${y}${near})` };
  }
  switch (fn) {
    case "neg":
      return { ...a, code: `(-${a.code})` };
    case "pos":
      return a;
    case "+":
      return sum(a, b);
    case "-":
      return difference(a, b);
    case "*":
    case "/":
      return product(fn, a, b);
    case "%":
      return remainder(a, b);
    case "^":
      return power(a, b, trees[1]!);
    case "sqrt":
    case "cbrt":
      return {
        unit:
          a.unit === null ? null : guarded(fn, () => powerUnit(parseUnit(a.unit!), fn === "sqrt" ? 0.5 : 1 / 3)).symbol,
        code: `Math.${fn}(${a.code})`,
      };
    case "missing":
      return { unit: "1", code: `(${a.code} !== ${a.code} ? 1 : 0)` };
    case "sign":
      return { unit: "1", code: `Math.sign(${a.code})` };
    case "abs":
    case "floor":
    case "ceil":
    case "round":
      return { unit: a.unit, code: `Math.${fn}(${a.code})` };
    case "atan2":
    case "min":
    case "max":
    case "hypot":
      return together(fn, parts);
    default:
      return plainCall(fn, a);
  }
}

const bothBare = (a: Part, b: Part): boolean => a.bare === true && b.bare === true;

function product(fn: "*" | "/", a: Part, b: Part): Part {
  const code = `(${a.code} ${fn} ${b.code})`;
  if (a.unit === null || b.unit === null) return { unit: null, code };
  const ua = parseUnit(a.unit);
  const ub = parseUnit(b.unit);
  const unit = guarded(fn, () => (fn === "*" ? multiplyUnits(ua, ub) : divideUnits(ua, ub)));
  const left = fn === "*" ? ua.factor * ub.factor : ua.factor / ub.factor;
  const collapsed = unit.symbol === "1" && left !== 1;
  return { unit: unit.symbol, code: collapsed ? `(${code} * ${numberCode(left)})` : code, bare: bothBare(a, b) };
}

function remainder(a: Part, b: Part): Part {
  if (isScale(a.unit) || isScale(b.unit))
    throw new FormulaError(`"%": ${named(isScale(a.unit) ? a : b)} has a zero of its own; convert to K first`);
  const [x, y, unit] = alike(a, b, "%");
  return { unit, code: `(${x} % ${y})`, bare: bothBare(a, b) };
}

function power(a: Part, b: Part, tree: FormulaTree): Part {
  const exponent = pureNumber(b, "^");
  const isRatio = a.unit !== null && a.unit !== "1" && sameDimensions(parseUnit(a.unit), dimensionless);
  if (exponent !== b.code || isRatio) return { unit: "1", code: `Math.pow(${pureNumber(a, "^")}, ${exponent})` };
  const known = constantOf(tree);
  const code = known === 2 ? `(${a.code} * ${a.code})` : `Math.pow(${a.code}, ${b.code})`;
  if (a.unit === null || a.unit === "1") return { unit: a.unit, code, bare: bothBare(a, b) };
  if (known === undefined) throw new FormulaError(`"^": the exponent of ${named(a)} has to be a number, not a column`);
  return { unit: guarded("^", () => powerUnit(parseUnit(a.unit!), known)).symbol, code };
}

/** Of several values of one kind: the first that has a unit of its own gives it to all, others are converted. */
function together(fn: "atan2" | "min" | "max" | "hypot", parts: readonly Part[]): Part {
  const model = parts.find((p) => !p.bare) ?? parts[0]!;
  const scale = parts.find((p) => isScale(p.unit));
  if (fn !== "min" && fn !== "max" && scale)
    throw new FormulaError(`"${fn}": ${named(scale)} has a zero of its own; convert to K first`);
  const codes = parts.map((p) => (p === model ? p.code : alike({ ...model, bare: false }, p, fn)[1]));
  return {
    unit: fn === "atan2" ? "rad" : model.unit,
    code: `Math.${fn}(${codes.join(", ")})`,
    ...(model.bare === true && fn !== "atan2" && { bare: true }),
  };
}

function plainCall(fn: string, a: Part): Part {
  if (reductions.has(fn))
    throw new FormulaError(
      `${fn}() makes one number of a whole column: it stands in .value() and in rules, not row by row`,
    );
  if (!angles.has(fn) && !plain.has(fn)) throw new FormulaError(`there is no function "${fn}"`);
  if (a.unit === null) return { unit: fn.startsWith("a") ? "rad" : "1", code: `Math.${fn}(${a.code})` };
  const unit = parseUnit(a.unit);
  if (!sameDimensions(unit, dimensionless))
    throw new FormulaError(`${fn} takes a dimensionless value, not ${named(a)}`);
  const scaled = unit.factor === 1 ? a.code : `${a.code} * ${numberCode(unit.factor)}`;
  return { unit: fn === "asin" || fn === "acos" || fn === "atan" ? "rad" : "1", code: `Math.${fn}(${scaled})` };
}

/** A value that has to be dimensionless, as a plain number: 5 % is 0.05. @throws FormulaError */
function pureNumber(p: Part, op: string): string {
  if (p.unit === null || p.unit === "1" || p.bare) return p.code;
  const unit = parseUnit(p.unit);
  if (!sameDimensions(unit, dimensionless) || angleUnits.has(p.unit))
    throw new FormulaError(`"${op}" takes a plain number here, not ${named(p)}`);
  return unit.factor === 1 ? p.code : `(${p.code} * ${numberCode(unit.factor)})`;
}

const angleUnits: ReadonlySet<string> = new Set(["rad", "deg", "rev"]);

/** In a sum, 1 stands for the whole and not for one percent: beside a plain number, shares are plain numbers too. */
function shares(a: Part, b: Part): [Part, Part] {
  const plain = (p: Part, other: Part): Part =>
    other.bare &&
    p.unit !== null &&
    p.unit !== "1" &&
    !angleUnits.has(p.unit) &&
    sameDimensions(parseUnit(p.unit), dimensionless)
      ? { ...p, unit: "1", code: pureNumber(p, "+") }
      : p;
  return [plain(a, b), plain(b, a)];
}

const isDifference = (u: UnitSymbol): boolean => u !== null && parseUnit(u).difference === true;
const isScale = (u: UnitSymbol): boolean => u !== null && parseUnit(u).offset !== 0;

function sum(a: Part, b: Part): Part {
  if (isScale(a.unit) && isScale(b.unit))
    throw new FormulaError(
      `"+": ${named(a)} and ${named(b)} are two temperatures and cannot be added; add a difference in K`,
    );
  if (isScale(b.unit)) return sum(b, a);
  if (isScale(a.unit) && b.unit !== null && !b.bare) return { unit: a.unit, code: `(${a.code} + ${shift(a, b)})` };
  // A temperature and a difference are a temperature.
  if (isDifference(b.unit) !== isDifference(a.unit) && isDifference(a.unit) && !b.bare) return sum(b, a);
  const [x, y, unit] = alike(...shares(a, b), "+");
  return { unit, code: `(${x} + ${y})`, bare: a.bare === true && b.bare === true };
}

function difference(a: Part, b: Part): Part {
  if (isScale(a.unit) && b.unit !== null && !isScale(b.unit) && !isDifference(b.unit) && !b.bare)
    throw new FormulaError(
      `"-" joins ${named(a)} with ${named(b)}: a temperature or a difference? Convert one with .to() ` +
        "first, or add the difference with the other sign",
    );
  if (isScale(a.unit) && isDifference(b.unit)) return { unit: a.unit, code: `(${a.code} - ${shift(a, b)})` };
  const [x, y, unit] = alike(...shares(a, b), "-");
  if (a.bare || b.bare) return { unit, code: `(${x} - ${y})`, bare: a.bare === true && b.bare === true };
  if (!isScale(unit) && (isDifference(a.unit) || isDifference(b.unit) || a.literal || b.literal))
    return { unit: isDifference(b.unit) ? unit : plainUnit(unit), code: `(${x} - ${y})` };
  const { unit: step, factor } = stepOf(unit);
  return { unit: step, code: factor === 1 ? `(${x} - ${y})` : `((${x} - ${y}) * ${numberCode(factor)})` };
}

/** A temperature difference, as in K, in steps of the scale of `a`. */
function shift(a: Part, b: Part): string {
  const ua = parseUnit(a.unit!);
  const ub = parseUnit(b.unit!);
  if (!sameDimensions(ua, ub)) throw new FormulaError(`"+" joins ${named(a)} with ${named(b)}`);
  return ua.factor === ub.factor ? b.code : `(${b.code} * ${numberCode(ub.factor / ua.factor)})`;
}

function constantOf(t: FormulaTree): number | undefined {
  if (t.kind === "number") return t.value;
  if (t.kind !== "call") return undefined;
  const values = t.args.map(constantOf);
  if (values.some((v) => v === undefined)) return undefined;
  const [x, y] = values as [number, number];
  return t.fn === "neg"
    ? -x
    : t.fn === "/"
      ? x / y
      : t.fn === "*"
        ? x * y
        : t.fn === "+"
          ? x + y
          : t.fn === "-"
            ? x - y
            : undefined;
}

/** Adds or replaces a column computed by a formula, in its own unit or the one asked for. */
export function derive(
  table: Table,
  name: string,
  tree: FormulaTree,
  options: {
    unit?: string | undefined;
    constants?: Readonly<Record<string, { value: number; unit: UnitSymbol }>> | undefined;
  } = {},
): Table {
  const result = evaluateFormula(tree, table, options.constants);
  let { values, unit } = result;
  if (options.unit !== undefined) {
    const target = parseUnit(options.unit);
    if (unit === null)
      throw new FormulaError(
        `the unit of this formula is unknown, so it cannot be given in ${displayUnit(target.symbol)}; ` +
          "say the units of its columns with .unit() or in the study's definition",
      );
    else {
      values = convertValues(values, unit, options.unit);
      unit = convertedUnit(parseUnit(unit), target);
    }
  }
  const fresh = { kind: "number" as const, name, unit, values };
  const columns = table.columns.some((c) => c.name === name)
    ? table.columns.map((c) => (c.name === name ? fresh : c))
    : [...table.columns, fresh];
  return { ...table, columns };
}

/** A name in a formula that is neither a column nor a constant nor meant as a unit. */
export function unknownNames(tree: FormulaTree, available: readonly string[]): string[] {
  return formulaNames(tree).filter((n) => !available.includes(n) && !tryParseUnit(n));
}

export { TableError };
