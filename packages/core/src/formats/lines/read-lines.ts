import type { Condition } from "../../tables/condition.js";
import { maybeStop } from "../../tables/interruption.js";
import { makeTable, type Column, type Table } from "../../tables/table.js";
import { stepOf } from "../../tables/units.js";
import { divergedPhrases, saysDiverged } from "../diverged.js";
import { FormatError, type ByteSource } from "../source.js";
import { fieldStatus, parseWord } from "../text-table/decimal.js";
import { escaped, isPlain, type LinePattern } from "./pattern.js";
import { RowCells } from "./row-cells.js";

/** How lines that patterns match become rows. */
export interface LineOptions {
  /**
   * When a pattern matches several lines of one row: the first or the last value, all of them in columns `r`, `r#2`, …,
   * or one row per match with the values of the first pattern.
   */
  readonly several?: "first" | "last" | "all" | "rows" | undefined;
  /** Columns whose value holds on in the following rows until there is a new one. */
  readonly carry?: readonly string[] | undefined;
  /** Clocks and counters that go on rising: a column `name.increment` beside each has what a row adds. */
  readonly increments?: readonly string[] | undefined;
  /** Columns that count the lines of each row that hold a text, capitals and small letters alike. */
  readonly count?: Readonly<Record<string, string>> | undefined;
}

const CHUNK = 1024 * 1024;
const LONGEST = 20_000;
const MOST_COLUMNS = 1000;

/**
 * Reads a table from lines of text by patterns, as from a solver's log.
 *
 * A line that the first pattern matches begins a row; the other patterns fill in the row under way. Values that a row
 * does not get are missing. How often each pattern matched stands in the notes; a pattern without a match, several
 * matches in one row of which one was taken, and matches before the first row are conditions.
 *
 * @throws FormatError when no line matches the first pattern, or a carried column is not there
 */
export function readLines(source: ByteSource, patterns: readonly LinePattern[], options: LineOptions = {}): Table {
  const rows = new LineRows(source.name, patterns, options);
  for (let at = 0; at < source.size; at += CHUNK) {
    maybeStop();
    rows.append(source.read(at, CHUNK));
  }
  return rows.table(true);
}

/** What each row of a rising column adds to the row before: nothing is known of the first one. */
function incrementsOf(c: Column): { column: Column; note: string } {
  const given = c.kind === "number" ? c.values : new Float64Array(0);
  const values = new Float64Array(given.length).fill(Number.NaN);
  let [before, restarts] = [Number.NaN, 0];
  for (let i = 0; i < given.length; i++) {
    const v = given[i]!;
    if (v !== v) continue;
    // A clock that stands lower than before has begun anew, as after a restart.
    if (v < before) restarts++;
    values[i] = v < before ? v : v - before;
    before = v;
  }
  const name = `${c.name}.increment`;
  const anew = restarts > 0 ? `; "${c.name}" begins anew ${restarts} time${restarts === 1 ? "" : "s"}` : "";
  const unit = c.kind === "number" ? stepOf(c.unit).unit : null;
  return {
    column: { kind: "number", name, unit, values },
    note: `"${name}" is what "${c.name}" adds from row to row${anew}`,
  };
}

/** Gathers the rows of one file, whose bytes are given piece by piece: of a whole file, or as it grows. */
export class LineRows {
  #decoder = new TextDecoder("utf-8");
  #rest = "";
  /** Finds lines that are worth a look; undefined where a pattern may fit any line. */
  readonly #candidates: RegExp | undefined;

  readonly #cells = new Map<string, RowCells>();
  readonly #counted: { readonly text: string; readonly pattern: RegExp; readonly rows: RowCells; total: number }[] = [];
  /** Lines that are counted, before the first row. */
  #countedEarly = 0;
  readonly #matches: number[];
  readonly #repeated: number[];
  readonly #early: number[];
  /** How often each pattern has matched in the row under way. */
  #inRow: number[];
  #rows = 0;
  #lines = 0;
  #long = 0;
  #bad = 0;
  #firstBad = "";
  #diverged: string | undefined;

