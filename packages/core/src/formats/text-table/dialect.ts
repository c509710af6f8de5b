import { tryParseUnit } from "../../tables/units.js";
import type { UnitSymbol } from "../../tables/table.js";
import { FormatError, type ByteSource } from "../source.js";
import { parseDate } from "./dates.js";
import { BAD, fieldStatus, MISSING, parseWord } from "./decimal.js";
import { findHeader, firstRow, isComment, splitUnit, unnamed, type Header } from "./header.js";
import { splitLine, type Delimiter } from "./split.js";
import { decodeHead, detectEncoding, type Encoding } from "./encoding.js";

/** Choices that may be given instead of found; in the script, or in the study's definition. */
export interface TextTableOptions {
  readonly delimiter?: Delimiter | undefined;
  readonly decimal?: "." | "," | undefined;
  /** The 1-based line of the names; 0 when there is none. */
  readonly header?: number | undefined;
  readonly names?: readonly string[] | undefined;
  readonly units?: Readonly<Record<string, string>> | undefined;
  readonly encoding?: Encoding | undefined;
  readonly axis?: string | undefined;
  /** What to do where the axis steps back; see the reader. */
  readonly restart?: "auto" | "keep-later" | "keep-all" | undefined;
  /** Whether a last line without a line end is read: `auto` reads it only when it looks whole; see `last-line.ts`. */
  readonly lastLine?: "auto" | "read" | "skip" | undefined;
}

export interface DialectColumn {
  readonly name: string;
  readonly unit: UnitSymbol;
  readonly kind: "number" | "text" | "date";
}

/** How a text table is laid out. */
export interface Dialect {
  readonly encoding: Encoding;
  readonly delimiter: Delimiter;
  readonly decimalComma: boolean;
  readonly columns: readonly DialectColumn[];
  /** Number of the first data line, from 1, and the byte where it starts. */
  readonly firstLine: number;
  readonly offset: number;
  /** The header's lines as they stand, to know them again after a restart. */
  readonly headerLines: readonly string[];
  /** Lines before the data that are neither header nor blank. */
  readonly preamble: readonly { readonly line: number; readonly reason: string }[];
  readonly notes: readonly string[];
  /** The fields begin, or end, with one more delimiter. */
  readonly leading: boolean;
  readonly trailing: boolean;
}

type TokenKind = "number" | "missing" | "date" | "text";

function kindOf(token: string, decimalComma: boolean): TokenKind {
  parseWord(token, decimalComma);
  if (fieldStatus === 0) return "number";
  if (fieldStatus === MISSING) return "missing";
  return fieldStatus === BAD && parseDate(token) !== undefined ? "date" : "text";
}

interface Layout {
  readonly delimiter: Delimiter;
  readonly decimalComma: boolean;
  readonly n: number;
  readonly score: number;
  /** Indices of lines that look like data of this layout. */
  readonly rows: readonly number[];
  readonly kinds: readonly TokenKind[];
}

const HEAD = 256 * 1024;
const MOST_HEAD = 4 * 1024 * 1024;
const LINES = [300, 3000];

/**
 * Finds out how a text table is laid out, from its head alone.
 *
 * @throws FormatError when there is no line of numbers.
 */
export function detectDialect(source: ByteSource, options: TextTableOptions = {}): Dialect {
  refuseBinary(source);
  for (let size = HEAD; ; size = MOST_HEAD) {
    const head = { ...decodeHead(source, size, options.encoding), name: source.name };
    for (const most of LINES) {
      const found = tryDetect(head.lines.slice(0, most), head, options);
      if (found) return found;
      if (head.lines.length <= most) break;
    }
    if (size === MOST_HEAD || head.whole) break;
  }
  throw new FormatError(
    source.name,
    source.size === 0 ? "the file is empty" : "no table in this file: no line has numbers in columns",
    { line: 1 },
    "If it is a log, read it by a pattern with .lines(…).read(…).",
  );
}

/** Bytes at the start of a file from which its layout is found out. */
export const DIALECT_SAMPLE = 64 * 1024;
const SAMPLE = DIALECT_SAMPLE;

