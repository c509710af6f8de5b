import type { Condition } from "../../tables/condition.js";
import { makeTable, type Column, type Table } from "../../tables/table.js";
import { NoSuchColumn } from "../../tables/table.js";
import { maybeStop } from "../../tables/interruption.js";
import { FormatError, type ByteSource } from "../source.js";
import { readChunk, type SkippedLine, type Chunk } from "./body.js";
import { detectDialect, type Dialect, type DialectColumn, type TextTableOptions } from "./dialect.js";
import { byteText } from "./encoding.js";
import { looksWhole } from "./last-line.js";
import { separatePasses } from "./passes.js";

/** A chunk of a file: the lines that begin in [start, end). */
export interface Span {
  readonly start: number;
  readonly end: number;
}

export interface TextTable {
  readonly table: Table;
  /** The names of all columns of the file, also of those that were not asked for. */
  readonly available: readonly string[];
  /** Lines that are not rows, in order; at most 1000 a chunk are listed, `skippedCount` counts all. */
  readonly skipped: readonly SkippedLine[];
  readonly skippedCount: number;
  /** Rows of the table before which the header is repeated. */
  readonly headerBefore: readonly number[];
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
const axisNames =
  /^(?:time|t|iter(?:ation)?s?|step|angle|theta|mode|freq(?:uency)?|f|load ?factor|x|z|y|s|distance|date)\b/i;

/** The column along which a table is ordered: the first one, when it holds numbers and is named or read as an axis. */
export function defaultAxis(columns: readonly { name: string; kind: string }[]): string | undefined {
  const first = columns[0];
  if (first && first.kind !== "text" && (axisNames.test(first.name) || first.kind === "date")) return first.name;
  const named = columns.find((c) => c.kind !== "text" && /^(?:time|iteration|iter)\b/i.test(c.name));
  return named?.name ?? (first && first.kind !== "text" && columns.length > 1 ? first.name : undefined);
}

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
    for (let extra = 64 * 1024; ; extra *= 4) {
      const more = source.read(from + bytes.length, extra);
      const stop = more.indexOf(10);
      const joined = new Uint8Array(bytes.length + (stop < 0 ? more.length : stop + 1));
      joined.set(bytes);
      joined.set(stop < 0 ? more : more.subarray(0, stop + 1), bytes.length);
      bytes = joined;
      atEnd = from + bytes.length >= source.size;
      if (stop >= 0 || atEnd) break;
      if (extra > LONGEST_LINE)
        throw new FormatError(
          source.name,
          "a line is longer than 64 MiB",
          { offset: span.start },
          "This does not look like a text table.",
        );
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

/** Where the numbers of a table are put: plain memory, or memory shared between threads. */
export type Allocate = (length: number) => Float64Array;

/** Puts chunks read in any order, given in file order, together into one table. */
export function assembleTable(
  source: string,
  dialect: Dialect,
  chunks: readonly Chunk[],
  options: TextTableOptions = {},
  allocate: Allocate = (n) => new Float64Array(n),
  passes = true,
): TextTable {
  const end = chunks[chunks.length - 1];
  const unfinished = end?.openRow;
  const whole =
    unfinished === undefined ||
    looksWhole(unfinished.text, unfinished.before ?? chunks[chunks.length - 2]?.lastLine, dialect.delimiter);
  const dropLast = unfinished !== undefined && (options.lastLine === "skip" || (options.lastLine !== "read" && !whole));
  const rows = chunks.reduce((n, s) => n + s.rows, 0) - (dropLast ? 1 : 0);
  const columns = dialect.columns.flatMap((c, k): Column[] => {
    const parts = chunks.map((s) => s.columns[k]);
    if (parts.some((p) => p === undefined)) return [];
    if (c.kind === "text")
      return [{ kind: "text", name: c.name, values: (parts as string[][]).flat().slice(0, rows), source }];
    const values = allocate(rows);
    let at = 0;
    for (const p of parts as Float64Array[]) {
      values.set(p.length > rows - at ? p.subarray(0, rows - at) : p, at);
      at += p.length;
    }
    return [{ kind: "number", name: c.name, unit: c.unit, values, source }];
  });
  const skipped: SkippedLine[] = [...dialect.preamble];
  const bad: SkippedLine[] = [];
  const headerBefore: number[] = [];
  let line = dialect.firstLine;
  let row = 0;
  let skippedCount = dialect.preamble.length;
  let badCount = 0;
  let damagedCount = 0;
  let diverged: SkippedLine | undefined;
  let textCount = 0;
  for (const s of chunks) {
    for (const k of s.skipped) skipped.push({ ...k, line: line + k.line });
    damagedCount += s.damagedCount;
    textCount += s.textCount;
    for (const k of s.badCells) bad.push({ line: line + k.line, reason: k.reason });
    if (s.diverged) diverged ??= { ...s.diverged, line: line + s.diverged.line };
    for (const h of s.headerBefore) headerBefore.push(row + h);
    line += s.lines;
    row += s.rows;
    skippedCount += s.skippedCount;
    badCount += s.badCount;
  }
  if (rows === 0)
    throw new FormatError(source, "there is no row of numbers behind the header", { line: dialect.firstLine });
  const axis = options.axis ?? defaultAxis(dialect.columns);
  const notes = [...dialect.notes];
  const conditions: Condition[] = [];
  const condition = (kind: Condition["kind"], text: string): void => void conditions.push({ kind, file: source, text });
  const cut = skipped.find((s) => s.reason.startsWith("cut off"));
  const damage = skipped.filter((s) => s.damaged && s !== cut);
  const others = damagedCount - (cut ? 1 : 0);
  if (badCount > 0)
    condition(
      "missing cells",
      `${badCount} ` +
        `cell${badCount === 1 ? " is not a number and counts" : "s are not numbers and count"} as ` +
        `missing; the first: line ${bad[0]!.line}, ${bad[0]!.reason}`,
    );
  if (others > 0)
    condition(
      "damaged rows",
      `${others} row${others === 1 ? " is" : "s are"} damaged and not read; the first: line ${damage[0]!.line}, ${damage[0]!.reason}`,
    );
  if (diverged) condition("diverged", `line ${diverged.line} says "${diverged.reason}"`);
  if (cut) condition("cut off", `the last line (${cut.line}) is ${cut.reason}`);
  if (textCount > 0) {
    const first = skipped.find((s) => /^(?:text where|(?:more than )?\d+ fields? where)/.test(s.reason) && !s.damaged);
    condition(
      "text skipped",
      `${textCount} line${textCount === 1 ? " is" : "s are"} not a row and not ` +
        `read${first ? `; the first: line ${first.line}, ${first.reason}` : ""}`,
    );
  }
  if (dropLast) {
    const reason = whole ? "it was asked not to read it" : "its last value is written shorter than in the line before";
    skipped.push({ line: line - 1, reason: `the last line has no line end; ${reason}`, damaged: true });
    skippedCount++;
    condition(
      "unfinished line",
      `the last line (${line - 1}) has no line end and is not read: ${reason}; { lastLine: "read" } reads it`,
    );
  } else if (end?.openEnd && skipped[skipped.length - 1]?.line !== line - 1)
    condition("unfinished line", `the last line (${line - 1}) has no line end; its last value may be cut off`);
  const named = dialect.columns.some((c) => c.name === axis) ? axis : undefined;
  const raw = { ...makeTable(columns, { axis: named, notes }), rows };
  const table =
    named === undefined || !passes ? raw : separatePasses(raw, named, headerBefore, options.restart ?? "auto");
  for (const n of table.notes) if (n.startsWith("restart: ")) condition("restart", n.slice("restart: ".length));
  return {
    table: conditions.length > 0 ? { ...table, conditions } : table,
    available: dialect.columns.map((c) => c.name),
    skipped,
    skippedCount,
    headerBefore,
  };
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
  const start = Math.max(dialect.offset, source.size - TAIL);
  const wanted = dialect.columns.map((_, k) => k === index);
  const tail = readSpan(source, dialect, { start, end: source.size }, wanted);
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
