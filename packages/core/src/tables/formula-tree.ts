import { formatNumber } from "./number-format.js";
import { displayUnit } from "./units.js";

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

/** Functions by name, with the number of arguments they take (at least, at most). */
export const functions: Readonly<Record<string, readonly [number, number]>> = {
  sqrt: [1, 1],
  cbrt: [1, 1],
  abs: [1, 1],
  exp: [1, 1],
  log: [1, 1],
  log10: [1, 1],
  log2: [1, 1],
  sin: [1, 1],
  cos: [1, 1],
  tan: [1, 1],
  asin: [1, 1],
  acos: [1, 1],
  atan: [1, 1],
  atan2: [2, 2],
  sinh: [1, 1],
  cosh: [1, 1],
  tanh: [1, 1],
  sign: [1, 1],
  floor: [1, 1],
  ceil: [1, 1],
  round: [1, 1],
  min: [1, 16],
  max: [1, 16],
  hypot: [1, 16],
  pow: [2, 2],
  missing: [1, 1],
  first: [1, 1],
  last: [1, 1],
  mean: [1, 1],
  rms: [1, 1],
  std: [1, 1],
  range: [1, 1],
  integral: [1, 1],
  count: [1, 1],
  sum: [1, 1],
};

/** Functions that make one number of a whole column, where a value and not a column is asked for. */
export const reductions: ReadonlySet<string> = new Set([
  "first",
  "last",
  "mean",
  "rms",
  "std",
  "range",
  "integral",
  "count",
  "sum",
  "min",
  "max",
]);

/** The names a formula uses, in order of first use. */
export function formulaNames(tree: FormulaTree, into: string[] = []): string[] {
  if (tree.kind === "name") {
    if (!into.includes(tree.name)) into.push(tree.name);
  } else if (tree.kind === "call" || tree.kind === "if") for (const a of tree.args) formulaNames(a, into);
  return into;
}

const binary: ReadonlySet<string> = new Set([
  "+",
  "-",
  "*",
  "/",
  "^",
  "%",
  "<",
  "<=",
  ">",
  ">=",
  "==",
  "!=",
  "and",
  "or",
]);

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