/**
 * A file that is not text is not a table, even where a part of it looks like one. @throws FormatError for zero bytes,
 * or with more than one control character in a hundred
 */
function refuseBinary(source: ByteSource): void {
  const bytes = source.read(0, SAMPLE);
  const { encoding } = detectEncoding(bytes);
  if (encoding === "utf-16le" || encoding === "utf-16be") return;
  let odd = 0;
  let zeros = 0;
  for (const c of bytes) {
    if (c === 0) zeros++;
    // Tab, line ends, vertical tab, form feed, end of file and escape stand in texts.
    else if (c < 9 || (c > 13 && c < 32 && c !== 26 && c !== 27) || c === 127) odd++;
  }
  if (zeros === 0 && odd <= bytes.length / 100) return;
  throw new FormatError(
    source.name,
    "this is not a text: it holds bytes that no text has",
    { offset: 0 },
    "If it is a mesh or a packed file, it is read by other means.",
  );
}

/** A table fills its file: a stray line of numbers in pages of prose is none. */
function isStray(layout: Layout, lines: readonly string[], fits: (line: number) => boolean): boolean {
  const filled = lines.filter((l) => l.trim() !== "" && !isComment(l)).length;
  const anyNumber = layout.kinds.includes("number") || layout.kinds.includes("date");
  if (!anyNumber) return layout.rows.length < 0.9 * filled;
  if (filled < 50) return false;
  let rows = 0;
  for (const i of layout.rows) if (fits(i) && ++rows > 2) return false;
  return true;
}

interface Head {
  readonly lines: readonly string[];
  readonly offsets: readonly number[];
  readonly encoding: Encoding;
  readonly name: string;
}

function tryDetect(lines: readonly string[], head: Head, options: TextTableOptions): Dialect | undefined {
  const layout = bestLayout(lines, options);
  if (!layout) return undefined;
  const { delimiter, decimalComma, kinds } = layout;
  const decided = options.decimal === undefined ? decimalSign(head, lines, layout) : [];
  const numericAt = kinds.map((k) => k === "number" || k === "date");
  const fits = (i: number): boolean => {
    const tokens = splitLine(lines[i]!, delimiter);
    return (
      tokens.length === layout.n &&
      tokens.every((t, k) => !numericAt[k] || kindOf(t, decimalComma) !== "text") &&
      tokens.some((t, k) => numericAt[k] && kindOf(t, decimalComma) !== "missing")
    );
  };
  if (options.delimiter === undefined && options.header === undefined && isStray(layout, lines, fits)) return undefined;
  const allText = !numericAt.includes(true);
  const whole = allText
    ? layout.rows[1]
    : layout.rows.find((i) => fits(i) && (options.header === undefined || i >= options.header));
  if (whole === undefined) return undefined;
  const isNumeric = (t: string): boolean => kindOf(t, decimalComma) === "number";
  // Damaged rows before the first whole one are rows: that they are not read has to be told.
  const first =
    allText || options.header !== undefined ? whole : firstRow(lines, whole, layout.n, delimiter, isNumeric);
  let header: Header;
  if (options.header === 0) header = unnamed(layout.n, []);
  else if (options.header !== undefined) header = explicitHeader(lines, options.header, layout);
  else header = findHeader(lines, first, layout.n, delimiter, isNumeric);
  const { columns, leading, trailing } = columnsOf(layout, header, options);
  const used = new Set(header.lines);
  const preamble = lines
    .slice(0, first)
    .flatMap((text, i) =>
      used.has(i) || text.trim() === ""
        ? []
        : [{ line: i + 1, reason: isComment(text) ? "comment before the table" : "text before the table" }],
    );
  const dates = columns.filter((c) => c.kind === "date").map((c) => `"${c.name}"`);
  return {
    encoding: head.encoding,
    delimiter,
    decimalComma,
    columns,
    leading,
    trailing,
    preamble,
    firstLine: first + 1,
    offset: head.offsets[first]!,
    headerLines: header.lines.map((i) => lines[i]!.trim()),
    notes: [
      ...decided,
      ...header.notes,
      ...(dates.length
        ? [`${dates.join(", ")}: dates as seconds since 1970-01-01 UTC, clock times as seconds since midnight`]
        : []),
    ],
  };
}

