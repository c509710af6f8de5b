import { evaluateFormula } from "../tables/formula.js";
import { FormulaError, formulaNames, formulaText, reductions, type FormulaTree } from "../tables/formula-tree.js";
import { integral } from "../tables/calculus.js";
import { mergeConditions, type Condition } from "../tables/condition.js";
import { methodOf } from "../tables/gaps.js";
import { missing, type Quantity } from "../tables/quantity.js";
import { rowValue } from "../tables/resample.js";
import { numberColumn, type Table, type UnitSymbol } from "../tables/table.js";
import { stepOf } from "../tables/units.js";
import { sum } from "./summaries.js";
import { count, max, mean, min, rms, std } from "./descriptive.js";

type Constants = Readonly<Record<string, { readonly value: number; readonly unit: UnitSymbol }>>;

const COLUMN = "the value";

function reduced(fn: string, table: Table, name: string): Quantity {
  if (fn === "first" || fn === "last") return rowValue(table, name, fn);
  if (fn === "count") return count(table, name);
  if (fn === "max") return max(table, name);
  if (fn === "min") return min(table, name);
  if (fn === "mean") return mean(table, name);
  if (fn === "rms") return rms(table, name);
  if (fn === "std") return std(table, name);
  if (fn === "sum") return sum(table, name);
  if (fn === "integral") return integral(table, name);
  const [low, high] = [min(table, name), max(table, name)];
  if (high.reason !== undefined) return high;
  const step = stepOf(high.unit);
  return { value: (high.value - low.value) * step.factor, unit: step.unit };
}

/**
 * A number from a table by a formula in which `first`, `last`, `min`, `max`, `range`, `mean`, `rms`, `std`, `integral`
 * and `count` take a whole column, or a formula of columns. Means are weighted along the table's axis.
 *
 * @throws FormulaError for a column outside of these, or units that do not agree
 * @example reduceFormula(history, parseFormula("range(T_mean) / mean(abs(T_max - T_mean))"))
 */
export function reduceFormula(table: Table, tree: FormulaTree, constants: Constants = {}): Quantity {
  const found: Record<string, { value: number; unit: UnitSymbol }> = { ...constants };
  let reason: string | undefined;
  const conditions: (readonly Condition[] | undefined)[] = [];
  const methods = new Set<string>();
  const walk = (t: FormulaTree): FormulaTree => {
    if (t.kind === "call" && t.args.length === 1 && reductions.has(t.fn)) {
      const { values, unit } = evaluateFormula(t.args[0]!, table, constants);
      const axis = table.axis === undefined ? undefined : table.columns.find((c) => c.name === table.axis);
      const one: Table = {
        columns: [...(axis ? [axis] : []), numberColumn(COLUMN, unit, values)],
        rows: table.rows,
        ...(axis && { axis: axis.name }),
        notes: [],
      };
      // A column as it is goes by its own name: along the axis itself nothing is weighed.
      const inner = t.args[0]!;
      const q =
        inner.kind === "name" &&
        !Object.hasOwn(constants, inner.name) &&
        table.columns.some((c) => c.kind === "number" && c.name === inner.name)
          ? reduced(t.fn, table, inner.name)
          : reduced(t.fn, one, COLUMN);
      reason ??= q.reason;
      conditions.push(q.conditions);
      if (q.method !== undefined) methods.add(q.method);
      // By its own text, so that a message about units can name it.
      const name = `${formulaText(t)}${Object.hasOwn(constants, formulaText(t)) ? " of the column" : ""}`;
      found[name] = { value: q.value, unit: q.unit };
      return { kind: "name", name };
    }
    if (t.kind === "call") return { ...t, args: t.args.map(walk) };
    if (t.kind === "if") return { ...t, args: t.args.map(walk) as [FormulaTree, FormulaTree, FormulaTree] };
    return t;
  };
  const outer = walk(tree);
  const loose = formulaNames(outer).find((n) => !Object.hasOwn(found, n));
  if (loose !== undefined)
    throw new FormulaError(
      `"${loose}" stands for a whole column; say which number of it: last(${loose}), max(${loose}), mean(${loose}) …`,
    );
  const { values, unit } = evaluateFormula(outer, { columns: [], rows: 1, notes: [] }, found);
  const value = values[0]!;
  if (reason !== undefined || value !== value) return missing(reason ?? "the formula gives no number", unit);
  const merged = mergeConditions(...conditions);
  return { value, unit, ...methodOf(...methods), ...(merged.length > 0 && { conditions: merged }) };
}
