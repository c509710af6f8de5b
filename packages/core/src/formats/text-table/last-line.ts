import type { Delimiter } from "./split.js";
import { splitLine } from "./split.js";

/**
 * Whether a last line that is a row but has no line end looks whole: a program that still writes it, or was killed, may
 * have left a number cut in two. A line looks whole when its last field is written like that of the line before: with
 * as many decimals (and as long an exponent), or, without decimals, with at least as many digits. A closing quote or
 * delimiter ends a field for certain. Without a line before it there is nothing to compare, and it counts as whole.
 *
 * @example looksWhole("2.0,301.25", "1.0,300.50", ",") // true
 * @example looksWhole("2.0,301.2", "1.0,300.50", ",") // false
 */
export function looksWhole(line: string, before: string | undefined, delimiter: Delimiter): boolean {
  if (before === undefined) return true;
  if (/["']$/.test(line) || (delimiter !== "blanks" && line.endsWith(delimiter))) return true;
  const last = splitLine(line, delimiter).at(-1);
  const earlier = splitLine(before, delimiter).at(-1);
  if (last === undefined || earlier === undefined) return true;
  const a = written.exec(last);
  const b = written.exec(earlier);
  if (!a || !b) return last.length === earlier.length;
  const [digits, decimals, exponent] = [1, 2, 3].map((k) => [(a[k] ?? "").length, (b[k] ?? "").length] as const);
  if (exponent![0] !== exponent![1]) return false;
  return b[2] === undefined && a[2] === undefined ? digits![0] >= digits![1] : decimals![0] === decimals![1];
}

/** Digits, decimals with their sign, and exponent of a number as it is written. */
const written = /^[+-]?(\d*)([.,]\d*)?([eEdD][+-]?\d*)?$/;
