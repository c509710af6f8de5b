import type { Condition } from "../../tables/condition.js";
import { makeTable, type Column, type Table } from "../../tables/table.js";
import { FormatError } from "../source.js";
import type { Chunk } from "./body.js";
import type { SkippedLine } from "./refused-lines.js";
import type { Dialect, TextTableOptions } from "./dialect.js";
import { joinedLines, type ChunkLines } from "./joined-chunks.js";
import { looksWhole } from "./last-line.js";
import { separatePasses } from "./passes.js";

export interface TextTable {
  readonly table: Table;
  /** The names of all columns of the file, also of those that were not asked for. */
  readonly available: readonly string[];
  /** Lines that are not rows, in order; at most 1000 per chunk are listed, `skippedCount` counts all. */
  readonly skipped: readonly SkippedLine[];
  readonly skippedCount: number;
  /** Rows of the table before which the header is repeated. */
  readonly headerBefore: readonly number[];
}

/** Where the numbers of a table are put: plain memory, or memory shared between threads. */
export type Allocate = (length: number) => Float64Array;

const axisNames =
  /^(?:time|t|iter(?:ation)?s?|step|angle|theta|mode|freq(?:uency)?|f|load ?factor|x|z|y|s|distance|date)\b/i;

/** The column along which a table is ordered: the first one, when it holds numbers and is named or read as an axis. */
export function defaultAxis(columns: readonly { name: string; kind: string }[]): string | undefined {
  const first = columns[0];
  if (first && first.kind !== "text" && (axisNames.test(first.name) || first.kind === "date")) return first.name;
  const named = columns.find((c) => c.kind !== "text" && /^(?:time|iteration|iter)\b/i.test(c.name));
  return named?.name ?? (first && first.kind !== "text" && columns.length > 1 ? first.name : undefined);
}

/** A last line that is not read: why not. */
function unreadLast(lines: ChunkLines, dialect: Dialect, lastLine: TextTableOptions["lastLine"]): string | undefined {
  if (!lines.openRow || lastLine === "read") return undefined;
  const { text, before } = lines.openRow;
  if (!looksWhole(text, before, dialect.delimiter)) return "its last value is written shorter than in the line before";
  return lastLine === "skip" ? "it was asked not to read it" : undefined;
}

/** The chunks' values as columns, put together; or where they are, of a single chunk that is held anyway. */
function columnsOf(
  source: string,
  dialect: Dialect,
  chunks: readonly Chunk[],
  rows: number,
  allocate: Allocate | "in place",
): Column[] {
  return dialect.columns.flatMap((c, k): Column[] => {
    const parts = chunks.map((s) => s.columns[k]);
    if (parts.some((p) => p === undefined)) return [];
    if (c.kind === "text")
      return [{ kind: "text", name: c.name, values: (parts as string[][]).flat().slice(0, rows), source }];
    if (allocate === "in place") {
      const [only] = parts as Float64Array[];
      return [{ kind: "number", name: c.name, unit: c.unit, values: only!.subarray(0, rows), source }];
    }
    const values = allocate(rows);
    let at = 0;
    for (const p of parts as Float64Array[]) {
      const taken = p.subarray(0, rows - at);
      values.set(taken, at);
      at += taken.length;
    }
    return [{ kind: "number", name: c.name, unit: c.unit, values, source }];
  });
}

