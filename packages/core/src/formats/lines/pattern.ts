import { parseUnit } from "../../tables/units.js";
import {
  any,
  capture,
  either,
  literal,
  optional,
  sequence,
  set,
  some,
  TextPattern,
  where,
  type PatternNode,
} from "../../tables/text-pattern.js";
import { FormatError } from "../source.js";

/** A place in a pattern: a number with a unit, or a word. */
export interface PatternField {
  readonly name: string;
  readonly kind: "number" | "text";
  readonly unit: string | null;
}

export interface LinePattern {
  readonly text: string;
  /** The same as `find` by the matcher alone, whose work is bounded for any text. */
  readonly findSlowly: (line: string) => string[] | undefined;
  /** The values of its fields in a line that fits. */
  readonly find: (line: string) => string[] | undefined;
  /** A part of a regular expression that fits every line that the pattern fits; undefined where there is none. */
  readonly needs: string | undefined;
  readonly fields: readonly PatternField[];
}

const digit = set((c) => c >= 48 && c <= 57);
const sign = optional(set((c) => c === 43 || c === 45));
const isBlank = (c: number): boolean =>
  c === 32 || (c >= 9 && c <= 13) || (c >= 160 && /\s/.test(String.fromCharCode(c)));
const anything = set((c) => c !== 10 && c !== 13);
const oneOf = (chars: string): PatternNode => set((c) => chars.includes(String.fromCharCode(c)));
const isDigit = (text: string, at: number): boolean => /^\d$/.test(text[at] ?? "");
/** Where no further digit follows, not even behind a point. */
const ended = where((text, at) => !isDigit(text, at) && !(text[at] === "." && isDigit(text, at + 1)));
const exponent = either(
  sequence(oneOf("eEdD"), sign, some(digit)),
  // Fortran leaves the letter out where the exponent has three digits: 1.5-103.
  sequence(oneOf("+-"), digit, digit, optional(digit), ended),
);
const decimal = sequence(
  sign,
  either(
    sequence(some(digit), literal("."), any(digit), optional(exponent)),
    sequence(literal("."), some(digit), optional(exponent)),
    sequence(some(digit), optional(sequence(oneOf("eEdD"), sign, some(digit)))),
  ),
);
const special = sequence(
  sign,
  either(literal("nan", true), sequence(literal("inf", true), optional(literal("inity", true)))),
);

/** Stars stand for a number that had no room: there was one, and it is lost. */
const overflow = sequence(sign, literal("**"), any(oneOf("*")));

/**
 * A number of a line. Digits in groups (1,250), times of day (12:30:05) and dates are taken whole, so that a part of
 * them is never taken for a number; they are not numbers and give a missing value with a condition.
 *
 * @param next the character that the pattern has behind the number: it separates fields and groups no digits
 */
function numberField(next: string): PatternNode {
  const groups = [..."',:"].filter((c) => c !== next).join("");
  const wide = sequence(
    sign,
    some(digit),
    some(sequence(oneOf(groups), some(digit))),
    optional(sequence(literal("."), any(digit))),
  );
  const whole = where((text, at) => {
    const c = text[at] ?? "";
    return (
      !isDigit(text, at) && !((groups.includes(c) || c === ".") && c !== "" && c !== next && isDigit(text, at + 1))
    );
  });
  return capture(either(...(groups === "" ? [] : [wide]), sequence(either(decimal, special), whole), overflow));
}

/**
 * Where a number may begin that nothing but the pattern's own start or `…` stands before: not inside another number.
 */
