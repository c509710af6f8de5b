import type { Table } from "../../tables/table.js";
import { FormatError, type ByteSource, type FileSource } from "../source.js";
import { assembleTable, type TextTable } from "../text-table/assemble.js";
import { readChunk, type Chunk } from "../text-table/body.js";
import { detectDialect, DIALECT_SAMPLE, type Dialect, type TextTableOptions } from "../text-table/dialect.js";
import { byteText } from "../text-table/encoding.js";
import { readTextTable } from "../text-table/reader.js";
import { GrowingFile } from "./growing-file.js";
import { GrownChunk } from "./grown-chunk.js";

/** Rows after which further ones of the same kind do not change what a file is taken for. */
const MANY_ROWS = 50;

/**
 * A text table that grows: only whole lines that were appended are read. Its table is that which reading the file up to
 * its last line end would give, at every step; a file that was cut, replaced or written again is read anew.
 *
 * @example const t = new GrowingTable("/runs/a/hall.csv", "hall.csv"); if (t.update()) t.table;
 */
export class GrowingTable {
  readonly file: GrowingFile;
  #read = 0;
  #size = 0;
  #dialect: Dialect | undefined;
  #grown: GrownChunk | undefined;
  #text: TextTable | undefined;
  #error: FormatError | undefined;
  /** Raised with every change. */
  version = 0;
  /** How often the file was read from its start again. */
  restarts = 0;

  constructor(
    path: string,
    private readonly name: string,
    private readonly options: TextTableOptions = {},
    /** Whether restarts and passes are treated; of a part of a table the whole table treats them. */
    private readonly passes = true,
  ) {
    this.file = new GrowingFile(path, name);
  }

  /** The table so far. @throws FormatError when there is none, saying why */
  get table(): Table {
    return this.text.table;
  }

  /** The same with what the reader knows of it. @throws FormatError as `table` */
  get text(): TextTable {
    if (this.#error) throw this.#error;
    if (!this.#dialect) {
      if (this.#text) return this.#text;
      throw new FormatError(this.name, "there is no such file");
    }
    const chunks = this.#grown ? [this.#grown.chunk] : [];
    return (this.#text ??= assembleTable(this.name, this.#dialect, chunks, this.options, "in place", this.passes));
  }

  /** Memory that is held, bytes. */
  get held(): number {
    return this.#grown?.held ?? 0;
  }

  /** Text stands behind the last line end: a line that is not whole, and not read. */
  get open(): boolean {
    return this.#dialect !== undefined && this.#size > this.#read;
  }

  /** Reads what is new. @returns whether anything changed */
  update(): boolean {
    const growth = this.file.look(this.#read);
    if (growth.kind === "same") return false;
    if (growth.kind === "gone") {
      const was = this.#dialect !== undefined || this.#text !== undefined || this.#error !== undefined;
      this.#reset();
      if (was) this.version++;
      return was;
    }
    const source = growth.kind === "grown" ? growth.source : this.file.open();
    this.#size = source.size;
    try {
      if (growth.kind === "replaced" || !this.#append(source)) this.#whole(source);
      this.file.mark(source, this.#read);
    } catch (e) {
      if (!(e instanceof FormatError)) throw e;
      this.#reset();
      this.#error = e;
      this.file.mark(source, 0);
    } finally {
      source.close();
    }
    this.version++;
    return true;
  }

  #reset(): void {
    this.#read = 0;
    this.#dialect = undefined;
    this.#grown = undefined;
    this.#text = undefined;
    this.#error = undefined;
  }

  /** Reads the file up to its last line end. */
  #whole(source: FileSource): void {
    this.#reset();
    this.restarts++;
    const bytewise = byteText(source, this.options.encoding).source === source;
    const end = bytewise ? lastLineEnd(source) : 0;
    if (end === 0 && source.size > 0) {
      // Characters of two bytes, lines that end by carriage returns alone, or a first line that is not whole.
      this.file.bytesRead += source.size;
      this.#text = readTextTable(source, undefined, this.options, undefined, this.passes);
      return;
    }
    const whole: ByteSource = { name: source.name, size: end, read: (at, n) => source.read(at, Math.min(n, end - at)) };
    this.file.bytesRead += end;
    const dialect = detectDialect(whole, this.options);
    const all = dialect.columns.map(() => true);
    this.#grown = new GrownChunk(readChunk(whole.read(dialect.offset, end - dialect.offset), dialect, all, true));
    this.#dialect = dialect;
    this.#read = end;
    // Without a row yet this says so.
    void this.text;
  }

  /** Reads the lines that were appended. @returns whether the file's layout is known to be what it was */
  #append(source: FileSource): boolean {
    const dialect = this.#dialect;
    if (!dialect) return false;
    const bytes = source.read(this.#read, source.size - this.#read);
    this.file.bytesRead += bytes.length;
    const end = bytes.lastIndexOf(10) + 1;
    if (end === 0) return true;
    const all = dialect.columns.map(() => true);
    const chunk = readChunk(bytes.subarray(0, end), dialect, all, true);
    // The layout is found out from the start of a file: while it may still change, only more of the same is taken.
    if (this.#read < DIALECT_SAMPLE && !(isPlain(dialect) && this.#grown!.rows >= MANY_ROWS && isMore(chunk)))
      return false;
    this.#grown!.append(chunk);
    this.#read += end;
    this.#text = undefined;
    return true;
  }
}

/** Numbers with decimal points alone: of commas and dates further rows may tell how they are meant. */
const isPlain = (d: Dialect): boolean =>
  !d.decimalComma && d.delimiter !== ";" && d.columns.every((c) => c.kind === "number");

/** Lines that are rows, all of them, and whole. */
const isMore = (c: Chunk): boolean => c.rows === c.lines && c.badCount === 0;

const STEP = 64 * 1024;

/** The place behind the last line feed of a file; its size where its lines end otherwise or not at all. */
function lastLineEnd(source: ByteSource): number {
  for (let to = source.size; to > 0; to -= STEP) {
    const from = Math.max(0, to - STEP);
    const at = source.read(from, to - from).lastIndexOf(10);
    if (at >= 0) return from + at + 1;
  }
  return 0;
}
