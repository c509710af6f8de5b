import { NoSuchColumn } from "../../tables/table.js";
import { maybeStop } from "../../tables/interruption.js";
import { FormatError, type ByteSource } from "../source.js";
import { assembleTable, defaultAxis, type Allocate, type TextTable } from "./assemble.js";
import { readChunk, type Chunk } from "./body.js";
import { detectDialect, type Dialect, type DialectColumn, type TextTableOptions } from "./dialect.js";
import { byteText } from "./encoding.js";

/** A chunk of a file: the lines that begin in [start, end). */
export interface Span {
  readonly start: number;
  readonly end: number;
}

/** What a text table's head tells without reading the body. */
export interface TextTableHead {
  readonly dialect: Dialect;
  /** The bytes before the first data line. */
  readonly head: Uint8Array;
  readonly columns: readonly DialectColumn[];
  readonly axis: string | undefined;
  /** The axis value of the last whole row, read from the end of the file. */
  readonly last: number | undefined;
  /** The file ends inside a row. */
  readonly cutOff: boolean;
}

const STRETCH = 4 * 1024 * 1024;
const LONGEST_LINE = 64 * 1024 * 1024;
/** How to cut a file into chunks that can be read side by side. */
export function planChunkes(source: ByteSource, dialect: Dialect, length = STRETCH): Span[] {
  const spans: Span[] = [];
  for (let start = dialect.offset; start < source.size; start += length)
    spans.push({ start, end: Math.min(source.size, start + length) });
  return spans;
}

/** Reads the lines that begin within a span. @throws FormatError for a line longer than 64 MiB */
export function readSpan(source: ByteSource, dialect: Dialect, span: Span, wanted: readonly boolean[]): Chunk {
  maybeStop();
  const from = span.start === dialect.offset ? span.start : span.start - 1;
  let bytes = source.read(from, span.end - from);
  let begin = 0;
  if (from < span.start) {
    begin = bytes.indexOf(10) + 1;
    if (begin === 0) return readChunk(new Uint8Array(0), dialect, wanted, false);
  }
  let atEnd = from + bytes.length >= source.size;
  if (!atEnd && bytes[bytes.length - 1] !== 10) {
    // The last line goes on behind the span: read to its end.
    const line = bytes.lastIndexOf(10) + 1;
    for (let extra = 64 * 1024; ; extra = Math.min(4 * extra, LONGEST_LINE)) {
      const more = source.read(from + bytes.length, extra);
      const stop = more.indexOf(10);
      const joined = new Uint8Array(bytes.length + (stop < 0 ? more.length : stop + 1));
      joined.set(bytes);
      joined.set(stop < 0 ? more : more.subarray(0, stop + 1), bytes.length);
      bytes = joined;
      atEnd = from + bytes.length >= source.size;
      if (bytes.length - line > LONGEST_LINE + 1)
        throw new FormatError(
          source.name,
          "a line is longer than 64 MiB",
          { offset: from + line },
          "This does not look like a text table.",
        );
      if (stop >= 0 || atEnd) break;
    }
  }
  return readChunk(bytes.subarray(begin), dialect, wanted, atEnd);
}

/** The columns wanted: by name, each of which has to be there, or by what their name fulfils. */
export type Wanted = readonly string[] | ((name: string) => boolean);

/** Which columns to keep of those asked for: those and the axis. @throws NoSuchColumn */
export function wantedColumns(dialect: Dialect, names: Wanted | undefined, axis: string | undefined): boolean[] {
  if (names === undefined) return dialect.columns.map(() => true);
  const all = dialect.columns.map((c) => c.name);
  if (typeof names === "function") return all.map((n) => n === axis || names(n));
  for (const n of names) if (!all.includes(n) && n !== "pass") throw new NoSuchColumn(n, all);
  return all.map((n) => n === axis || names.includes(n));
}

/**
 * Reads a text table: comma, semicolon, tab, bar or blanks between the fields, whatever stands around them.
 *
 * @param names the columns wanted; all when not given
 * @param passes whether restarts and passes along the axis are treated; without, the rows stay as they are in the file
 * @throws FormatError when the file holds no table, NoSuchColumn for a name it does not have
 */
export function readTextTable(
  given: ByteSource,
  names?: Wanted,
  options: TextTableOptions = {},
  allocate?: Allocate,
  passes = true,
): TextTable {
  const { source } = byteText(given, options.encoding);
  const dialect = detectDialect(source, options);
  const axis = options.axis ?? defaultAxis(dialect.columns);
  const wanted = wantedColumns(dialect, names, axis);
  const spans = planChunkes(source, dialect);
  return assembleTable(
    given.name,
    dialect,
    spans.map((s) => readSpan(source, dialect, s, wanted)),
    options,
    allocate,
    passes,
  );
}

const TAIL = 16 * 1024;
const LONGEST_TAIL = 16 * 1024 * 1024;

/** The end of a file with its last rows: a row may be long, or stand before much text. */
function endOf(source: ByteSource, dialect: Dialect, wanted: readonly boolean[]): Chunk {
  for (let length = TAIL; ; length *= 8) {
    const start = Math.max(dialect.offset, source.size - length);
    const chunk = readSpan(source, dialect, { start, end: source.size }, wanted);
    if (chunk.rows > 0 || start === dialect.offset || length > LONGEST_TAIL) return chunk;
  }
}

/**
 * Describes a text table from its head and the end of its file.
 *
 * @param like the description of another file: where both begin with the same bytes up to the first data line, its
 *   layout is taken over and only the end is read
 */
export function describeTextTable(
  given: ByteSource,
  options: TextTableOptions = {},
  like?: TextTableHead,
): TextTableHead {
  const { source } = byteText(given, options.encoding);
  const same =
    like !== undefined && like.head.length > 0 && Buffer.compare(source.read(0, like.head.length), like.head) === 0;
  const dialect = same ? like.dialect : detectDialect(source, options);
  const head = same ? like.head : source.read(0, dialect.offset);
  const axis = options.axis ?? defaultAxis(dialect.columns);
  const index = dialect.columns.findIndex((c) => c.name === axis);
  const tail = endOf(
    source,
    dialect,
    dialect.columns.map((_, k) => k === index),
  );
  const values = index < 0 ? undefined : (tail.columns[index] as Float64Array | undefined);
  let last: number | undefined;
  if (values)
    for (let i = values.length - 1; i >= 0 && last === undefined; i--) if (values[i]! === values[i]!) last = values[i];
  return {
    dialect,
    head,
    columns: dialect.columns,
    axis: index < 0 ? undefined : axis,
    last,
    cutOff: tail.skipped.some((s) => s.reason.startsWith("cut off")),
  };
}
