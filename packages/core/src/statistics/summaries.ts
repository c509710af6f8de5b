import { methodOf, missingRows } from "../tables/gaps.js";
import { missing, type Quantity } from "../tables/quantity.js";
import { RunningSum } from "../tables/sums.js";
import { makeTable, numberColumn, numbers, numbersOf, TableError, withColumns, type Table } from "../tables/table.js";
import { multiplyUnits, parseUnit, stepOf } from "../tables/units.js";
import { percentileOfSorted } from "./descriptive.js";
import { studentQuantile } from "./fits/student.js";
import { presentPairs } from "./groups/correlation.js";
import { moments } from "./moments.js";

/** Method and condition for what is missing of a column. */
function missingOf(name: string, values: Float64Array, how: string): Pick<Quantity, "method" | "conditions"> {
  const m = missingRows(name, values);
  return { ...methodOf(how, m.method), ...(m.conditions.length > 0 && { conditions: m.conditions }) };
}

/** The sum of the values present. @throws TableError for temperatures in °C or °F @example sum(rows, "coil_heat") */
export function sum(table: Table, name: string): Quantity {
  const c = numbers(table, name);
  if (stepOf(c.unit).ownZero)
    throw new TableError(
      `a sum of "${name}" in ${c.unit} has no meaning; convert to K first, with .to("${name}", "K")`,
    );
  const total = new RunningSum();
  let count = 0;
  for (const v of c.values)
    if (v === v) {
      total.add(v);
      count++;
    }
  if (count === 0)
    return missing(
      table.rows === 0 ? "the table has no rows" : `all ${table.rows} values of "${name}" are missing`,
      c.unit,
    );
  return { value: total.value, unit: c.unit, ...missingOf(name, c.values, `of ${count} values`) };
}

/**
 * The covariance of two columns over the rows that have both, with n−1 degrees of freedom. Unit: the product of both;
 * changes of temperatures count in K.
 *
 * @example covariance(rows, "fan", "peak")
 */
export function covariance(table: Table, first: string, second: string): Quantity {
  const [a, b] = [numbers(table, first), numbers(table, second)];
  const [u, v] = [stepOf(a.unit), stepOf(b.unit)];
  const unit = u.unit === null || v.unit === null ? null : multiplyUnits(parseUnit(u.unit), parseUnit(v.unit)).symbol;
  const [x, y] = presentPairs(a.values, b.values);
  const n = x.length;
  if (n < 2)
    return missing(`a covariance needs two rows with both values; there ${n === 1 ? "is one" : "are none"}`, unit);
  const mean = (w: Float64Array): number => {
    const s = new RunningSum();
    for (const value of w) s.add(value - w[0]!);
    return s.value / n;
  };
  const [mx, my] = [mean(x), mean(y)];
  const total = new RunningSum();
  for (let i = 0; i < n; i++) total.add((x[i]! - x[0]! - mx) * (y[i]! - y[0]! - my));
  const left = table.rows - n;
  return {
    value: (total.value / (n - 1)) * u.factor * v.factor,
    unit,
    ...methodOf(`unweighted over ${n} rows, n−1`, left > 0 ? `${left} of ${table.rows} rows lack a value` : undefined),
  };
}

/**
 * An end of the confidence interval of the mean: unweighted, of independent values, by Student's t. For histories,
 * whose neighbours are correlated, see {@link meanError}.
 *
 * @param confidence e.g. 0.95
 * @example meanInterval(rows, "peak", 0.95, "upper")
 */
export function meanInterval(table: Table, name: string, confidence: number, end: "lower" | "upper"): Quantity {
  const c = numbers(table, name);
  if (!(confidence > 0 && confidence < 1))
    throw new TableError(`confidence ${confidence}: it lies between 0 and 1, as 0.95`);
  const m = moments(c.values, 2);
  if (m.count < 2)
    return missing(
      `the interval of a mean needs two values of "${name}"; there ${m.count === 1 ? "is one" : "are none"}`,
      c.unit,
    );
  const error = Math.sqrt(m.m2 / (m.count - 1));
  const half = studentQuantile((1 + confidence) / 2, m.count - 1) * error;
  const how = `${100 * confidence} % interval of the mean, unweighted, Student's t with ${m.count - 1} degrees of freedom`;
  return { value: end === "lower" ? m.mean - half : m.mean + half, unit: c.unit, ...missingOf(name, c.values, how) };
}

/**
 * Several percentiles of a column: a row each, `percent` and the column; see {@link percentileOfSorted}.
 * @example percentiles(history, "T", [5, 50, 95])
 */
export function percentiles(table: Table, name: string, percents: readonly number[]): Table {
  const c = numbers(table, name);
  for (const p of percents)
    if (!(p >= 0 && p <= 100)) throw new TableError(`percentile ${p}: has to lie within 0 and 100`);
  const sorted = c.values.filter((v) => v === v).sort();
  const { method, conditions } = missingOf(
    name,
    c.values,
    "linear between order statistics (definition 7), unweighted",
  );
  const made = makeTable(
    [
      numberColumn("percent", "%", percents),
      numbersOf(percents, name, c.unit, (p) => percentileOfSorted(sorted, p), { label: c.label }),
    ],
    { axis: "percent", notes: [...table.notes, method!] },
  );
  return conditions ? { ...made, conditions } : made;
}

/** Adds the number of each row, from 1. @throws TableError when the name is taken @example numbered(rows, "row") */
export const numbered = (table: Table, name: string): Table =>
  withColumns(table, [
    ...table.columns,
    numberColumn(
      name,
      "1",
      Float64Array.from({ length: table.rows }, (_, i) => i + 1),
    ),
  ]);
