/** Units in the last place by which a number may be off after a conversion from another unit. */
const ULPS = 8;

/**
 * Whether two numbers are the same but for the rounding of a conversion: 8.2 min in seconds is 491.99999999999994. The
 * one rule for bounds, places on axes and limits, wherever a unit was converted.
 */
export const nearly = (a: number, b: number): boolean =>
  a === b || Math.abs(a - b) <= ULPS * Number.EPSILON * Math.max(Math.abs(a), Math.abs(b));

/** The different ones among sorted numbers: those that only the rounding of a conversion keeps apart are one. */
export function distinct(sorted: Float64Array): Float64Array {
  const out: number[] = [];
  for (const v of sorted) if (v === v && (out.length === 0 || !nearly(out[out.length - 1]!, v))) out.push(v);
  return Float64Array.from(out);
}