const fresh = where((text, at) => at === 0 || !/(?:[\d.]|\d[-+,:'])$/.test(text.slice(Math.max(0, at - 2), at)));
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
  const pieces = text.split(/(\{[^{}]*\}|…|\.\.\.|\s+)/).filter((p) => p !== "");
  pieces.forEach((part, k) => {
    const before = pieces[k - 1];
    const after = pieces[k + 1];
    if (isAnything(part)) parts.push(any(anything, true));
    else if (isField(part)) {
      const [, name, kind] =
        /^\{\s*([^:{}]+?)\s*(?::\s*([^{}]+?)\s*)?\}$/.exec(part) ?? fail(`"${part}" names no field`);
      if (fields.some((f) => f.name === name)) fail(`the field "${name}" occurs twice`);
      if (kind === "text") {
        fields.push({ name: name!, kind: "text", unit: null });
        parts.push(word);
      } else {
        let unit: string | null = null;
        try {
          if (kind !== undefined) unit = parseUnit(kind).symbol;
        } catch (e) {
          fail((e as Error).message);
        }
        fields.push({ name: name!, kind: "number", unit });
        if (before === undefined || isAnything(before)) parts.push(fresh);
        parts.push(numberField(after !== undefined && !isField(after) ? after[0]! : ""));
      }
    } else if (/^\s/.test(part)) {
      parts.push(blanksSeparate(before, after) ? some(set(isBlank)) : any(set(isBlank)));
    } else parts.push(literal(part, true));
  });
  if (fields.length === 0) fail("names no field; write {name} where a value stands");
  const compiled = new TextPattern(sequence(...parts));
  const quick = quickPattern(pieces);
  const needs = neededPart(pieces);
  const needed = needs === undefined ? undefined : new RegExp(needs, "i");
  const find = (line: string): string[] | undefined => {
    if (needed && !needed.test(line)) return undefined;
    if (!quick || line.length > quick.longest) return compiled.find(line);
    return quick.pattern.exec(line)?.slice(1);
  };
  return { text, find, needs, findSlowly: (line) => compiled.find(line), fields };
}

const isField = (p: string | undefined): boolean => p !== undefined && p.startsWith("{") && p.endsWith("}");
const isAnything = (p: string | undefined): boolean => p === "…" || p === "...";
/** The longest part between two fields, as a regular expression: most lines do not have it. */
function neededPart(pieces: readonly string[]): string | undefined {
  let best = { length: 0, source: "" };
  let run = { length: 0, source: "" };
  pieces.forEach((part, k) => {
    if (isField(part) || isAnything(part) || !isPlain(part)) run = { length: 0, source: "" };
    else if (/^\s/.test(part)) {
      // Blanks at its ends tell nothing.
      const next = pieces[k + 1];
      const inside = run.length > 0 && next !== undefined && !isField(next) && !isAnything(next) && isPlain(next);
      if (inside) run = { ...run, source: run.source + (blanksSeparate(pieces[k - 1], next) ? "\\s+" : "\\s*") };
    } else {
      run = { length: run.length + part.length, source: run.source + escaped(part) };
      if (run.length > best.length) best = run;
    }
  });
  return best.length === 0 ? undefined : best.source;
}

/** Letters in which capitals and small ones are the same for a regular expression as for the matcher. */
export const isPlain = (text: string): boolean => /^[\x20-\x7e]*$/.test(text);
/** A text as a part of a regular expression. */
export const escaped = (text: string): string => text.replace(/[.*+?^${}()|[\]\\/]/g, "\\$&");

const ENDED = "(?!\\d)(?!\\.\\d)";
const EXPONENT = `(?:[ed][+-]?\\d+|[+-]\\d\\d\\d?${ENDED})`;
const DECIMAL = `[+-]?(?:\\d+\\.\\d*${EXPONENT}?|\\.\\d+${EXPONENT}?|\\d+(?:[ed][+-]?\\d+)?)`;
const SPECIAL = "[+-]?(?:nan|inf(?:inity)?)";
const OVERFLOW = "[+-]?\\*{2,}";
const FRESH = "(?<![\\d.])(?<!\\d[-+,:'])";

/** The same as {@link numberField}, as a regular expression. */
function quickNumber(next: string): string {
  const groups = [..."',:"].filter((c) => c !== next).join("");
  const wide = groups === "" ? "" : `[+-]?\\d+(?:[${groups}]\\d+)+(?:\\.\\d*)?|`;
  const marks = `${groups}${next === "." ? "" : "."}`;
  const whole = `(?!\\d)${marks === "" ? "" : `(?![${marks}]\\d)`}`;
  return `(${wide}(?:${DECIMAL}|${SPECIAL})${whole}|${OVERFLOW})`;
}

/** Lines up to which a pattern may be tried as a regular expression, by how often it has `…`: work stays bounded. */
const QUICK_LENGTHS = [1000, 500, 250];

/**
 * The pattern as a regular expression, which finds the same some ten times as fast; undefined where its work could grow
 * out of bounds, or its letters are not plain.
 */
function quickPattern(pieces: readonly string[]): { pattern: RegExp; longest: number } | undefined {
  const longest = QUICK_LENGTHS[pieces.filter(isAnything).length];
  if (longest === undefined || !pieces.every((p) => isAnything(p) || isField(p) || /^\s/.test(p) || isPlain(p)))
    return undefined;
  const source = pieces.map((part, k) => {
    const before = pieces[k - 1];
    const after = pieces[k + 1];
    if (isAnything(part)) return "[^\\n\\r]*?";
    if (isField(part)) {
      if (/:\s*text\s*\}$/.test(part)) return "(\\S+)";
      const start = before === undefined || isAnything(before) ? FRESH : "";
      return start + quickNumber(after !== undefined && !isField(after) ? after[0]! : "");
    }
    if (/^\s/.test(part)) return blanksSeparate(before, after) ? "\\s+" : "\\s*";
    return escaped(part);
  });
  return { pattern: new RegExp(source.join(""), "i"), longest };
}

/**
 * Whether there have to be blanks: beside a field they separate it from what stands before; beside a sign such as =
 * they may be missing.
 */
function blanksSeparate(before: string | undefined, after: string | undefined): boolean {
  const separates =
    (isField(before) && !/^[^\w\s]/.test(after ?? "=")) || (isField(after) && !/[^\w\s]$/.test(before ?? "="));
  return separates && !isAnything(before) && !isAnything(after);
}
