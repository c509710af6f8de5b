import type { Dialect } from "./dialect.js";
import { parseDate } from "./dates.js";
import { BAD, exactPowers, fieldStatus, parseField } from "./decimal.js";

export interface SkippedLine {
  readonly line: number;
  readonly reason: string;
}

/** What one stretch of a file holds. Line numbers count from the stretch's own first line (0). */
export interface Stretch {
  readonly rows: number;
  readonly lines: number;
  /** By column of the dialect: numbers, words, or undefined where not asked for. */
  readonly columns: readonly (Float64Array | string[] | undefined)[];
  readonly skipped: readonly SkippedLine[];
  readonly skippedCount: number;
  /** Cells that are no numbers in lines that otherwise are; they are missing. */
  readonly badCells: readonly SkippedLine[];
  readonly badCount: number;
  /** Rows before which the header is repeated. */
  readonly headerBefore: readonly number[];
  /** The last line has no line end. */
  readonly openEnd: boolean;
}

const MOST_LISTED = 1000;

/** Growing storage for one column. */
class Numbers {
  values: Float64Array;
  constructor(capacity: number) {
    this.values = new Float64Array(capacity);
  }
  grow(): Float64Array {
    const bigger = new Float64Array(this.values.length * 2);
    bigger.set(this.values);
    return (this.values = bigger);
  }
}

/**
 * Reads the rows in `bytes`, which begins at a line start and ends at a line end or at the end of the file.
 *
 * @param wanted by column: whether to keep it. Every field is parsed all the same, so that which lines count as rows
 *   does not depend on what is asked for.
 * @param last whether the stretch ends where the file ends
 */
