import type { Condition } from "./condition.js";
import { formatNumber } from "./number-format.js";
import { countPresent } from "./sums.js";

/**
 * The rule for missing values (NaN). Reductions over rows (min, max, percentile, std, sum, unweighted mean) use the
 * values that are there and say how many are missing. What runs along an axis (integral, cumulative integral, weighted
 * mean and std, time above a limit) does not bridge a gap: a step with a missing end contributes nothing, and the share
 * of the axis that is missing is a condition, which leaves a check undecided.
 */

/** Method and condition of a reduction over rows of which some are missing; nothing when all are there. */
export function missingRows(name: string, values: Float64Array): { method: string; conditions: readonly Condition[] } {
  const count = values.length - countPresent(values);
  if (count === 0) return { method: "", conditions: [] };
  const text = `${count} of ${values.length} values of "${name}" missing`;
  return { method: text, conditions: [{ kind: "missing values", file: "", text }] };
}

/** The condition that steps along an axis have no value: `missing` of a length of `total`, both in the axis's unit. */
export function gapCondition(name: string, axis: string, steps: number, missing: number, total: number): Condition {
  const percent = formatNumber((100 * missing) / total, 3);
  const text = `${percent} % of "${axis}" has no value of "${name}" (${steps} step${steps === 1 ? "" : "s"}) and contributes nothing`;
  return { kind: "gap", file: "", text };
}

/** Joins parts of a method, without the empty ones. */
export const methodOf = (...parts: readonly (string | undefined)[]): { method?: string } => {
  const text = parts.filter((p) => p !== undefined && p !== "").join(", ");
  return text === "" ? {} : { method: text };
};
