import { axisOf, numbers, TableError, withColumns, type NumberColumn, type Table, type UnitSymbol } from "./table.js";
import { direction } from "./order.js";
import { mergeConditions, type Condition } from "./condition.js";
import { gapCondition } from "./gaps.js";
import { pairwiseSum } from "./sums.js";
import { missing, type Quantity } from "./quantity.js";
import { divideUnits, multiplyUnits, parseUnit, stepOf } from "./units.js";

/** The unit of an integral, and what a step of the axis counts in it: 5/9 K along °F. */
function product(y: UnitSymbol, x: UnitSymbol): { unit: UnitSymbol; factor: number } {
  const { unit, factor } = stepOf(x);
  return { unit: y === null || unit === null ? null : multiplyUnits(parseUnit(y), parseUnit(unit)).symbol, factor };
}

/** The axis, refused when it runs back and forth: an integral over it would count stretches twice. */
function monotonic(table: Table, axis: string | undefined, what: string): NumberColumn {
  const x = axisOf(table, axis);
  if (direction(x.values) === "mixed")
    throw new TableError(`${what} along "${x.name}": it runs back and forth; sort the rows or keep one pass first`);
  return x;
}

/** The length of the steps without a value at both ends, and that of all, along an axis. */
export function stepsWithout(x: Float64Array, y: Float64Array): { steps: number; missing: number; total: number } {
  let steps = 0;
  let without = 0;
  let total = 0;
  for (let i = 0; i + 1 < x.length; i++) {
    const h = Math.abs(x[i + 1]! - x[i]!);
    if (h === h) total += h;
    if (y[i]! + y[i + 1]! === y[i]! + y[i + 1]!) continue;
    steps++;
    if (h === h) without += h;
  }
  return { steps, missing: without, total };
}

/** The condition of a column whose steps along an axis are not all there; none when they are. */
export function gapsAlong(name: string, axis: NumberColumn, y: Float64Array): readonly Condition[] {
  const { steps, missing: without, total } = stepsWithout(axis.values, y);
  return steps === 0 ? [] : [gapCondition(name, axis.name, steps, without, total)];
}

/**
 * The integral of a column over an axis by the trapezoidal rule, uneven steps allowed.
 *
 * It runs along the rising axis, whichever way the rows are listed. Steps with a missing end contribute nothing; the
 * `method` says how many, and a condition which share of the axis they are. Unit: the product of both units.
 */
export function integral(table: Table, name: string, axis?: string): Quantity {
  const y = numbers(table, name);
  const x = monotonic(table, axis, "integral");
  const { unit, factor } = product(y.unit, x.unit);
  if (table.rows < 2)
    return missing(`an integral needs two rows; there ${table.rows === 1 ? "is one" : "are none"}`, unit);
  let gaps = 0;
  const value = pairwiseSum((i) => {
    const step = Math.abs(x.values[i + 1]! - x.values[i]!) * 0.5 * (y.values[i]! + y.values[i + 1]!);
    if (step === step) return step;
    gaps++;
    return 0;
  }, table.rows - 1);
  if (gaps === table.rows - 1) return missing(`all values of "${name}" are missing`, unit);
  return {
    value: value * factor,
    unit,
    method: `trapezoidal over "${x.name}"${gaps ? `, ${gaps} of ${table.rows - 1} steps without a value` : ""}`,
    ...(gaps > 0 && { conditions: gapsAlong(name, x, y.values) }),
  };
}

/**
 * Adds `${name}.integral`: the running trapezoidal integral from the start of the rising axis. A row without a value
 * has none; the steps beside it contribute nothing to the rows behind it, which a condition says.
 */
export function cumulative(table: Table, name: string, axis?: string): Table {
  const y = numbers(table, name);
  const x = monotonic(table, axis, "integral");
  const { unit, factor } = product(y.unit, x.unit);
  const values = new Float64Array(table.rows);
  const falls = direction(x.values) === "falling";
  const row = (k: number): number => (falls ? table.rows - 1 - k : k);
  let sum = 0;
  let carry = 0;
  if (table.rows > 0 && !(y.values[row(0)] === y.values[row(0)])) values[row(0)] = Number.NaN;
  for (let k = 1; k < table.rows; k++) {
    const i = row(k);
    const before = row(k - 1);
    const step = (x.values[i]! - x.values[before]!) * 0.5 * (y.values[i]! + y.values[before]!);
    if (step === step) {
      // Compensated addition (Neumaier 1974), so that long histories do not drift.
      const next = sum + step;
      carry += Math.abs(sum) >= Math.abs(step) ? sum - next + step : step - next + sum;
      sum = next;
    }
    values[i] = y.values[i] === y.values[i] ? (sum + carry) * factor : Number.NaN;
  }
  const conditions = mergeConditions(table.conditions, gapsAlong(name, x, y.values));
  const done = withColumns(table, [...table.columns, { kind: "number", name: `${name}.integral`, unit, values }]);
  return conditions.length > 0 ? { ...done, conditions } : done;
}

/**
 * Adds `${name}.rate`: the derivative along the axis, second order inside on uneven steps, also at the two ends.
 *
 * Source: B. Fornberg, "Generation of finite difference formulas on arbitrarily spaced grids", Math. Comp. 51 (1988),
 * for three points.
 */
export function derivative(table: Table, name: string, axis?: string): Table {
  const y = numbers(table, name);
  const x = monotonic(table, axis, "derivative");
  const n = table.rows;
  const values = new Float64Array(n).fill(Number.NaN);
  const [dy, dx] = [stepOf(y.unit), stepOf(x.unit)];
  const unit = dy.unit === null || dx.unit === null ? null : divideUnits(parseUnit(dy.unit), parseUnit(dx.unit)).symbol;
  const scale = dy.factor / dx.factor;
  const slope = (i: number, j: number): number => (y.values[j]! - y.values[i]!) / (x.values[j]! - x.values[i]!);
  if (n === 2) values.fill(slope(0, 1));
  for (let i = 1; i < n - 1; i++) {
    const h0 = x.values[i]! - x.values[i - 1]!;
    const h1 = x.values[i + 1]! - x.values[i]!;
    values[i] = (h1 * slope(i - 1, i) + h0 * slope(i, i + 1)) / (h0 + h1);
  }
  if (n > 2) {
    const end = (a: number, b: number, c: number): number => {
      const h0 = x.values[b]! - x.values[a]!;
      const h1 = x.values[c]! - x.values[b]!;
      return ((2 * h0 + h1) * slope(a, b) - h0 * slope(b, c)) / (h0 + h1);
    };
    values[0] = end(0, 1, 2);
    values[n - 1] = end(n - 1, n - 2, n - 3);
  }
  if (scale !== 1) for (let i = 0; i < n; i++) values[i]! *= scale;
  return withColumns(table, [...table.columns, { kind: "number", name: `${name}.rate`, unit, values }]);
}
