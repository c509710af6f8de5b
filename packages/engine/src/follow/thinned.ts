import { decimate } from "@oxtrum/core/charts";

/** A curve that was thinned, and how it goes on: what came since stands behind it as it is. */
export interface ThinnedSoFar {
  readonly x: Float64Array;
  readonly y: Float64Array;
  /** Rows of the whole curve when all of it was thinned, and now. */
  readonly whole: number;
  readonly rows: number;
  /** The last row that it has, by which it is known again. */
  readonly lastX: number;
  readonly lastY: number;
}

/** Rows that may come before all of a curve is thinned again: a twentieth of it. */
const PART = 20;
const same = (a: number, b: number): boolean => a === b || (a !== a && b !== b);

function joined(a: Float64Array, b: Float64Array): Float64Array {
  const out = new Float64Array(a.length + b.length);
  out.set(a);
  out.set(b, a.length);
  return out;
}

/**
 * A curve of so many points at most, and a few more: where only rows were appended to what was thinned before, these go
 * behind it as they are, so that a curve that grows costs what is new of it.
 *
 * @param before the same curve as it was; where its last row is not what it was, all of it is thinned anew
 */
export function thinnedOn(
  x: Float64Array,
  y: Float64Array,
  points: number,
  before: ThinnedSoFar | undefined,
): ThinnedSoFar {
  const rows = x.length;
  const last = { lastX: x[rows - 1] ?? Number.NaN, lastY: y[rows - 1] ?? Number.NaN };
  if (before && goesOn(x, y, before)) {
    const from = before.rows;
    return {
      ...last,
      rows,
      whole: before.whole,
      x: joined(before.x, x.subarray(from)),
      y: joined(before.y, y.subarray(from)),
    };
  }
  return { ...decimate(x, y, Math.floor(points / 4)), rows, whole: rows, ...last };
}

function goesOn(x: Float64Array, y: Float64Array, before: ThinnedSoFar): boolean {
  const at = before.rows - 1;
  if (at < 0 || x.length < before.rows || x.length - before.whole > before.whole / PART) return false;
  if (!same(x[at]!, before.lastX) || !same(y[at]!, before.lastY)) return false;
  // Where x steps back a curve is not thinned at all.
  for (let i = before.rows; i < x.length; i++) if (!(x[i]! >= x[i - 1]!)) return false;
  return true;
}
