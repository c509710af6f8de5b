import type { Condition } from "../../tables/condition.js";
import { makeTable, type Table, type Column } from "../../tables/table.js";
import { parseUnit } from "../../tables/units.js";
import { any, capture, either, literal, optional, sequence, set, some, TextPattern, type PatternNode } from "../../tables/text-pattern.js"; // prettier-ignore
import { FormatError, type ByteSource } from "../source.js";
import { parseWord } from "../text-table/decimal.js";

/** A place in a pattern: a number with a unit, or a word. */
export interface PatternField {
  readonly name: string;
  readonly kind: "number" | "text";
  readonly unit: string | null;
}

export interface LinePattern {
  readonly text: string;
  /** The values of its fields in a line that fits. */
  readonly find: (line: string) => string[] | undefined;
  readonly fields: readonly PatternField[];
}

const digit = set((c) => c >= 48 && c <= 57);
const sign = optional(set((c) => c === 43 || c === 45));
const isBlank = (c: number): boolean =>
  c === 32 || (c >= 9 && c <= 13) || (c >= 160 && /\s/.test(String.fromCharCode(c)));
const anything = set((c) => c !== 10 && c !== 13);
const number = capture(
  either(
    sequence(
      sign,
      either(sequence(some(digit), optional(literal(".")), any(digit)), sequence(literal("."), some(digit))),
      optional(
        sequence(
          set((c) => c === 69 || c === 101 || c === 68 || c === 100),
          sign,
          some(digit),
        ),
      ),
    ),
    sequence(sign, either(literal("nan", true), sequence(literal("inf", true), optional(literal("inity", true))))),
  ),
);
const word = capture(some(set((c) => !isBlank(c))));

/**
 * Compiles a pattern such as `Time = {time:s} T {T:K} {solver:text} …`.
 *
 * `{name}` is a number of unknown unit, `{name:unit}` a number in that unit, `{name:text}` a word; `…` or `...`
 * stands for anything. Blanks match any run of blanks. The pattern may match anywhere in a line.
 *
 * @throws FormatError when a name is used twice, a unit is none, or no field is named
 */
export function compilePattern(text: string): LinePattern {
  const fail = (what: string): never => {
    throw new FormatError("pattern", `pattern "${text}": ${what}`);
  };
  if (text.length > 500) fail("longer than 500 characters");
  const fields: PatternField[] = [];
  const parts: PatternNode[] = [];
  for (const part of text.split(/(\{[^{}]*\}|…|\.\.\.)/)) {
    if (part === "…" || part === "...") parts.push(any(anything, true));
    else if (part.startsWith("{") && part.endsWith("}")) {
      const [, name, kind] =
        /^\{\s*([^:{}]+?)\s*(?::\s*([^{}]+?)\s*)?\}$/.exec(part) ?? fail(`"${part}" names no field`);
      if (fields.some((f) => f.name === name)) fail(`"${name}" stands twice`);
      if (kind === "text") fields.push({ name: name!, kind: "text", unit: null });
      else {
        let unit: string | null = null;
        try {
          if (kind !== undefined) unit = parseUnit(kind).symbol;
        } catch (e) {
          fail((e as Error).message);
        }
        fields.push({ name: name!, kind: "number", unit });
      }
      parts.push(fields[fields.length - 1]!.kind === "text" ? word : number);
    } else
      for (const piece of part.split(/(\s+)/))
        if (piece !== "") parts.push(/^\s/.test(piece) ? any(set(isBlank)) : literal(piece, true));
  }
  if (fields.length === 0) fail("names no field; write {name} where a value stands");
  const compiled = new TextPattern(sequence(...parts));
  return { text, find: (line) => compiled.find(line), fields };
}

const CHUNK = 1024 * 1024;
const LONGEST = 20_000;

/**
 * Reads a table from lines of text by patterns, as from a solver's log.
 *
 * A line that the first pattern matches begins a row; the other patterns fill in the row under way. Values that a row
 * does not get are missing.
 */
export function readLines(source: ByteSource, patterns: readonly LinePattern[]): Table {
  const fields = patterns.flatMap((p) => p.fields);
  const seen = new Set<string>();
  for (const f of fields) {
    if (seen.has(f.name)) throw new FormatError(source.name, `"${f.name}" stands in two patterns`);
    seen.add(f.name);
  }
  const cells = new Map<string, (number | string)[]>(fields.map((f) => [f.name, []]));
  let rows = 0;
  let long = 0;
  const decoder = new TextDecoder("utf-8");
  let rest = "";
  const take = (line: string): void => {
    if (line.length > LONGEST) {
      long++;
      return;
    }
    patterns.forEach((p, k) => {
      if (k > 0 && rows === 0) return;
      const match = p.find(line);
      if (!match) return;
      if (k === 0) {
        for (const f of fields) cells.get(f.name)!.push(f.kind === "text" ? "" : Number.NaN);
        rows++;
      }
      p.fields.forEach(
        (f, i) => (cells.get(f.name)![rows - 1] = f.kind === "text" ? match[i]! : parseWord(match[i]!, false)),
      );
    });
  };
  for (let at = 0; at < source.size; at += CHUNK) {
    rest += decoder.decode(source.read(at, CHUNK), { stream: true });
    const lines = rest.split(/\r\n|\n|\r/);
    rest = lines.pop()!;
    if (rest.length > CHUNK) rest = rest.slice(0, LONGEST + 1);
    lines.forEach(take);
  }
  const open = rest !== "";
  if (open) take(rest);
  if (rows === 0)
    throw new FormatError(
      source.name,
      `no line fits "${patterns[0]!.text}"`,
      { line: 1 },
      "Compare the pattern with a line of the file; … stands for anything.",
    );
  const columns = fields.map((f): Column =>
    f.kind === "text"
      ? { kind: "text", name: f.name, values: cells.get(f.name) as string[] }
      : { kind: "number", name: f.name, unit: f.unit, values: Float64Array.from(cells.get(f.name) as number[]) },
  );
  const axis = fields[0]!.kind === "number" ? fields[0]!.name : undefined;
  const conditions: Condition[] = [];
  if (long > 0) conditions.push({ kind: "long lines", file: source.name, text: `${long} line${long === 1 ? "" : "s"} of over ${LONGEST} characters ${long === 1 ? "was" : "were"} not read` }); // prettier-ignore
  if (open) conditions.push({ kind: "unfinished line", file: source.name, text: "the last line has no line end; its last value may be cut off" }); // prettier-ignore
  const table = makeTable(columns, { axis, notes: [`read by pattern from ${rows} lines`] });
  return conditions.length > 0 ? { ...table, conditions } : table;
}