/** The columns of a layout by their header, without the empty ones that signs at a row's ends make. */
function columnsOf(
  { n, kinds, delimiter }: Layout,
  header: Header,
  options: TextTableOptions,
): Pick<Dialect, "columns" | "leading" | "trailing"> {
  const trailing = n > 1 && kinds[n - 1] === "missing" && /^c\d+$/.test(header.names[n - 1]!) && delimiter !== "blanks";
  // Bars may stand on both sides of a row.
  const leading = delimiter === "|" && n > 2 && kinds[0] === "missing" && header.names[0] === "c1";
  const skip = leading ? 1 : 0;
  const count = n - skip - (trailing ? 1 : 0);
  const names = Array.from({ length: count }, (_, k) => options.names?.[k] ?? header.names[k + skip]!);
  const columns = names.map((name, own): DialectColumn => {
    const k = own + skip;
    const kind = kinds[k] === "text" ? "text" : kinds[k] === "date" ? "date" : "number";
    const declared =
      options.units && Object.hasOwn(options.units, name) ? tryParseUnit(options.units[name]!)?.symbol : undefined;
    return { name, kind, unit: declared ?? (kind === "date" ? "s" : kind === "text" ? null : header.units[k]!) };
  });
  return { columns, leading, trailing };
}

function explicitHeader(lines: readonly string[], number: number, layout: Layout): Header {
  const tokens = splitLine((lines[number - 1] ?? "").replace(/^\s*[#%!]+\s*/, ""), layout.delimiter).map(splitUnit);
  const names = Array.from({ length: layout.n }, (_, k) => tokens[k]?.name || `c${k + 1}`);
  return {
    names,
    units: names.map((_, k) => tokens[k]?.unit ?? null),
    lines: [number - 1],
    notes: [`names are taken from line ${number}, as asked`],
  };
}

function bestLayout(lines: readonly string[], options: TextTableOptions): Layout | undefined {
  const delimiters: readonly Delimiter[] = options.delimiter ? [options.delimiter] : [",", ";", "\t", "|", "blanks"];
  const written = lines.flatMap((l, i) => (l.trim() === "" || isComment(l) ? [] : [i]));
  const occurs = (sign: string): boolean => written.some((i) => lines[i]!.includes(sign));
  // Without a comma anywhere, the comma as decimal sign only makes words of numbers with a point.
  const commas = options.decimal ? [options.decimal === ","] : occurs(",") ? [false, true] : [false];
  let absent = false;
  let best: Layout | undefined;
  for (const delimiter of delimiters) {
    // Signs that do not occur all leave a line as it is: the first of them stands for the others.
    if (delimiter !== "blanks" && delimiters.length > 1 && !occurs(delimiter)) {
      if (absent) continue;
      absent = true;
    }
    for (const decimalComma of commas) {
      if (delimiter === "," && decimalComma && !options.decimal) continue;
      const layout = layoutFor(lines, written, delimiter, decimalComma);
      if (layout && (best === undefined || layout.score > best.score + 1e-9)) best = layout;
    }
  }
  return best;
}

/** A number with both signs, or with digits in groups of three; and one whose only sign is a comma. */
const grouped = /^[+-]?\d{1,3}(?:[.,'\u00a0\u2009 ]\d{3})+(?:[.,]\d+)?$/;
const pointed = /^[+-]?\d+\.\d+(?:[eE][+-]?\d+)?$/;
const withComma = /^[+-]?\d+,\d+(?:[eE][+-]?\d+)?$/;

/**
 * Refuses tables in which it cannot be told what a comma or a point stands for: a wrong guess is wrong by a factor of
 * 1000. Semicolons between the fields are used where the comma is the decimal sign; where nothing else shows it, a note
 * says so.
 *
 * @throws FormatError with the column, a cell of it and the option that decides
 */
function decimalSign(head: Head, lines: readonly string[], layout: Layout): string[] {
  const { delimiter, decimalComma, kinds, rows } = layout;
  const cells = rows.map((i) => splitLine(lines[i]!, delimiter));
  const cure = `Say which sign is the decimal one, e.g. { decimal: "${decimalComma ? "," : "."}" }, or write the numbers without groups.`;
  const fail = (k: number, cell: string, what: string): never => {
    const line = rows[cells.findIndex((c) => c[k] === cell)]! + 1;
    throw new FormatError(head.name, `column ${k + 1} holds "${cell}": ${what}`, { line }, cure);
  };
  kinds.forEach((kind, k) => {
    if (kind !== "text") return;
    const column = cells.map((c) => c[k]!).filter((c) => c !== "");
    const odd = column.filter((c) => (decimalComma ? pointed : withComma).test(c) || grouped.test(c));
    if (odd.length === 0 || 2 * odd.length <= column.length) return;
    fail(k, odd[0]!, "digits are grouped, or commas and points are mixed as decimal signs");
  });
  if (!decimalComma) return [];
  const numeric = kinds.map((k) => k === "number");
  const signs = cells.flatMap((c) =>
    c.flatMap((cell, k) => (numeric[k] && cell.includes(",") ? [[k, cell] as const] : [])),
  );
  const ambiguous = signs.length > 0 && signs.every(([, cell]) => /^[+-]?[1-9]\d{0,2},\d{3}$/.test(cell));
  if (!ambiguous) return [];
  const [k, cell] = signs[0]!;
  if (delimiter !== ";")
    fail(
      k,
      cell,
      "every number with a comma has three digits after it, so the comma may group thousands or be the decimal sign",
    );
  return [
    `the comma is read as the decimal sign: "${cell}" is ${cell.replace(",", ".")}; if it groups thousands, say { decimal: "." }`,
  ];
}

const filled = (kinds: readonly TokenKind[]): number => kinds.reduce((m, k) => m + (k === "text" ? 0 : 1), 0);

const suspicious = /[;\t|]|\d,\d/;

/** @param written indices of the lines that are neither blank nor comments */
function layoutFor(
  lines: readonly string[],
  written: readonly number[],
  delimiter: Delimiter,
  decimalComma: boolean,
): Layout | undefined {
  interface Group {
    score: number;
    rows: number[];
    kinds: TokenKind[][];
    /** How many numbers (or gaps where numbers may be) the fullest line has. */
    most: number;
  }
  const groups = new Map<number, Group>();
  for (const i of written) {
    const line = lines[i]!;
    const tokens = splitLine(line, delimiter);
    const n = tokens.length;
    if (n > 20_000) continue;
    const kinds = tokens.map((t) => kindOf(t, decimalComma));
    const numeric = kinds.filter((k) => k === "number" || k === "date").length;
    if (numeric === 0 && n < 2) continue;
    const group = groups.get(n) ?? { score: 0, rows: [], kinds: [], most: 0 };
    groups.set(n, group);
    group.rows.push(i);
    group.kinds.push(kinds);
    group.most = Math.max(group.most, filled(kinds));
    kinds.forEach((k, c) => {
      group.score +=
        k === "text" ? (suspicious.test(tokens[c]!) || delimiter === "blanks" ? -0.5 : 0.1) : k === "missing" ? 0.2 : 1;
    });
  }
  let best: Layout | undefined;
  for (const [n, g] of groups) {
    // Heads and footers of as many words as there are columns say nothing of what the columns hold.
    const telling = g.kinds.filter((row) => filled(row) >= g.most / 2);
    const kinds = Array.from({ length: n }, (_, c): TokenKind => {
      const count = (kind: TokenKind): number => telling.reduce((m, row) => m + (row[c] === kind ? 1 : 0), 0);
      const text = count("text");
      const number = count("number");
      const date = count("date");
      if (text > number + date) return "text";
      if (number + date > 0) return date > number ? "date" : "number";
      return text > 0 ? "text" : "missing";
    });
    const anyNumber = kinds.includes("number") || kinds.includes("date");
    if (!anyNumber && (n < 2 || g.rows.length < 2 || delimiter === "blanks")) continue;
    if (best === undefined || g.score > best.score)
      best = { delimiter, decimalComma, n, score: g.score, rows: g.rows, kinds };
  }
  return best;
}
