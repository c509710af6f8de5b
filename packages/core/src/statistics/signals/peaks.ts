import { makeTable, numbersOf, type Table } from "../../tables/table.js";
import { stepOf } from "../../tables/units.js";
import { gapNote, presentRows } from "./rows.js";

export interface PeakOptions {
  /** Only peaks at or above this value. */
  readonly above?: number | undefined;
  /** Only peaks that stand out by so much. */
  readonly prominence?: number | undefined;
  /** Of peaks nearer than this on the axis only the higher stays. */
  readonly apart?: number | undefined;
}

/**
 * The peaks of a column along its axis: rows higher than both sides (of a flat top the middle row), with their
 * prominence – how far one has to go down before going up to something higher – and their width at half of it, between
 * rows by straight lines. Columns: the axis, the column, `name.prominence`, `name.width`. The two ends are not peaks.
 *
 * @example peaks(history, "level", { prominence: 0.01 })
 */
export function peaks(table: Table, name: string, options: PeakOptions = {}): Table {
  const p = presentRows(table, name);
  const { x, y } = p;
  const before = lowsBefore(y);
  const after = lowsBefore(y.slice().reverse()).reverse();
  let found = tops(y).map((i) => {
    const prominence = y[i]! - Math.max(before[i]!, after[i]!);
    return { i, prominence, width: widthAt(x, y, i, y[i]! - prominence / 2) };
  });
  if (options.above !== undefined) found = found.filter((k) => y[k.i]! >= options.above!);
  if (options.prominence !== undefined) found = found.filter((k) => k.prominence >= options.prominence!);
  if (options.apart !== undefined) found = spaced(found, x, y, options.apart);
  const { unit } = p.column;
  const rise = stepOf(unit);
  const rules = Object.entries(options)
    .filter(([, v]) => v !== undefined)
    .map(([k, v]) => `${k} ${String(v)}`);
  return makeTable(
    [
      numbersOf(found, p.axis.name, p.axis.unit, (k) => x[k.i]!),
      numbersOf(found, name, unit, (k) => y[k.i]!, { label: p.column.label }),
      numbersOf(found, `${name}.prominence`, rise.unit, (k) => k.prominence * rise.factor),
      numbersOf(found, `${name}.width`, p.axis.unit, (k) => k.width),
    ],
    {
      axis: p.axis.name,
      notes: [
        ...table.notes,
        `${found.length} peaks of "${name}"${rules.length ? `: ${rules.join(", ")}` : ""}`,
        ...gapNote(p, name),
      ],
    },
  );
}

/** Rows higher than both sides; of a flat top the middle one. */
function tops(y: Float64Array): number[] {
  const out: number[] = [];
  for (let i = 1; i < y.length - 1; i++) {
    if (!(y[i]! > y[i - 1]!)) continue;
    let j = i;
    while (j + 1 < y.length && y[j + 1] === y[i]) j++;
    if (j + 1 < y.length && y[j + 1]! < y[i]!) out.push((i + j) >> 1);
    i = j;
  }
  return out;
}

/** The lowest value between each row and the next higher one before it, in one go over all rows. */
function lowsBefore(y: Float64Array): Float64Array {
  const out = new Float64Array(y.length);
  const stack = new Int32Array(y.length);
  let depth = 0;
  for (let k = 0; k < y.length; k++) {
    let low = y[k]!;
    while (depth > 0 && y[stack[depth - 1]!]! <= y[k]!) low = Math.min(low, out[stack[--depth]!]!);
    out[k] = low;
    stack[depth++] = k;
  }
  return out;
}

/** How wide a peak is at half of its prominence. */
function widthAt(x: Float64Array, y: Float64Array, i: number, half: number): number {
  let a = i;
  while (a > 0 && y[a]! > half) a--;
  let b = i;
  while (b < y.length - 1 && y[b]! > half) b++;
  const cross = (k: number, towards: number): number =>
    y[k]! < half ? x[k]! + ((half - y[k]!) / (y[towards]! - y[k]!)) * (x[towards]! - x[k]!) : x[k]!;
  return cross(b, b - 1) - cross(a, a + 1);
}

/** Keeps the higher of peaks that lie too near, the highest first. */
function spaced<T extends { i: number }>(found: readonly T[], x: Float64Array, y: Float64Array, apart: number): T[] {
  const order = found.map((_, k) => k).sort((a, b) => y[found[b]!.i]! - y[found[a]!.i]! || b - a);
  const gone = new Set<number>();
  for (const k of order) {
    if (gone.has(k)) continue;
    for (let j = k - 1; j >= 0 && x[found[k]!.i]! - x[found[j]!.i]! < apart; j--) gone.add(j);
    for (let j = k + 1; j < found.length && x[found[j]!.i]! - x[found[k]!.i]! < apart; j++) gone.add(j);
  }
  return found.filter((_, k) => !gone.has(k));
}
