import type { Table } from "../../tables/table.js";
import { FormatError } from "../source.js";
import type { LinePattern } from "../lines/pattern.js";
import { LineRows, type LineOptions } from "../lines/read-lines.js";
import { GrowingFile } from "./growing-file.js";

const CHUNK = 1024 * 1024;

/**
 * A table of values that patterns find in the lines of a growing text, such as a solver's log: each byte is read once.
 * Its table is that of the file's whole lines, at every step; a file that was cut, replaced or written again is read
 * anew.
 *
 * @example const t = new GrowingLines("/runs/a/solver.log", "solver.log", [compilePattern("t {time:s} s | it {it}")]);
 */
export class GrowingLines {
  readonly file: GrowingFile;
  #read = 0;
  #rows: LineRows;
  #table: Table | undefined;
  #there = false;
  /** Raised with every change. */
  version = 0;
  restarts = 0;

  constructor(
    path: string,
    private readonly name: string,
    private readonly patterns: readonly LinePattern[],
    private readonly options: LineOptions = {},
  ) {
    this.file = new GrowingFile(path, name);
    this.#rows = new LineRows(name, patterns, options);
  }

  /** The table so far. @throws FormatError when no line fits, or the file is not there */
  get table(): Table {
    if (!this.#there) throw new FormatError(this.name, "there is no such file");
    return (this.#table ??= this.#rows.table(false));
  }

  /** Text stands behind the last line end: a line that is not whole, and not read. */
  get open(): boolean {
    return this.#there && this.#rows.open;
  }

  get held(): number {
    return this.#rows.held;
  }

  /** Reads what is new. @returns whether anything changed */
  update(): boolean {
    const growth = this.file.look(this.#read);
    if (growth.kind === "same") return false;
    if (growth.kind === "gone") {
      const was = this.#there;
      this.#reset();
      this.#there = false;
      if (was) this.version++;
      return was;
    }
    if (growth.kind === "replaced") {
      this.#reset();
      this.restarts++;
    }
    const source = growth.kind === "grown" ? growth.source : this.file.open();
    try {
      for (; this.#read < source.size;) {
        const bytes = source.read(this.#read, CHUNK);
        if (bytes.length === 0) break;
        this.#rows.append(bytes);
        this.#read += bytes.length;
        this.file.bytesRead += bytes.length;
      }
      this.file.mark(source, this.#read);
    } finally {
      source.close();
    }
    this.#there = true;
    this.#table = undefined;
    this.version++;
    return true;
  }

  #reset(): void {
    this.#read = 0;
    this.#rows = new LineRows(this.name, this.patterns, this.options);
    this.#table = undefined;
  }
}
