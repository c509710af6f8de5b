import { createRequire } from "node:module";
import path from "node:path";
import type { MathNode } from "mathjs";
import { formatNumber } from "./number-format.js";
import { displayUnit, tryParseUnit } from "./units.js";

/**
 * A formula as plain data: what enters cache keys and is sent to workers.
 *
 * `name` is a column or a quantity; `literal` a number with the unit written behind it.
 */
export type FormulaTree =
  | { readonly kind: "number"; readonly value: number }
  | { readonly kind: "literal"; readonly value: number; readonly unit: string }
  | { readonly kind: "name"; readonly name: string }
  | { readonly kind: "call"; readonly fn: string; readonly args: readonly FormulaTree[] }
  | { readonly kind: "if"; readonly args: readonly [FormulaTree, FormulaTree, FormulaTree] };

/** A formula that cannot be read, or whose units do not go together. */
export class FormulaError extends Error {
  override readonly name = "FormulaError";
}

type Parse = (text: string) => MathNode;
let loaded: Parse | undefined;

/** The parser is large and few threads need it: it is loaded with the first formula. */
function parser(): Parse {
  if (loaded) return loaded;
  // By file: the package's own front door loads all of its functions, three times as much as the parser needs.
  const load = createRequire(import.meta.url);
  const folder = path.dirname(load.resolve("mathjs/number"));
  const { parseDependencies } = load(path.join(folder, "entry/dependenciesNumber/dependenciesParse.generated.js")) as {
    parseDependencies: unknown;
  };
  const { create } = load(path.join(folder, "core/create.js")) as { create: (d: unknown) => { parse: Parse } };
  return (loaded = create({ parseDependencies }).parse);
}

/** Functions by name, with the number of arguments they take (at least, at most). */
export const functions: Readonly<Record<string, readonly [number, number]>> = {
  sqrt: [1, 1], cbrt: [1, 1], abs: [1, 1], exp: [1, 1], log: [1, 1], log10: [1, 1], log2: [1, 1], sin: [1, 1], cos: [1, 1], tan: [1, 1],
  asin: [1, 1], acos: [1, 1], atan: [1, 1], atan2: [2, 2], sinh: [1, 1], cosh: [1, 1], tanh: [1, 1], sign: [1, 1], floor: [1, 1],
  ceil: [1, 1], round: [1, 1], min: [1, 16], max: [1, 16], hypot: [1, 16], pow: [2, 2], missing: [1, 1],
  first: [1, 1], last: [1, 1], mean: [1, 1], rms: [1, 1], std: [1, 1], range: [1, 1], integral: [1, 1], count: [1, 1],
}; // prettier-ignore

/** Functions that make one number of a whole column, where a value and not a column is asked for. */
export const reductions: ReadonlySet<string> = new Set(["first", "last", "mean", "rms", "std", "range", "integral", "count", "sum", "min", "max"]); // prettier-ignore

const operators: Readonly<Record<string, string>> = {
  add: "+", subtract: "-", multiply: "*", divide: "/", pow: "^", unaryMinus: "neg", unaryPlus: "pos", mod: "%", smaller: "<", smallerEq: "<=",
  larger: ">", largerEq: ">=", equal: "==", unequal: "!=", and: "and", or: "or", not: "not",
}; // prettier-ignore

const cache = new Map<string, FormulaTree>();

/**
 * Reads a formula. Columns are written by name, or `col("a name with blanks")`; a unit may stand behind a number.
 *
 * @throws FormulaError with the place of the mistake.
 * @example parseFormula("sqrt(Fx^2 + Fy^2)")
 * @example parseFormula("T > 280 K and time < 20 min")
 */
export function parseFormula(text: string): FormulaTree {
  const known = cache.get(text);
  if (known) return known;
  if (text.length > 2000) throw new FormulaError(`formula of ${text.length} characters is too long (2000 at most)`);
  const units: string[] = [];
  let node: MathNode;
  try {
    node = parser()(withUnits(text, units));
  } catch (e) {
    throw new FormulaError(`formula "${text}": ${(e as Error).message}`);
  }
  const tree = toTree(node, text, units);
  if (cache.size < 2000) cache.set(text, tree);
  return tree;
}

interface LooseNode {
  type: string;
  value?: unknown;
  name?: string;
  fn?: { name?: string } | string;
  args?: LooseNode[];
  content?: LooseNode;
  object?: LooseNode;
  index?: { dimensions: LooseNode[] };
  condition?: LooseNode;
  trueExpr?: LooseNode;
  falseExpr?: LooseNode;
  implicit?: boolean;
  conditionals?: string[];
  params?: LooseNode[];
}