export function readStretch(bytes: Uint8Array, dialect: Dialect, wanted: readonly boolean[], last: boolean): Stretch {
  const n = dialect.columns.length;
  const delimiter = dialect.delimiter === "blanks" ? 0 : dialect.delimiter.charCodeAt(0);
  const point = dialect.decimalComma ? 44 : 46;
  const decoder = new TextDecoder(dialect.encoding);
  const end = bytes.length;
  let capacity = Math.max(16, Math.ceil(end / Math.max(8, n * 6)));
  const stores = dialect.columns.map((c, k) => (c.kind !== "text" && wanted[k] ? new Numbers(capacity) : undefined));
  const scratch = new Float64Array(1);
  const arrays = stores.map((s) => s?.values ?? scratch);
  const steps = Int32Array.from(stores, (s) => (s ? 1 : 0));
  const words = dialect.columns.map((c, k) => (c.kind === "text" && wanted[k] ? ([] as string[]) : undefined));
  const modes = Uint8Array.from(dialect.columns, (c) => (c.kind === "number" ? 0 : c.kind === "date" ? 1 : 2));
  const skipped: SkippedLine[] = [];
  const badCells: SkippedLine[] = [];
  const headerBefore: number[] = [];
  let skippedCount = 0;
  let badCount = 0;
  let rows = 0;
  let line = 0;
  let p = 0;
  const headers = new Set(dialect.headerLines);

  const lineEnd = (from: number): number => {
    let q = from;
    while (q < end && bytes[q] !== 10 && bytes[q] !== 13) q++;
    return q;
  };
  const text = (from: number, to: number): string => decoder.decode(bytes.subarray(from, to)).trim();
  const skip = (reason: string): void => {
    skippedCount++;
    if (skipped.length < MOST_LISTED) skipped.push({ line, reason });
  };

  while (p < end) {
    const start = p;
    let good = 0;
    let bad = 0;
    let present = 0;
    let firstBad = -1;
    let k = 0;
    let complete = false;
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
      let done = false;
      if (modes[k] === 0) {
        let negative = false;
        if (c === 45) {
          negative = true;
          c = bytes[++p]!;
        } else if (c === 43) c = bytes[++p]!;
        const digitsStart = p;
        let m = 0;
        let d = c - 48;
        while (d >= 0 && d <= 9) {
          m = m * 10 + d;
          c = bytes[++p]!;
          d = c - 48;
        }
        let digits = p - digitsStart;
        let exponent = 0;
        if (c === point) {
          const fraction = ++p;
          c = bytes[p]!;
          d = c - 48;
          while (d >= 0 && d <= 9) {
            m = m * 10 + d;
            c = bytes[++p]!;
            d = c - 48;
          }
          exponent = fraction - p;
          digits -= exponent;
        }
        if (digits > 0 && digits <= 15) {
          let exponentGood = true;
          if ((c | 32) === 101) {
            let down = false;
            c = bytes[++p]!;
            if (c === 45) {
              down = true;
              c = bytes[++p]!;
            } else if (c === 43) c = bytes[++p]!;
            const exponentStart = p;
            let x = 0;
            d = c - 48;
            while (d >= 0 && d <= 9) {
              x = x * 10 + d;
              c = bytes[++p]!;
              d = c - 48;
            }
            exponentGood = p > exponentStart && p - exponentStart < 5;
            exponent += down ? -x : x;
          }
          while (c === 32 && delimiter !== 0) c = bytes[++p]!;
          if (exponentGood && exponent >= -22 && exponent <= 22 && (p >= end || c === delimiter || c === 10 || c === 13 || (delimiter === 0 && (c === 32 || c === 9)))) {
            value = exponent < 0 ? m / exactPowers[-exponent]! : exponent === 0 ? m : m * exactPowers[exponent]!;
            if (negative) value = -value;
            good++;
            present++;
            done = true;
          }
        }
      }
      if (!done) {
        // --- anything else: quotes, many digits, words, blanks, dates
        p = fieldStart;
        const quote = bytes[p] === 34 ? 34 : delimiter === 0 && bytes[p] === 39 ? 39 : 0;
        if (quote !== 0) {
          p++;
          while (p < end && bytes[p] !== 10 && bytes[p] !== 13 && (bytes[p] !== quote || (bytes[p + 1] === quote && ++p > 0))) p++;
          if (bytes[p] === quote) p++;
        }
        if (delimiter === 0) while (p < end && bytes[p] !== 32 && bytes[p] !== 9 && bytes[p] !== 10 && bytes[p] !== 13) p++;
        else while (p < end && bytes[p] !== delimiter && bytes[p] !== 10 && bytes[p] !== 13) p++;
        if (modes[k] === 0) {
          value = parseField(bytes, fieldStart, p, point === 44);
          if (fieldStatus === 0) {
            good++;
            present++;
          } else if (fieldStatus === BAD) {
            bad++;
            if (firstBad < 0) firstBad = k;
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
            w[rows] = raw.startsWith('"') && raw.endsWith('"') && raw.length > 1 ? raw.slice(1, -1).replace(/""/g, '"') : raw;
          }
          if (p > fieldStart) present++;
        }
      }
      arrays[k]![steps[k]! * rows] = value;
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
    if (complete && present > 0 && bad === 0) rows++;
    else {
      p = lineEnd(start);
      const raw = text(start, p);
      if (complete && bad > 0 && good > bad) {
        badCount++;
        if (badCells.length < MOST_LISTED) badCells.push({ line, reason: `"${dialect.columns[firstBad]!.name}" is not a number` });
        rows++;
      } else if (headers.has(raw)) {
        headerBefore.push(rows);
        skip("the header again");
      } else if (raw === "") {
        if (p < end || !last) skip("blank");
      } else if (/^(?:#|%|!|\/\/)/.test(raw)) skip("comment");
      else if (last && p >= end && !complete && good > 0) skip(`cut off: ${k} of ${n} fields, the last line is still being written`);
      else if (complete && bad === 0) skip("no values");
      else if (complete) skip(`text where numbers are expected: ${excerpt(raw)}`);
      else {
        const fields = k < n ? k : n + 1;
        skip(`${k < n ? fields : "more than " + n} field${k < n && fields === 1 ? "" : "s"} where ${n} are expected: ${excerpt(raw)}`);
      }
    }
    if (rows >= capacity) {
      capacity *= 2;
      stores.forEach((s, i) => {
        if (s) arrays[i] = s.grow();
      });
    }
    // --- to the next line
    if (p < end) {
      if (bytes[p] === 13 && bytes[p + 1] === 10) p++;
      p++;
    }
    line++;
  }
  return {
    rows,
    lines: line,
    columns: stores.map((s, i) => (s ? s.values.subarray(0, rows) : words[i] ? words[i].slice(0, rows) : undefined)),
    skipped,
    skippedCount,
    badCells,
    badCount,
    headerBefore,
    openEnd: last && end > 0 && bytes[end - 1] !== 10 && bytes[end - 1] !== 13,
  };
}

const excerpt = (text: string): string => `"${text.length > 40 ? text.slice(0, 38) + "…" : text}"`;
