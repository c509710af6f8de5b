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
  /** The values of its fields in a line that fits. */
  readonly find: (line: string) => string[] | undefined;
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
 * them is never taken for a number; they are no numbers and give a missing value with a condition.
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
  const isField = (p: string | undefined): boolean => p !== undefined && p.startsWith("{") && p.endsWith("}");
  const isAnything = (p: string | undefined): boolean => p === "…" || p === "...";
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
      // Blanks beside a field separate it from what stands before; beside a sign such as = they may be missing.
      const separates =
        (isField(before) && !/^[^\w\s]/.test(after ?? "=")) || (isField(after) && !/[^\w\s]$/.test(before ?? "="));
      parts.push(separates && !isAnything(before) && !isAnything(after) ? some(set(isBlank)) : any(set(isBlank)));
    } else parts.push(literal(part, true));
  });
  if (fields.length === 0) fail("names no field; write {name} where a value stands");
  const compiled = new TextPattern(sequence(...parts));
  return { text, find: (line) => compiled.find(line), fields };
}