  constructor(
    private readonly name: string,
    private readonly patterns: readonly LinePattern[],
    private readonly options: LineOptions,
  ) {
    for (const f of patterns.flatMap((p) => p.fields)) {
      if (this.#cells.has(f.name)) throw new FormatError(name, `"${f.name}" is a field of two patterns`);
      this.#cells.set(f.name, new RowCells(f.name, f.kind, f.unit));
    }
    for (const [column, text] of Object.entries(options.count ?? {})) {
      if (this.#cells.has(column)) throw new FormatError(name, `"${column}" is a field of a pattern and a count`);
      if (text === "") throw new FormatError(name, `"${column}" counts lines with an empty text`);
      const rows = new RowCells(column, "number", "1", 0);
      this.#counted.push({ text, pattern: new RegExp(escaped(text), "i"), rows, total: 0 });
    }
    for (const c of options.carry ?? [])
      if (!this.#cells.has(c)) throw new FormatError(name, `"${c}" cannot be carried: it is not a field of a pattern`);
    for (const c of options.increments ?? [])
      if (this.#cells.get(c)?.kind !== "number")
        throw new FormatError(name, `"${c}" has no increments: it is not a number of a pattern`);
    this.#matches = patterns.map(() => 0);
    this.#repeated = patterns.map(() => 0);
    this.#early = patterns.map(() => 0);
    this.#inRow = patterns.map(() => 0);
    const needs = [
      ...patterns.map((p) => p.needs),
      ...this.#counted.map((c) => (isPlain(c.text) ? escaped(c.text) : undefined)),
    ];
    if (needs.every((n) => n !== undefined))
      this.#candidates = new RegExp([...needs, divergedPhrases.source].join("|"), "gi");
  }

  /** Takes the next bytes of the file; what stands behind the last line end waits for the rest of its line. */
  append(bytes: Uint8Array): void {
    const text = this.#rest + this.#decoder.decode(bytes, { stream: true });
    const last = text.lastIndexOf("\n") + 1;
    if (this.#candidates && last > 0 && !text.includes("\r")) {
      this.#takeAll(text.slice(0, last), this.#candidates);
      this.#rest = text.slice(last);
      if (this.#rest.length > CHUNK) this.#rest = this.#rest.slice(0, LONGEST + 1);
      return;
    }
    // A carriage return at the end may be the first half of a line end.
    const half = text.endsWith("\r") ? 1 : 0;
    const lines = text.slice(0, text.length - half).split(/\r\n|\n|\r/);
    this.#rest = lines.pop()! + (half === 1 ? "\r" : "");
    if (this.#rest.length > CHUNK) this.#rest = this.#rest.slice(0, LONGEST + 1);
    for (const line of lines) this.#take(line);
  }

  /** Takes whole lines that end by line feeds: those are looked at that hold what a pattern needs. */
  #takeAll(text: string, candidates: RegExp): void {
    candidates.lastIndex = 0;
    let next = candidates.exec(text)?.index ?? Infinity;
    for (let at = 0; at < text.length;) {
      const end = text.indexOf("\n", at);
      if (end - at > LONGEST || next < end) {
        this.#take(text.slice(at, end));
        candidates.lastIndex = end;
        if (next < end) next = candidates.exec(text)?.index ?? Infinity;
      } else this.#lines++;
      at = end + 1;
    }
  }

  #take(line: string): void {
    this.#lines++;
    if (line.length > LONGEST) {
      this.#long++;
      return;
    }
    if (this.#diverged === undefined && saysDiverged(line))
      this.#diverged = `line ${this.#lines} says "${line.trim().slice(0, 100)}"`;
    this.#patterns(line);
    if (this.#counted.length > 0) this.#count(line);
  }

  /** Counts a line in the row under way; what the row's own line holds belongs to it. */
  #count(line: string): void {
    for (const c of this.#counted) {
      if (!c.pattern.test(line)) continue;
      if (this.#rows === 0) this.#countedEarly++;
      else {
        c.rows.add(this.#rows - 1, 1);
        c.total++;
      }
    }
  }

  #patterns(line: string): void {
    this.patterns.forEach((p, k) => {
      const match = p.find(line);
      if (!match) return;
      this.#matches[k]!++;
      if (k === 0) this.#begin();
      else if (this.#rows === 0) {
        this.#early[k]!++;
        return;
      }
      const count = ++this.#inRow[k]!;
      if (count > 1 && !this.#again(k, count)) return;
      p.fields.forEach((f, i) => {
        const cell = f.kind === "text" ? match[i]! : this.#number(match[i]!, f.name);
        const name = this.options.several === "all" && count > 1 ? `${f.name}#${count}` : f.name;
        let cells = this.#cells.get(name);
        if (!cells) this.#cells.set(name, (cells = new RowCells(name, f.kind, f.unit)));
        cells.set(this.#rows - 1, cell);
      });
    });
  }

  /** Whether text waits for the end of its line. */
  get open(): boolean {
    return this.#rest.trim() !== "";
  }

  /** About how much memory the rows take, bytes. */
  get held(): number {
    return 16 * this.#rows * this.#cells.size;
  }

  #begin(): void {
    this.#rows++;
    this.#inRow = this.patterns.map(() => 0);
  }

  /** A further match in one row. @returns whether its values are to be taken */
  #again(k: number, count: number): boolean {
    const { several } = this.options;
    if (several === "first") return false;
    if (several === "all") {
      if (count > MOST_COLUMNS)
        throw new FormatError(
          this.name,
          `"${this.patterns[k]!.text}" matches more than ${MOST_COLUMNS} lines of one row; use { several: "rows" }`,
        );
      return true;
    }
    if (several !== "rows") {
      if (several === undefined) this.#repeated[k]!++;
      return true;
    }
    // The new row has the values of the first pattern, and waits for its own of all others.
    const last = this.#rows - 1;
    this.#rows++;
    for (const f of this.patterns[0]!.fields) this.#cells.get(f.name)!.copy(last, last + 1);
    this.#inRow = this.patterns.map((_, i) => (i === 0 || i === k ? 1 : 0));
    return true;
  }

  #number(text: string, field: string): number {
    // Most numbers are written as this language has them.
    const plain = Number(text);
    if (Number.isFinite(plain)) return plain;
    const value = parseWord(text, false);
    if (fieldStatus !== 0 && !/nan/i.test(text)) {
      this.#bad++;
      if (this.#bad === 1) this.#firstBad = `line ${this.#lines}, "${field}" is "${text}"`;
    }
    return value;
  }

  /**
   * The table of what was given so far.
   *
   * @param ended whether the file ends here, so that text behind the last line end is a line; the table is the last
   *   one then. Without, a line that is not whole waits, and the table holds until the next bytes are given.
   */
  table(ended: boolean): Table {
    const open = ended && this.#rest !== "" && !this.#rest.endsWith("\r");
    if (ended && this.#rest !== "") this.#take(this.#rest.replace(/\r$/, ""));
    if (this.#rows === 0)
      throw new FormatError(
        this.name,
        `no line matches "${this.patterns[0]!.text}"`,
        { line: 1 },
        "Compare the pattern with a line of the file; … stands for anything.",
      );
    const columns = [
      ...[...this.#cells.values()].map((c) =>
        c.column(this.#rows, this.options.carry?.includes(c.name) === true, ended),
      ),
      ...this.#counted.map((c) => c.rows.column(this.#rows, false, ended)),
    ];
    const increments = (this.options.increments ?? []).map((c) => incrementsOf(columns.find((x) => x.name === c)!));
    columns.push(...increments.map((i) => i.column));
    const first = this.patterns[0]!.fields[0]!;
    const table = makeTable(columns, {
      axis: first.kind === "number" ? first.name : undefined,
      notes: [...this.#notes(), ...increments.map((i) => i.note)],
    });
    const conditions = [...this.#conditions(open), ...this.#stepsBack(table)];
    return conditions.length > 0 ? { ...table, conditions } : table;
  }

  /** An axis that steps back, as after a restart: rows of several passes stand one below the other. */
  #stepsBack({ axis, columns }: Table): Condition[] {
    const c = columns.find((x) => x.name === axis);
    if (c?.kind !== "number") return [];
    const x = c.values;
    let rises = 0;
    let back = 0;
    let row = 0;
    for (let i = 1; i < x.length; i++) {
      if (x[i]! > x[i - 1]!) rises++;
      else if (x[i]! < x[i - 1]! && back++ === 0) row = i;
    }
    // What runs down, or to and fro, is not a restart.
    if (back === 0 || back > rises) return [];
    const times = `${back} time${back === 1 ? "" : "s"}, at first in row ${row + 1}`;
    const text = `"${c.name}" steps back ${times}: rows of several passes stand one below the other; keep those of one`;
    return [{ kind: "restart", file: this.name, text }];
  }

  #notes(): string[] {
    const counts = this.patterns.map((p, k) => `"${p.text}" ${this.#matches[k]}`);
    const early = this.#countedEarly;
    return [
      `lines matched per pattern: ${counts.join(", ")}; ${this.#rows} rows`,
      ...this.#counted.map((c) => `"${c.rows.name}" counts the lines with "${c.text}": ${c.total}`),
      ...(early > 0 ? [`${early} of the counted lines stand before the first row and are in none`] : []),
    ];
  }

  #conditions(open: boolean): Condition[] {
    const out: Condition[] = [];
    const add = (kind: Condition["kind"], text: string): void => void out.push({ kind, file: this.name, text });
    const lines = (n: number): string => `${n} line${n === 1 ? "" : "s"}`;
    this.patterns.forEach((p, k) => {
      if (this.#matches[k] === 0) add("pattern without match", `no line matches "${p.text}"; its columns are missing`);
      if (this.#repeated[k]! > 0)
        add(
          "several matches",
          `"${p.text}" matches ${lines(this.#repeated[k]!)} more than there are rows for; the last of each ` +
            `row is taken; { several: "first", "last", "all" or "rows" } decides`,
        );
      if (this.#early[k]! > 0)
        add("several matches", `"${p.text}" matches ${lines(this.#early[k]!)} before the first row; they are not read`);
    });
    if (this.#diverged !== undefined) add("diverged", this.#diverged);
    if (this.#bad > 0)
      add(
        "missing cells",
        `${this.#bad} ${this.#bad === 1 ? "value is not a number and counts" : "values are not numbers and count"} as ` +
          `missing (grouped digits, a time of day, or asterisks where a number did not fit); the first: ${this.#firstBad}`,
      );
    if (this.#long > 0) add("long lines", `${lines(this.#long)} of over ${LONGEST} characters not read`);
    if (open) add("unfinished line", "the last line has no line end; its last value may be cut off");
    return out;
  }
}
