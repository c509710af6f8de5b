import { decimate } from "@oxtrum/core/charts";

/** A curve that was thinned, and how it goes on: what came since stands behind it as it is. */
export interface ThinnedSoFar {
  readonly x: Float64Array;
  readonly y: Float64Array;
  /** Rows of the whole curve when all of it was thinned. */
  readonly whole: number;
  /** All rows so far, by which they are known again. */
  readonly rows: Rows;
}

interface Rows {
  readonly x: Float64Array;
  readonly y: Float64Array;
  /** The last row as it was: of a log it may change where it is. */
  readonly last: readonly [x: number, y: number];
}

/** Rows that may come before all of a curve is thinned again: a twentieth of it. */
const PART = 20;

function joined(a: Float64Array, b: Float64Array): Float64Array {
  const out = new Float64Array(a.length + b.length);
  out.set(a);
  out.set(b, a.length);
  return out;
}

/** Whether values begin with those of before: they lie where those lay, or are the same one by one. */
function goesOn(before: Float64Array, now: Float64Array): boolean {
  if (before.length > now.length) return false;
  if (before.buffer === now.buffer && before.byteOffset === now.byteOffset) return true;
  for (let i = 0; i < before.length; i++) if (!Object.is(before[i], now[i])) return false;
  return true;
}

/**
 * A curve of so many points at most, and a few more: where only rows were appended to what was thinned before, these go
 * behind it as they are, so that a curve that grows costs what is new of it.
 *
 * @param x all rows; memory in which rows but the last one never change, and others may follow
 * @param before the same curve as it was; where any of its rows is not what it was, all of it is thinned anew
 */
export function thinnedOn(
  x: Float64Array,
  y: Float64Array,
  points: number,
  before: ThinnedSoFar | undefined,
): ThinnedSoFar {
  const n = x.length;
  const rows: Rows = { x, y, last: [x[n - 1] ?? Number.NaN, y[n - 1] ?? Number.NaN] };
  if (
    !before ||
    !isMore(before.rows, rows) ||
    n - before.whole > before.whole / PART ||
    !rises(x, before.rows.x.length)
  )
    return { ...decimate(x, y, Math.floor(points / 4)), rows, whole: n };
  const known = before.rows.x.length;
  return {
    x: joined(before.x, x.subarray(known)),
    y: joined(before.y, y.subarray(known)),
    rows,
    whole: before.whole,
  };
}

/** Whether rows are those of before and more. */
function isMore(before: Rows, now: Rows): boolean {
  const known = before.x.length;
  return (
    known > 0 &&
    goesOn(before.x, now.x) &&
    goesOn(before.y, now.y) &&
    Object.is(now.x[known - 1], before.last[0]) &&
    Object.is(now.y[known - 1], before.last[1])
  );
}

/** Whether x goes on rising from a row on: where it steps back a curve is not thinned at all. */
function rises(x: Float64Array, from: number): boolean {
  for (let i = from; i < x.length; i++) if (!(x[i]! >= x[i - 1]!)) return false;
  return true;
}
