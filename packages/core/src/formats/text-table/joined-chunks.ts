import type { Chunk } from "./body.js";
import type { SkippedLine } from "./refused-lines.js";

/** What chunks know but for their values. */
export type ChunkLines = Omit<Chunk, "columns">;

const sum = (chunks: readonly ChunkLines[], of: (c: ChunkLines) => number): number =>
  chunks.reduce((n, c) => n + of(c), 0);

/** What chunks of one file, in its order, know of its lines: lists one behind the other, counts as sums. */
export function joinedLines(chunks: readonly ChunkLines[]): ChunkLines {
  // A chunk in which no line begins has none: the end of the file may be that of a chunk before.
  const filled = chunks.filter((c) => c.lines > 0);
  const last = filled.at(-1) ?? chunks.at(-1);
  if (!last) throw new RangeError("there is no chunk to join");
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
  // The line before the last one may be the end of the chunk before.
  const before = last.openRow?.before ?? filled.at(-2)?.lastLine;
  return {
    rows: row,
    lines: line,
    skipped,
    skippedCount: sum(chunks, (c) => c.skippedCount),
    damagedCount: sum(chunks, (c) => c.damagedCount),
    textCount: sum(chunks, (c) => c.textCount),
    badCells,
    badCount: sum(chunks, (c) => c.badCount),
    headerBefore,
    openEnd: last.openEnd,
    ...(last.openRow && { openRow: { text: last.openRow.text, before } }),
    ...(diverged && { diverged }),
    lastLine: last.lastLine,
  };
}