/** What is known of the worth of a file's lines. */
function conditionsOf(source: string, lines: ChunkLines, skipped: readonly SkippedLine[]): Condition[] {
  const conditions: Condition[] = [];
  const add = (kind: Condition["kind"], text: string): void => void conditions.push({ kind, file: source, text });
  const { badCount, textCount, diverged } = lines;
  const cut = skipped.find((s) => s.reason.startsWith("cut off"));
  const damage = skipped.find((s) => s.damaged && s !== cut);
  const damaged = lines.damagedCount - (cut ? 1 : 0);
  if (badCount > 0) {
    const [first] = lines.badCells;
    const what = badCount === 1 ? "cell is not a number and counts" : "cells are not numbers and count";
    add("missing cells", `${badCount} ${what} as missing; the first: line ${first!.line}, ${first!.reason}`);
  }
  if (damaged > 0) {
    const what = damaged === 1 ? "row is" : "rows are";
    add("damaged rows", `${damaged} ${what} damaged and not read; the first: line ${damage!.line}, ${damage!.reason}`);
  }
  if (diverged) add("diverged", `line ${diverged.line} says "${diverged.reason}"`);
  if (cut) add("cut off", `the last line (${cut.line}) is ${cut.reason}`);
  if (textCount > 0) {
    const first = skipped.find((s) => /^(?:text where|(?:more than )?\d+ fields? where)/.test(s.reason) && !s.damaged);
    const what = textCount === 1 ? "line is not a row" : "lines are not a row";
    const where = first ? `; the first: line ${first.line}, ${first.reason}` : "";
    add("text skipped", `${textCount} ${what} and not read${where}`);
  }
  return conditions;
}

/**
 * Puts chunks read in any order, given in file order, together into one table.
 *
 * @param allocate gives memory for each column; `in place` leaves those of a single chunk where they are
 */
export function assembleTable(
  source: string,
  dialect: Dialect,
  chunks: readonly Chunk[],
  options: TextTableOptions = {},
  allocate: Allocate | "in place" = (n) => new Float64Array(n),
  passes = true,
): TextTable {
  const noRow = (): FormatError =>
    new FormatError(source, "there is no row of numbers behind the header", { line: dialect.firstLine });
  if (chunks.length === 0) throw noRow();
  const lines = inFile(joinedLines(chunks), dialect.firstLine);
  const unread = unreadLast(lines, dialect, options.lastLine);
  const rows = lines.rows - (unread === undefined ? 0 : 1);
  if (rows === 0) throw noRow();
  const skipped: SkippedLine[] = [...dialect.preamble, ...lines.skipped];
  const conditions = conditionsOf(source, lines, skipped);
  const unfinished = (text: string): void => void conditions.push({ kind: "unfinished line", file: source, text });
  const last = dialect.firstLine + lines.lines - 1;
  if (unread !== undefined) {
    skipped.push({ line: last, reason: `the last line has no line end; ${unread}`, damaged: true });
    unfinished(`the last line (${last}) has no line end and is not read: ${unread}; { lastLine: "read" } reads it`);
  } else if (lines.openEnd && skipped[skipped.length - 1]?.line !== last)
    unfinished(`the last line (${last}) has no line end; its last value may be cut off`);

  const wanted = options.axis ?? defaultAxis(dialect.columns);
  const columns = columnsOf(source, dialect, chunks, rows, allocate);
  const axis = dialect.columns.some((c) => c.name === wanted) ? wanted : undefined;
  const raw = { ...makeTable(columns, { axis, notes: [...dialect.notes] }), rows };
  const { headerBefore } = lines;
  const table =
    axis === undefined || !passes ? raw : separatePasses(raw, axis, headerBefore, options.restart ?? "auto");
  for (const n of table.notes)
    if (n.startsWith("restart: "))
      conditions.push({ kind: "restart", file: source, text: n.slice("restart: ".length) });
  return {
    table: conditions.length > 0 ? { ...table, conditions } : table,
    available: dialect.columns.map((c) => c.name),
    skipped,
    skippedCount: dialect.preamble.length + lines.skippedCount + (unread === undefined ? 0 : 1),
    headerBefore,
  };
}

/** With the numbers that lines have in the file. */
function inFile(lines: ChunkLines, first: number): ChunkLines {
  const moved = <L extends { readonly line: number }>(l: L): L => ({ ...l, line: first + l.line });
  const { diverged } = lines;
  return {
    ...lines,
    skipped: lines.skipped.map(moved),
    badCells: lines.badCells.map(moved),
    ...(diverged && { diverged: moved(diverged) }),
  };
}
