import { decimate } from "@oxtrum/core/charts";

/** A curve that was thinned, and how it goes on: what came since stands behind it as it is. */
export interface ThinnedSoFar {
  readonly x: Float64Array;
  readonly y: Float64Array;
  /** Rows of the whole curve when all of it was thinned, and now. */
  readonly whole: number;
  readonly rows: number;
  /** By which all rows so far are known again: of their x, and of their y. */
  readonly digests: readonly [x: number, y: number];
}

/** Rows that may come before all of a curve is thinned again: a twentieth of it. */
const PART = 20;

/** A digest of the bits of so many numbers (Fowler, Noll, Vo 1a, word by word), going on from another one. */
function digest(values: Float64Array, from: number, to: number, start: number): number {
  const words = new Int32Array(values.buffer, values.byteOffset, 2 * values.length);
  let h = start;
  for (let i = 2 * from; i < 2 * to; i++) h = Math.imul(h ^ words[i]!, 16777619);
  return h;
}
const SEED = 0x811c9dc5 | 0;

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
 * @param before the same curve as it was; where any of its rows is not what it was, all of it is thinned anew
 */
export function thinnedOn(
  x: Float64Array,
  y: Float64Array,
  points: number,
  before: ThinnedSoFar | undefined,
): ThinnedSoFar {
  const rows = x.length;
  const known = before && before.rows <= rows ? before.rows : 0;
  const early = [digest(x, 0, known, SEED), digest(y, 0, known, SEED)] as const;
  const digests = [digest(x, known, rows, early[0]), digest(y, known, rows, early[1])] as const;
  const isSame = known > 0 && before!.digests[0] === early[0] && before!.digests[1] === early[1];
  if (!isSame || rows - before!.whole > before!.whole / PART || !rises(x, known))
    return { ...decimate(x, y, Math.floor(points / 4)), rows, whole: rows, digests };
  return {
    x: joined(before!.x, x.subarray(known)),
    y: joined(before!.y, y.subarray(known)),
    rows,
    whole: before!.whole,
    digests,
  };
}

/** Whether x goes on rising from a row on: where it steps back a curve is not thinned at all. */
function rises(x: Float64Array, from: number): boolean {
  for (let i = from; i < x.length; i++) if (!(x[i]! >= x[i - 1]!)) return false;
  return true;
}
