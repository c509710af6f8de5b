import { saysDiverged } from "../diverged.js";
import type { Dialect } from "./dialect.js";

/** A line, counted from the first of its chunk, and why it was not read or what is wrong in it. */
export interface SkippedLine {
  readonly line: number;
  readonly reason: string;
  /** A row that is damaged, as against text that was never one. */
  readonly damaged?: true;
}

/** The lines of a chunk that are not rows, or are rows with a cell that is not a number. */
export interface Refused {
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
  /** A line that says that the solution diverged. */
  readonly diverged?: SkippedLine;
}

/** How far a line was read as a row. */
export interface LineRead {
  /** Rows before it. */
  readonly rows: number;
  /** Fields read, and whether it ends behind the last one. */
  readonly fields: number;
  readonly complete: boolean;
  /** Numbers and dates among them, and what is not a number. */
  readonly good: number;
  readonly bad: number;
  /** Nothing comes behind it. */
  readonly atEnd: boolean;
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

const excerpt = (text: string): string => `"${text.length > 40 ? text.slice(0, 38) + "…" : text}"`;

/** Takes down what is wrong with lines: all are counted, the first thousand are listed. */
export class RefusedLines {
  readonly #skipped: SkippedLine[] = [];
  readonly #badCells: SkippedLine[] = [];
  readonly #headerBefore: number[] = [];
  readonly #headers: ReadonlySet<string>;
  #skippedCount = 0;
  #damagedCount = 0;
  #textCount = 0;
  #badCount = 0;
  #diverged: SkippedLine | undefined;

  constructor(
    private readonly dialect: Dialect,
    private readonly last: boolean,
  ) {
    this.#headers = new Set(dialect.headerLines);
  }

  /** Cells of a row that are missing, with the reason for the first of them. */
  badCell(line: number, count: number, reason: string): void {
    this.#badCount += count;
    if (this.#badCells.length < MOST_LISTED) this.#badCells.push({ line, reason });
  }

  /** Takes note of the first line that says that the solution diverged. */
  diverges(line: number, raw: string): void {
    if (saysDiverged(raw)) this.#diverged ??= { line, reason: raw.slice(0, 100) };
  }

  /** A line that is not a row. */
  take(line: number, raw: string, r: LineRead): void {
    if (this.#headers.has(raw)) {
      this.#headerBefore.push(r.rows);
      this.#skip(line, "the header again");
    } else if (raw === "") {
      if (!r.atEnd || !this.last) this.#skip(line, "blank");
    } else if (/^(?:#|%|!|\/\/)/.test(raw)) this.#skip(line, "comment");
    else this.#skip(line, ...this.#wrong(raw, r));
  }

  /** What is wrong with a line that is neither blank nor a comment. */
  #wrong(raw: string, { fields, complete, good, bad, atEnd }: LineRead): [string, "text" | "damaged"] {
    const n = this.dialect.columns.length;
    if (this.last && atEnd && !complete && good > 0)
      return [`cut off: ${fields} of ${n} fields, the last line is still being written`, "damaged"];
    if (complete && bad === 0) return ["no values", "damaged"];
    const inBlanks = this.dialect.delimiter === "blanks";
    const kind = raw.includes("***") || (good > 0 && (!inBlanks || meantAsRow(raw))) ? "damaged" : "text";
    if (complete) return [`text where numbers are expected: ${excerpt(raw)}`, kind];
    const found = fields < n ? `${fields} field${fields === 1 ? "" : "s"}` : `more than ${n} fields`;
    return [`${found} where ${n} are expected: ${excerpt(raw)}`, kind];
  }

  #skip(line: number, reason: string, kind: "plain" | "text" | "damaged" = "plain"): void {
    this.#skippedCount++;
    if (kind === "damaged") this.#damagedCount++;
    if (kind === "text") this.#textCount++;
    // Damage is listed before all else: it is what has to be known.
    if (this.#skipped.length < MOST_LISTED || (kind === "damaged" && this.#damagedCount <= MOST_LISTED))
      this.#skipped.push({ line, reason, ...(kind === "damaged" && { damaged: true as const }) });
  }

  /** All that was taken down. */
  told(): Refused {
    return {
      skipped: this.#skipped,
      skippedCount: this.#skippedCount,
      damagedCount: this.#damagedCount,
      textCount: this.#textCount,
      badCells: this.#badCells,
      badCount: this.#badCount,
      headerBefore: this.#headerBefore,
      ...(this.#diverged && { diverged: this.#diverged }),
    };
  }
}
