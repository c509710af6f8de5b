import type { Dialect } from "./dialect.js";
import { saysDiverged } from "../diverged.js";
import { parseDate } from "./dates.js";
import { BAD, fieldStatus, parseField } from "./decimal.js";
import { readNumericRows } from "./numeric-rows.js";

export interface SkippedLine {
  readonly line: number;
  readonly reason: string;
  /** A row that is damaged, as against text that was never one. */
  readonly damaged?: true;
}

/** What one chunk of a file holds. Line numbers count from the chunk's own first line (0). */
export interface Chunk {
  readonly rows: number;
  readonly lines: number;
  /** By column of the dialect: numbers, words, or undefined where not asked for. */
  readonly columns: readonly (Float64Array | string[] | undefined)[];
  readonly skipped: readonly SkippedLine[];
  readonly skippedCount: number;
  /** Of these, rows that are damaged; and text that is neither comment, header nor blank. */
  readonly damagedCount: number;
  readonly textCount: number;
  /** Cells that are not numbers in lines that otherwise are rows; they are missing. */
  readonly badCells: readonly SkippedLine[];
  readonly badCount: number;
  /** Rows before which the header is repeated. */
  readonly headerBefore: readonly number[];
  /** The last line has no line end. */
  readonly openEnd: boolean;
  /** The last line where it is a row without a line end, and the line before it as far as it is in this chunk. */
  readonly openRow?: { readonly text: string; readonly before: string | undefined };
  /** A line that says that the solution diverged. */
  readonly diverged?: SkippedLine;
  /** The last line of the chunk. */
  readonly lastLine: string;
}

const MOST_LISTED = 1000;

/**
 * Whether a line in blanks was meant as a row: it begins with a number, or half of it are numbers. A sentence with one
 * is text.
 */
function meantAsRow(line: string): boolean {
  const words = line.split(/\s+/);
  const isNumber = (w: string): boolean => /^[+-]?\.?\d/.test(w);
  return isNumber(words[0]!) || 2 * words.filter(isNumber).length >= words.length;
}

/**
 * Reads the rows in `given`, which begins at a line start and ends at a line end or at the end of the file.
 *
 * @param wanted by column: whether to keep it. Every field is parsed all the same, so that which lines count as rows
 *   does not depend on what is asked for.
 * @param last whether the chunk ends where the file ends
 */
