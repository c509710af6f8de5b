import type { Chunk, SkippedLine } from "./body.js";

/**
 * Chunks of one file, in its order, as one chunk: what {@link assembleTable} makes of it is the same. Listed lines stay
 * as they are; their counts are sums.
 */
export function joinedChunks(chunks: readonly Chunk[]): Chunk {
  const [first] = chunks;
  if (!first) throw new RangeError("there is no chunk to join");
  const last = chunks[chunks.length - 1]!;
  const sum = (of: (c: Chunk) => number): number => chunks.reduce((n, c) => n + of(c), 0);
  const skipped: SkippedLine[] = [];
  const badCells: SkippedLine[] = [];
  const headerBefore: number[] = [];
  let diverged: SkippedLine | undefined;
  let [line, row] = [0, 0];
  for (const c of chunks) {
    for (const s of c.skipped) skipped.push({ ...s, line: line + s.line });
    for (const s of c.badCells) badCells.push({ ...s, line: line + s.line });
    for (const h of c.headerBefore) headerBefore.push(row + h);
    if (c.diverged) diverged ??= { ...c.diverged, line: line + c.diverged.line };
    line += c.lines;
    row += c.rows;
  }
  const columns = first.columns.map((column, k) => {
    if (column === undefined) return undefined;
    const parts = chunks.map((c) => c.columns[k]!);
    if (!(column instanceof Float64Array)) return (parts as string[][]).flat();
    const values = new Float64Array(row);
    let at = 0;
    for (const p of parts as Float64Array[]) {
      values.set(p, at);
      at += p.length;
    }
    return values;
  });
  return {
    rows: row,
    lines: line,
    columns,
    skipped,
    skippedCount: sum((c) => c.skippedCount),
    damagedCount: sum((c) => c.damagedCount),
    textCount: sum((c) => c.textCount),
    badCells,
    badCount: sum((c) => c.badCount),
    headerBefore,
    openEnd: last.openEnd,
    ...(last.openRow && { openRow: last.openRow }),
    ...(diverged && { diverged }),
    lastLine: last.lastLine,
  };
}
