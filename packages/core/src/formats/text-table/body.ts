import type { Dialect } from "./dialect.js";
import { parseDate } from "./dates.js";
import { BAD, fieldStatus, parseField } from "./decimal.js";
import { readNumericRows } from "./numeric-rows.js";
import { RefusedLines, type Refused } from "./refused-lines.js";

/** What one chunk of a file holds. Line numbers count from the chunk's own first line (0). */
export interface Chunk extends Refused {
  readonly rows: number;
  readonly lines: number;
  /** By column of the dialect: numbers, words, or undefined where not asked for. */
  readonly columns: readonly (Float64Array | string[] | undefined)[];
  /** The last line has no line end. */
  readonly openEnd: boolean;
  /** The last line where it is a row without a line end, and the line before it as far as it is in this chunk. */
  readonly openRow?: { readonly text: string; readonly before: string | undefined };
  /** The last line of the chunk. */
  readonly lastLine: string;
}

/**
 * Reads the rows in `given`, which begins at a line start and ends at a line end or at the end of the file.
 *
 * @param wanted by column: whether to keep it. Every field is parsed all the same, so that which lines count as rows
 *   does not depend on what is asked for.
 * @param last whether the chunk ends where the file ends
 */
export function readChunk(given: Uint8Array, dialect: Dialect, wanted: readonly boolean[], last: boolean): Chunk {
  return new BodyReader(given, dialect, wanted, last).read();
}

const SPACE = 32;
const TAB = 9;
const LF = 10;
const CR = 13;
const QUOTE = 34;
const APOSTROPHE = 39;
const STAR = 42;

const NUMBER = 0;
const DATE = 1;
const kinds = { number: NUMBER, date: DATE, text: 2 };

/** Reads the lines of one chunk, one after the other. */
class BodyReader {
  readonly #bytes: Uint8Array;
  readonly #end: number;
  /** Columns, the byte between them (0 for blanks), and that of decimals. */
  readonly #n: number;
  readonly #delimiter: number;
  readonly #point: number;
  readonly #decoder: TextDecoder;
  readonly #kinds: Uint8Array;
  readonly #kept: readonly boolean[];
  /** All kept number columns lie one behind the other; the others share one place that is written over and over. */
  readonly #flat: Float64Array;
  readonly #place: Int32Array;
  readonly #words: readonly (string[] | undefined)[];
  readonly #refused: RefusedLines;
  #byte = 0;
  #rows = 0;
  #line = 0;
  #openRow = false;
  // --- of the line that is read
  /** Fields read, and whether the line ends behind the last one. */
  #fields = 0;
  #complete = false;
  /** Numbers and dates; anything else in their place; fields that are there. */
  #good = 0;
  #bad = 0;
  #present = 0;
  #firstBad = -1;
  /** Stars stand for a number that had no room: there was one, and it is lost. */
  #stars = 0;
  #firstStars = -1;