function toTree(given: MathNode, text: string, units: readonly string[]): FormulaTree {
  const fail = (what: string): never => {
    throw new FormulaError(`formula "${text}": ${what}`);
  };
  const walk = (n: LooseNode, depth: number): FormulaTree => {
    if (depth > 100) return fail("nested too deeply");
    const next = (m: LooseNode): FormulaTree => walk(m, depth + 1);
    switch (n.type) {
      case "ConstantNode":
        return typeof n.value === "number"
          ? { kind: "number", value: n.value }
          : fail(`${JSON.stringify(n.value)} is not a number`);
      case "SymbolNode":
        return n.name === "pi" ? { kind: "number", value: Math.PI } : { kind: "name", name: n.name! };
      case "ParenthesisNode":
        return next(n.content!);
      case "AccessorNode":
        return { kind: "name", name: dotted(n, fail) };
      case "ConditionalNode":
        return { kind: "if", args: [next(n.condition!), next(n.trueExpr!), next(n.falseExpr!)] };
      case "RelationalNode":
        return fail("chained comparisons; join two with and");
      case "OperatorNode": {
        const unit = n.implicit ? literal(n, units) : undefined;
        if (unit) return unit;
        const op = operators[n.fn as string] ?? fail(`the operator ${String(n.fn)} is not available`);
        return { kind: "call", fn: op, args: n.args!.map(next) };
      }
      case "FunctionNode": {
        const name = typeof n.fn === "string" ? n.fn : (n.fn?.name ?? "");
        if (name === "col") {
          const only = n.args![0];
          return n.args!.length === 1 && typeof only?.value === "string"
            ? { kind: "name", name: only.value }
            : fail('col takes one name, as in col("T mean")');
        }
        const arity = Object.hasOwn(functions, name)
          ? functions[name]!
          : fail(`there is no function "${name}"; there are ${Object.keys(functions).join(", ")}`);
        if (n.args!.length < arity[0] || n.args!.length > arity[1])
          fail(
            `${name} takes ${arity[0] === arity[1] ? arity[0] : `${arity[0]} to ${arity[1]}`} values, not ${n.args!.length}`,
          );
        return { kind: "call", fn: name === "pow" ? "^" : name, args: n.args!.map(next) };
      }
      default:
        return fail(`${n.type.replace(/Node$/, "").toLowerCase()} has no place in a formula`);
    }
  };
  return walk(given as unknown as LooseNode, 0);
}

function dotted(n: LooseNode, fail: (what: string) => never): string {
  const object =
    n.object!.type === "SymbolNode"
      ? n.object!.name!
      : n.object!.type === "AccessorNode"
        ? dotted(n.object!, fail)
        : fail("a dot follows what is not a name");
  const key = n.index?.dimensions[0]?.value;
  return typeof key === "string" ? `${object}.${key}` : fail("only names stand behind a dot");
}

/** `280 K`, `9.81 m/s^2` is parsed as products and quotients: a number times a name that is a unit. */
function literal(n: LooseNode, units: readonly string[]): FormulaTree | undefined {
  const [a, b] = n.args!;
  if (a?.type !== "ConstantNode" || typeof a.value !== "number" || b?.type !== "SymbolNode") return undefined;
  const unit = b.name!.startsWith(STAND_IN) ? units[Number(b.name!.slice(STAND_IN.length))]! : b.name!;
  return tryParseUnit(unit) ? { kind: "literal", value: a.value, unit } : undefined;
}

const STAND_IN = "unit_of_a_number_";
const number = "(?<![\\w.)])(?:\\d+\\.?\\d*|\\.\\d+)(?:[eE][+-]?\\d+)?";
const part = "[A-Za-zµμ°Ω%]+(?:\\^-?\\d+(?:\\.\\d+)?)?";
const composed = new RegExp(`(${number})(\\s*)((?:${part}|1)(?:/(?:${part}|\\((?:${part}[ ·*]?)+\\))|·${part})+)(?![\\w(])`, "g"); // prettier-ignore

/**
 * Units of several parts that stand behind a number without blanks, as in `10 m/s`, become one name: read as an expression they
 * would divide by whatever is called `s`. With blanks around the stroke, as in `10 m / s`, it is a division.
 */
function withUnits(text: string, units: string[]): string {
  return text.replace(composed, (all, value: string, gap: string, unit: string) =>
    tryParseUnit(unit) ? `${value}${gap === "" ? " " : gap}${STAND_IN}${units.push(unit) - 1}` : all,
  );
}

/** The names a formula uses, in order of first use. */
export function formulaNames(tree: FormulaTree, into: string[] = []): string[] {
  if (tree.kind === "name") {
    if (!into.includes(tree.name)) into.push(tree.name);
  } else if (tree.kind === "call" || tree.kind === "if") for (const a of tree.args) formulaNames(a, into);
  return into;
}

const binary: ReadonlySet<string> = new Set(Object.values(operators).filter((o) => o !== "neg" && o !== "pos" && o !== "not")); // prettier-ignore

/** A formula as text, for messages. @example formulaText(parseFormula("sqrt(a) + 5 K")) // "sqrt(a) + 5 K" */
export function formulaText(tree: FormulaTree, within = false): string {
  switch (tree.kind) {
    case "number":
      return formatNumber(tree.value);
    case "literal":
      return `${formatNumber(tree.value)} ${displayUnit(tree.unit)}`;
    case "name":
      return tree.name;
    default: {
      const [a, b, c] = tree.args.map((t) => formulaText(t, true));
      let text: string;
      if (tree.kind === "if") text = `${a} ? ${b} : ${c}`;
      else if (binary.has(tree.fn)) text = `${a} ${tree.fn} ${b}`;
      else if (tree.fn === "neg" || tree.fn === "pos" || tree.fn === "not")
        return `${tree.fn === "not" ? "not " : tree.fn === "neg" ? "-" : "+"}${a}`;
      else return `${tree.fn}(${tree.args.map((t) => formulaText(t)).join(", ")})`;
      return within ? `(${text})` : text;
    }
  }
}