// oxlint-disable-next-line eslint/max-lines-per-function -- one loop over bytes, whose state stays in registers
export function readChunk(given: Uint8Array, dialect: Dialect, wanted: readonly boolean[], last: boolean): Chunk {
  // Always of one class: the tight loop is compiled for it, and a Buffer would be another.
  const bytes = new Uint8Array(given.buffer, given.byteOffset, given.byteLength);
  const n = dialect.columns.length;
  const delimiter = dialect.delimiter === "blanks" ? 0 : dialect.delimiter.charCodeAt(0);
  const point = dialect.decimalComma ? 44 : 46;
  const decoder = new TextDecoder(dialect.encoding);
  const end = bytes.length;
  // A row takes at least one byte a field. Pages of the excess are never touched, so they cost no memory.
  const capacity = Math.ceil(end / n) + 1;
  // All kept number columns lie one behind the other; the others share one place that is written over and over.
  const kept = dialect.columns.map((c, k) => c.kind !== "text" && wanted[k] === true);
  const keptCount = kept.filter(Boolean).length;
  const flat = new Float64Array((keptCount + 1) * capacity);
  let next = 0;
  const place = Int32Array.from(kept, (keep) => (keep ? next++ : keptCount) * capacity);
  const plain = dialect.columns.every((c) => c.kind === "number") && !dialect.trailing && !dialect.leading;
  const limit = bytes.lastIndexOf(10) + 1;
  const cursor = { byte: 0, row: 0 };
  const words = dialect.columns.map((c, k) => (c.kind === "text" && wanted[k] ? ([] as string[]) : undefined));
  const modes = Uint8Array.from(dialect.columns, (c) => (c.kind === "number" ? 0 : c.kind === "date" ? 1 : 2));
  const skipped: SkippedLine[] = [];
  const badCells: SkippedLine[] = [];
  const headerBefore: number[] = [];
  let skippedCount = 0;
  let damagedCount = 0;
  let textCount = 0;
  let badCount = 0;
  let rows = 0;
  let line = 0;
  let p = 0;
  let openRow = false;
  let diverged: SkippedLine | undefined;
  const headers = new Set(dialect.headerLines);

  const lineEnd = (from: number): number => {
    let q = from;
    while (q < end && bytes[q] !== 10 && bytes[q] !== 13) q++;
    return q;
  };
  const text = (from: number, to: number): string => decoder.decode(bytes.subarray(from, to)).trim();
  const skip = (reason: string, kind: "plain" | "text" | "damaged" = "plain"): void => {
    skippedCount++;
    if (kind === "damaged") damagedCount++;
    if (kind === "text") textCount++;
    // Damage is listed before all else: it is what has to be known.
    if (skipped.length < MOST_LISTED || (kind === "damaged" && damagedCount <= MOST_LISTED))
      skipped.push({ line, reason, ...(kind === "damaged" && { damaged: true as const }) });
  };

  while (p < end) {
    if (plain && p < limit) {
      cursor.byte = p;
      cursor.row = rows;
      readNumericRows(bytes, limit, delimiter, point, n, flat, place, cursor);
      line += cursor.row - rows;
      rows = cursor.row;
      p = cursor.byte;
      if (p >= end) break;
    }
    const start = p;
    const before = rows;
    let good = 0;
    let bad = 0;
    let present = 0;
    let firstBad = -1;
    let stars = 0;
    let firstStars = -1;
    let k = 0;
    let complete = false;
    if (dialect.leading) {
      while (bytes[p] === 32) p++;
      if (bytes[p] === delimiter) p++;
    }
    // --- the fields of one line
    for (; k < n; k++) {
      let c = bytes[p]!;
      while (c === 32 || (c === 9 && delimiter !== 9)) c = bytes[++p]!;
      if (p >= end || c === 10 || c === 13) {
        // A line that ends early; an empty last field of a delimited line still counts.
        if (delimiter === 0 || k === 0 || k < n - 1) break;
      }
      const fieldStart = p;
      let value = 0;
      // --- anything else: quotes, many digits, words, blanks, dates
      const quote = bytes[p] === 34 ? 34 : delimiter === 0 && bytes[p] === 39 ? 39 : 0;
      if (quote !== 0) {
        p++;
        while (
          p < end &&
          bytes[p] !== 10 &&
          bytes[p] !== 13 &&
          (bytes[p] !== quote || (bytes[p + 1] === quote && ++p > 0))
        )
          p++;
        if (bytes[p] === quote) p++;
      }
      if (delimiter === 0)
        while (p < end && bytes[p] !== 32 && bytes[p] !== 9 && bytes[p] !== 10 && bytes[p] !== 13) p++;
      else while (p < end && bytes[p] !== delimiter && bytes[p] !== 10 && bytes[p] !== 13) p++;
      if (modes[k] === 0) {
        value = parseField(bytes, fieldStart, p, point === 44);
        if (fieldStatus === 0) {
          good++;
          present++;
        } else if (fieldStatus === BAD) {
          bad++;
          if (firstBad < 0) firstBad = k;
        } else if (bytes[fieldStart] === 42) {
          // Stars stand for a number that had no room: there was one, and it is lost.
          stars++;
          if (firstStars < 0) firstStars = k;
        }
      } else if (modes[k] === 1) {
        const word = text(fieldStart, p).replace(/^"|"$/g, "");
        const date = parseDate(word);
        value = date ? date.seconds : Number.NaN;
        if (date) {
          good++;
          present++;
        } else if (word !== "") {
          bad++;
          if (firstBad < 0) firstBad = k;
        }
      } else {
        const w = words[k];
        if (w) {
          const raw = text(fieldStart, p);
          w[rows] =
            raw.startsWith('"') && raw.endsWith('"') && raw.length > 1 ? raw.slice(1, -1).replace(/""/g, '"') : raw;
        }
        if (p > fieldStart) present++;
      }
      flat[place[k]! + rows] = value;
      // --- to the next field
      if (delimiter !== 0) {
        if (p < end && bytes[p] === delimiter) {
          if (k < n - 1) p++;
          else if (dialect.trailing) p++;
        } else if (k < n - 1) {
          k++;
          break;
        }
      }
    }
    if (k === n) {
      while (p < end && (bytes[p] === 32 || bytes[p] === 9)) p++;
      complete = p >= end || bytes[p] === 10 || bytes[p] === 13;
    }
    // --- does it count as a row?
    if (complete && present > 0 && bad === 0) {
      if (stars > 0) {
        badCount += stars;
        if (badCells.length < MOST_LISTED)
          badCells.push({ line, reason: `"${dialect.columns[firstStars]!.name}" had no room for its number (*****)` });
      }
      rows++;
    } else {
      p = lineEnd(start);
      const raw = text(start, p);
      if (saysDiverged(raw)) diverged ??= { line, reason: raw.slice(0, 100) };
      const damaged = raw.includes("***") || (good > 0 && (delimiter !== 0 || meantAsRow(raw))) ? "damaged" : "text";
      if (complete && bad > 0 && good > bad) {
        badCount++;
        if (badCells.length < MOST_LISTED)
          badCells.push({ line, reason: `"${dialect.columns[firstBad]!.name}" is not a number` });
        rows++;
      } else if (headers.has(raw)) {
        headerBefore.push(rows);
        skip("the header again");
      } else if (raw === "") {
        if (p < end || !last) skip("blank");
      } else if (/^(?:#|%|!|\/\/)/.test(raw)) skip("comment");
      else if (last && p >= end && !complete && good > 0)
        skip(`cut off: ${k} of ${n} fields, the last line is still being written`, "damaged");
      else if (complete && bad === 0) skip("no values", "damaged");
      else if (complete) skip(`text where numbers are expected: ${excerpt(raw)}`, damaged);
      else {
        const fields = k < n ? k : n + 1;
        skip(
          `${k < n ? fields : "more than " + n} field${k < n && fields === 1 ? "" : "s"} where ${n} are expected: ${excerpt(raw)}`,
          damaged,
        );
      }
    }
    // --- to the next line
    openRow = last && p >= end && rows > before;
    if (p < end) {
      if (bytes[p] === 13 && bytes[p + 1] === 10) p++;
      p++;
    }
    line++;
  }
  const tail = lastLines(bytes, decoder);
  return {
    rows,
    lines: line,
    lastLine: tail[0],
    ...(diverged && { diverged }),
    ...(openRow && { openRow: { text: tail[0], before: tail[1] } }),
    columns: dialect.columns.map((_, k) =>
      kept[k] ? flat.subarray(place[k]!, place[k]! + rows) : words[k]?.slice(0, rows),
    ),
    skipped,
    skippedCount,
    damagedCount,
    textCount,
    badCells,
    badCount,
    headerBefore,
    openEnd: last && end > 0 && bytes[end - 1] !== 10 && bytes[end - 1] !== 13,
  };
}

const LONGEST_TAIL = 100_000;

/** The last line and the one before it, without their ends. */
function lastLines(bytes: Uint8Array, decoder: TextDecoder): [string, string | undefined] {
  let end = bytes.length;
  if (bytes[end - 1] === 10) end--;
  const before = (to: number): number => (to > 0 ? bytes.lastIndexOf(10, to - 1) : -1);
  const a = before(end);
  const b = a > 0 ? before(a) : -1;
  const text = (from: number, to: number): string =>
    decoder.decode(bytes.subarray(Math.max(from, to - LONGEST_TAIL), to)).trim();
  return [text(a + 1, end), a > 0 ? text(b + 1, a) : undefined];
}

const excerpt = (text: string): string => `"${text.length > 40 ? text.slice(0, 38) + "…" : text}"`;
