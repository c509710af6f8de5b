import { axisOf, numbers, type Table } from "../../tables/table.js";
import { formatNumber } from "../../tables/number-format.js";
import { missing, type Quantity } from "../../tables/quantity.js";
import { stepOf } from "../../tables/units.js";
import { fourier } from "./fourier.js";
import { evenRows, presentRows } from "./rows.js";

/**
 * Where the steady part of a column begins: the place at which cutting off what lies before makes the mean of the rest
 * best known (least marginal standard error; K. P. White, "An effective truncation heuristic for bias reduction in
 * simulation output", Simulation 69, 1997). Rows count alike. Missing, with the reason, when that place lies in the
 * second half: then the column still changes.
 *
 * @example steadyFrom(history, "force")
 */
export function steadyFrom(table: Table, name: string): Quantity {
  const p = presentRows(table, name);
  const { unit } = p.axis;
  const n = p.y.length;
  if (n < 10) return missing(`"${name}" has ${n} values; the steady part needs ten`, unit);
  // From the end towards the start: mean and sum of squares of the rest, one value more at a time (Welford 1962).
  let mean = 0;
  let squares = 0;
  let best = n - 1;
  let least = Infinity;
  for (let i = n - 1, k = 1; i >= 0; i--, k++) {
    const d = p.y[i]! - mean;
    mean += d / k;
    squares += d * (p.y[i]! - mean);
    if (k >= 5 && squares / (k * k) <= least) [least, best] = [squares / (k * k), i];
  }
  if (best > n / 2)
    return missing(`"${name}" is not steady: it still changes in the second half (from ${p.x[best]!} on)`, unit);
  return {
    value: p.x[best]!,
    unit,
    method: `least marginal standard error (White 1997), ${n - best} of ${n} rows are steady`,
  };
}

/** The mean of correlated values: how well it is known. */
export interface CorrelatedMean {
  /** Standard error of the mean. */
  readonly error: number;
  /** The number of steps over which values are correlated: 1 for independent ones. */
  readonly steps: number;
  /** How many independent values the column is worth. */
  readonly independent: number;
}

const LONGEST = 1 << 20;

/**
 * The standard error of the mean of an even series whose neighbours are correlated: σ √(2τ/n), with τ = ½ + Σ ρ(k)
 * summed up to the first k ≥ 5τ (A. Sokal, "Monte Carlo methods in statistical mechanics", 1997, ch. 3). Longer series
 * are averaged in blocks first, which leaves the mean as it is.
 */
export function correlatedMean(values: Float64Array): CorrelatedMean {
  const block = Math.ceil(values.length / LONGEST);
  const n = Math.floor(values.length / block);
  const v =
    block === 1
      ? values
      : Float64Array.from(
          { length: n },
          (_, i) => values.subarray(i * block, (i + 1) * block).reduce((s, x) => s + x, 0) / block,
        );
  let mean = 0;
  for (let i = 0; i < n; i++) mean += (v[i]! - v[0]!) / n;
  mean += v[0]!;
  let size = 1;
  while (size < 2 * n) size *= 2;
  const re = new Float64Array(size);
  const im = new Float64Array(size);
  for (let i = 0; i < n; i++) re[i] = v[i]! - mean;
  fourier(re, im);
  for (let i = 0; i < size; i++) {
    re[i] = re[i]! ** 2 + im[i]! ** 2;
    im[i] = 0;
  }
  // The power spectrum is even: transforming it once more gives the correlation, times the size.
  fourier(re, im);
  const zero = re[0]! / size / n;
  if (!(zero > 0)) return { error: 0, steps: block, independent: n };
  let tau = 0.5;
  let k = 1;
  for (; k < n && k < 5 * tau; k++) tau += re[k]! / size / (zero * n);
  const variance = (zero * n) / (n - 1);
  const steps = Math.max(2 * tau, 1 / n);
  return { error: Math.sqrt((variance * steps) / n), steps: steps * block, independent: n / steps };
}

/**
 * The standard error of a column's mean, allowing for correlation along the axis; see {@link correlatedMean}.
 * @throws TableError for uneven steps or gaps
 * @example meanError(history, "force")
 */
export function meanError(table: Table, name: string): Quantity {
  const c = numbers(table, name);
  const { unit, factor } = stepOf(c.unit);
  if (table.rows < 16)
    return missing(`"${name}" has ${table.rows} values; the error of a correlated mean needs 16`, unit);
  const { values, axis } = evenRows(table, name, "the error of a correlated mean", 16);
  const m = correlatedMean(values);
  if (m.independent < 10)
    return missing(
      `"${name}" is worth ${formatNumber(m.independent, 2)} independent values over "${axis.name}": too ` +
        "few to say how well its mean is known",
      unit,
    );
  return {
    value: m.error * factor,
    unit,
    method:
      `worth ${formatNumber(m.independent, 4)} independent values of ${table.rows} ` +
      `(correlated over ${formatNumber(m.steps, 4)} steps)`,
  };
}

/**
 * The length along the axis over which values are correlated: twice the integral of the correlation.
 * @example correlationLength(history, "force")
 */
export function correlationLength(table: Table, name: string): Quantity {
  const { unit } = axisOf(table);
  if (table.rows < 16) return missing(`"${name}" has ${table.rows} values; a correlation needs 16`, unit);
  const { values, step } = evenRows(table, name, "a correlation", 16);
  return {
    value: correlatedMean(values).steps * step,
    unit,
    method: "twice the integral of the correlation, summed up to five times it (Sokal 1997)",
  };
}