  constructor(
    given: Uint8Array,
    private readonly dialect: Dialect,
    wanted: readonly boolean[],
    private readonly last: boolean,
  ) {
    // Always of one class: the tight loop is compiled for it, and a Buffer would be another.
    this.#bytes = new Uint8Array(given.buffer, given.byteOffset, given.byteLength);
    this.#end = this.#bytes.length;
    const { columns } = dialect;
    this.#n = columns.length;
    this.#delimiter = dialect.delimiter === "blanks" ? 0 : dialect.delimiter.charCodeAt(0);
    this.#point = dialect.decimalComma ? 44 : 46;
    this.#decoder = new TextDecoder(dialect.encoding);
    this.#kinds = Uint8Array.from(columns, (c) => kinds[c.kind]);
    this.#kept = columns.map((c, k) => c.kind !== "text" && wanted[k] === true);
    this.#words = columns.map((c, k) => (c.kind === "text" && wanted[k] ? [] : undefined));
    // A row takes at least one byte a field. Pages of the excess are never touched, so they cost no memory.
    const capacity = Math.ceil(this.#end / this.#n) + 1;
    const keptCount = this.#kept.filter(Boolean).length;
    this.#flat = new Float64Array((keptCount + 1) * capacity);
    let next = 0;
    this.#place = Int32Array.from(this.#kept, (keep) => (keep ? next++ : keptCount) * capacity);
    this.#refused = new RefusedLines(dialect, last);
  }

  read(): Chunk {
    const { dialect } = this;
    const plain = dialect.columns.every((c) => c.kind === "number") && !dialect.trailing && !dialect.leading;
    const limit = this.#bytes.lastIndexOf(LF) + 1;
    while (this.#byte < this.#end) {
      if (plain && this.#byte < limit) {
        this.#numericRows(limit);
        if (this.#byte >= this.#end) break;
      }
      const start = this.#byte;
      const before = this.#rows;
      this.#readFields();
      if (this.#complete && this.#present > 0 && this.#bad === 0) {
        if (this.#stars > 0) this.#refused.badCell(this.#line, this.#stars, this.#roomless(this.#firstStars));
        this.#rows++;
      } else this.#refuse(start);
      this.#nextLine(before);
    }
    return this.#chunk();
  }

  /** As many lines as hold nothing but plain numbers. */
  #numericRows(limit: number): void {
    const cursor = { byte: this.#byte, row: this.#rows };
    readNumericRows(this.#bytes, limit, this.#delimiter, this.#point, this.#n, this.#flat, this.#place, cursor);
    this.#line += cursor.row - this.#rows;
    this.#rows = cursor.row;
    this.#byte = cursor.byte;
  }

  /** The fields of one line, each to its column. */
  #readFields(): void {
    const bytes = this.#bytes;
    const n = this.#n;
    const delimiter = this.#delimiter;
    this.#good = this.#bad = this.#present = this.#stars = 0;
    this.#firstBad = this.#firstStars = -1;
    this.#complete = false;
    let p = this.#byte;
    if (this.dialect.leading) {
      while (bytes[p] === SPACE) p++;
      if (bytes[p] === delimiter) p++;
    }
    let k = 0;
    for (; k < n; k++) {
      let c = bytes[p]!;
      while (c === SPACE || (c === TAB && delimiter !== TAB)) c = bytes[++p]!;
      // A line that ends early; an empty last field of a delimited line still counts.
      if ((p >= this.#end || c === LF || c === CR) && (delimiter === 0 || k === 0 || k < n - 1)) break;
      const to = this.#fieldEnd(p);
      this.#take(k, p, to);
      p = to;
      if (delimiter === 0) continue;
      if (p < this.#end && bytes[p] === delimiter) {
        if (k < n - 1 || this.dialect.trailing) p++;
      } else if (k < n - 1) {
        k++;
        break;
      }
    }
    if (k === n) {
      while (p < this.#end && (bytes[p] === SPACE || bytes[p] === TAB)) p++;
      this.#complete = p >= this.#end || bytes[p] === LF || bytes[p] === CR;
    }
    this.#fields = k;
    this.#byte = p;
  }

  /** The byte behind a field, quotes and all. */
  #fieldEnd(from: number): number {
    const bytes = this.#bytes;
    const end = this.#end;
    const delimiter = this.#delimiter;
    let p = from;
    const first = bytes[p];
    if (first === QUOTE || (first === APOSTROPHE && delimiter === 0)) {
      p++;
      // Two quotes are one that belongs to the field.
      while (
        p < end &&
        bytes[p] !== LF &&
        bytes[p] !== CR &&
        (bytes[p] !== first || (bytes[p + 1] === first && ++p > 0))
      )
        p++;
      if (bytes[p] === first) p++;
    }
    if (delimiter === 0)
      while (p < end && bytes[p] !== SPACE && bytes[p] !== TAB && bytes[p] !== LF && bytes[p] !== CR) p++;
    else while (p < end && bytes[p] !== delimiter && bytes[p] !== LF && bytes[p] !== CR) p++;
    return p;
  }

  /** Puts a field where it belongs, and counts what it is. */
  #take(k: number, from: number, to: number): void {
    const kind = this.#kinds[k];
    let value = 0;
    if (kind === NUMBER) {
      value = parseField(this.#bytes, from, to, this.#point === 44);
      if (fieldStatus === 0) {
        this.#good++;
        this.#present++;
      } else if (fieldStatus === BAD) this.#notANumber(k);
      else if (this.#bytes[from] === STAR) {
        this.#stars++;
        if (this.#firstStars < 0) this.#firstStars = k;
      }
    } else if (kind === DATE) value = this.#date(k, from, to);
    else {
      const words = this.#words[k];
      if (words) words[this.#rows] = unquoted(this.#text(from, to));
      if (to > from) this.#present++;
    }
    this.#flat[this.#place[k]! + this.#rows] = value;
  }

  #date(k: number, from: number, to: number): number {
    const word = this.#text(from, to).replace(/^"|"$/g, "");
    const date = parseDate(word);
    if (date) {
      this.#good++;
      this.#present++;
      return date.seconds;
    }
    if (word !== "") this.#notANumber(k);
    return Number.NaN;
  }

  #notANumber(k: number): void {
    this.#bad++;
    if (this.#firstBad < 0) this.#firstBad = k;
  }

  /** A line that is not a row as it should be: what it is instead, and whether its numbers count all the same. */
  #refuse(start: number): void {
    let p = start;
    while (p < this.#end && this.#bytes[p] !== LF && this.#bytes[p] !== CR) p++;
    this.#byte = p;
    const raw = this.#text(start, p);
    const line = this.#line;
    this.#refused.diverges(line, raw);
    if (this.#complete && this.#bad > 0 && this.#good > this.#bad) {
      this.#refused.badCell(line, 1, `"${this.dialect.columns[this.#firstBad]!.name}" is not a number`);
      this.#rows++;
      return;
    }
    this.#refused.take(line, raw, {
      rows: this.#rows,
      fields: this.#fields,
      complete: this.#complete,
      good: this.#good,
      bad: this.#bad,
      atEnd: p >= this.#end,
    });
  }

  #nextLine(before: number): void {
    const bytes = this.#bytes;
    this.#openRow = this.last && this.#byte >= this.#end && this.#rows > before;
    if (this.#byte < this.#end) {
      if (bytes[this.#byte] === CR && bytes[this.#byte + 1] === LF) this.#byte++;
      this.#byte++;
    }
    this.#line++;
  }

  #chunk(): Chunk {
    const tail = lastLines(this.#bytes, this.#decoder);
    const end = this.#end;
    const rows = this.#rows;
    return {
      rows,
      lines: this.#line,
      lastLine: tail[0],
      ...(this.#openRow && { openRow: { text: tail[0], before: tail[1] } }),
      columns: this.#kept.map((keep, k) =>
        keep ? this.#flat.subarray(this.#place[k]!, this.#place[k]! + rows) : this.#words[k]?.slice(0, rows),
      ),
      ...this.#refused.told(),
      openEnd: this.last && end > 0 && this.#bytes[end - 1] !== LF && this.#bytes[end - 1] !== CR,
    };
  }

  #roomless(k: number): string {
    return `"${this.dialect.columns[k]!.name}" had no room for its number (*****)`;
  }

  #text(from: number, to: number): string {
    return this.#decoder.decode(this.#bytes.subarray(from, to)).trim();
  }
}

/** A word without the quotes around it. */
const unquoted = (raw: string): string =>
  raw.startsWith('"') && raw.endsWith('"') && raw.length > 1 ? raw.slice(1, -1).replace(/""/g, '"') : raw;

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
