import { tryParseUnit } from "../../tables/units.js";
import type { UnitSymbol } from "../../tables/table.js";
import { splitLine, type Delimiter } from "./split.js";

/** What stands over the numbers. */
export interface Header {
  readonly names: readonly string[];
  readonly units: readonly UnitSymbol[];
  /** 0-based indices of the lines used. */
  readonly lines: readonly number[];
  readonly notes: readonly string[];
}

const commentSign = /^\s*(?:#+|%+|!+|\/\/|\*+|"(?=[^"]*$))\s*/;
const ruler = /^[\s\-=_*#+|:.~]*$/;
const bracketed = /^[[(](.*)[\])]$/;

export const stripComment = (line: string): string => line.replace(commentSign, "");
export const isComment = (line: string): boolean => /^\s*(?:#|%|!|\/\/)/.test(line);

/**
 * Where the bracket begins that a text ends with: square ones hold no others, round ones pairs one deep. -1 for none.
 */
function bracketAtEnd(text: string): number {
  const last = text.length - 1;
  if (text[last] === "]") {
    const open = text.lastIndexOf("[", last);
    return open >= 0 && text.indexOf("]", open) === last ? open : -1;
  }
  if (text[last] !== ")") return -1;
  let depth = 0;
  for (let k = last; k >= 0; k--) {
    if (text[k] === ")" && ++depth > 2) return -1;
    if (text[k] === "(" && --depth === 0) return k;
  }
  return -1;
}

const charge = /charge|coulomb|^q$/i;

/** A unit as heads of tables have it: there `C` alone is degrees Celsius, but for a charge. */
function headerUnit(text: string, name: string): ReturnType<typeof tryParseUnit> {
  return tryParseUnit(text === "C" && !charge.test(name) ? "degC" : text);
}

/**
 * `time/s`, `p/kPa`: a quantity over its unit, as standards write it. Units of one letter that are as often a length, a
 * diameter or a height (`x/L`, `y/h`) are not taken for one.
 */
function slashed(text: string): { name: string; unit: UnitSymbol } | undefined {
  const at = text.indexOf("/");
  if (at < 1 || /\s/.test(text)) return undefined;
  const right = text.slice(at + 1).replace(/^\((.*)\)$/, "$1");
  if (/^[^sKWN°%]$/.test(right) || tryParseUnit(text)) return undefined;
  const unit = headerUnit(right, text.slice(0, at));
  return unit && { name: text.slice(0, at), unit: unit.symbol };
}

/** A name with its unit split off: `T_mean [K]`, `Time (s)`; parentheses that hold no unit stay in the name. */
export function splitUnit(text: string): { name: string; unit: UnitSymbol } {
  const trimmed = text.trim();
  const open = bracketAtEnd(trimmed);
  if (open < 0) return slashed(trimmed) ?? { name: trimmed, unit: null };
  const name = trimmed.slice(0, open).trimEnd();
  if (name === "") return { name: trimmed, unit: null };
  const inner = trimmed.slice(open + 1, -1).trim();
  const unit = headerUnit(inner, name);
  if (unit) return { name, unit: unit.symbol };
  return trimmed[open] === "[" && inner === "" ? { name, unit: null } : { name: trimmed, unit: null };
}

const unitLike = (token: string): boolean => {
  const inner = bracketed.exec(token.trim())?.[1] ?? token;
  return inner.trim() === "" || tryParseUnit(inner.trim()) !== undefined || bracketed.test(token.trim());
};

/** The tokens of a line over a table of n columns, by the ways a header may be set; undefined when none gives n. */
function headTokens(line: string, n: number, delimiter: Delimiter): string[] | undefined {
  const stripped = stripComment(line).trimEnd();
  const tries =
    delimiter === "blanks"
      ? [
          mergeUnits(splitLine(stripped, "blanks"), n),
          stripped.trim().split(/\s{2,}|\t/),
          ...([",", ";", "|"] as const).map((d) => splitLine(stripped, d)),
        ]
      : [splitLine(stripped, delimiter), splitLine(stripped.replace(/[,;|]$/, ""), delimiter)];
  for (const tokens of tries) if (tokens.length === n) return tokens;
  return undefined;
}

/** `Time (s) T mean [K]` splits at blanks; a bracketed token belongs to the name before it. */
function mergeUnits(tokens: readonly string[], n: number): string[] {
  if (tokens.length <= n) return [...tokens];
  const out: string[] = [];
  let open = false;
  for (const t of tokens) {
    if (out.length > 0 && (open || /^[[(]/.test(t))) {
      out[out.length - 1] += " " + t;
      open = open ? !/[\])]$/.test(t) : !/[\])]$/.test(t);
    } else out.push(t);
  }
  return out;
}

/**
 * Finds the header of a table of n columns whose first data line is `first`.
 *
 * @param isNumeric whether a token is a number, so that a row of numbers is not taken for names
 */
export function findHeader(
  lines: readonly string[],
  first: number,
  n: number,
  delimiter: Delimiter,
  isNumeric: (t: string) => boolean,
): Header {
  return headerOf(headerRows(lines, first, n, delimiter, isNumeric), n);
}

/**
 * The first row of a table whose first whole row is `first`: damaged ones may stand above it, under the header. They
 * begin with a number and are numbers for the most part, however many fields they have.
 */
export function firstRow(
  lines: readonly string[],
  first: number,
  n: number,
  delimiter: Delimiter,
  isNumeric: (t: string) => boolean,
): number {
  let at = first;
  for (let i = first - 1; i >= 0 && i >= first - 12; i--) {
    const line = lines[i]!;
    if (isComment(line) || ruler.test(line)) continue;
    const tokens = splitLine(line, delimiter);
    const numbers = tokens.slice(0, n).filter((t) => t !== "" && isNumeric(t)).length;
    const isRow =
      isNumeric(tokens[0] ?? "") && (tokens.length < n ? numbers === tokens.length && n > 1 : 2 * numbers >= n);
    if (!isRow) break;
    at = i;
  }
  return at < first && headerRows(lines, at, n, delimiter, isNumeric).length > 0 ? at : first;
}

interface HeaderRow {
  readonly tokens: string[];
  readonly line: number;
}

/** The lines over a table that hold as many words as it has columns, from below. */
function headerRows(
  lines: readonly string[],
  first: number,
  n: number,
  delimiter: Delimiter,
  isNumeric: (t: string) => boolean,
): HeaderRow[] {
  const rows: HeaderRow[] = [];
  for (let i = first - 1; i >= 0 && i >= first - 12 && rows.length < 3; i--) {
    const line = lines[i]!;
    if (ruler.test(line)) continue;
    const tokens = headTokens(line, n, delimiter);
    if (
      tokens === undefined ||
      tokens.every((t) => t !== "" && isNumeric(t)) ||
      (n > 2 && tokens.filter((t) => isNumeric(t)).length > n / 2)
    )
      break;
    rows.push({ tokens, line: i });
  }
  return rows;
}

function headerOf(rows: readonly HeaderRow[], n: number): Header {
  if (rows.length === 0) return unnamed(n, []);
  const notes: string[] = [];
  let units: UnitSymbol[] | undefined;
  let used = rows;
  if (rows.length > 1 && rows[0]!.tokens.every(unitLike) && rows[0]!.tokens.some((t) => t !== "")) {
    units = rows[0]!.tokens.map((t, k) => unitOf(t, rows[1]!.tokens[k] ?? ""));
    used = rows.slice(1);
    notes.push(`units are read from line ${rows[0]!.line + 1}`);
    rows[0]!.tokens.forEach((t, k) => {
      if (units![k] === null && !/^\W*$/.test(t))
        notes.push(
          `"${rows[1]!.tokens[k] ?? `c${k + 1}`}": "${t}" in line ${rows[0]!.line + 1} is not a known ` +
            "unit; the unit of the column is unknown",
        );
    });
  }
  let raw = used[0]!.tokens;
  const taken = [used[0]!.line];
  if (n === 1 && used.length > 1) used = used.slice(0, 1);
  const above = used[1];
  if (above && needsMore(raw)) {
    let group = "";
    raw = raw.map((t, k) => {
      if (above.tokens[k] !== "") group = above.tokens[k]!;
      return [group, t].filter((x) => x !== "").join(" ");
    });
    taken.push(above.line);
    notes.push(`names are put together from lines ${above.line + 1} and ${used[0]!.line + 1}`);
  }
  const parts = raw.map((t) => splitUnit(t.replace(/^"|"$/g, "")));
  const names = unique(
    parts.map((p, k) => p.name || `c${k + 1}`),
    notes,
  );
  // What stands in square brackets is meant as a unit: one that is not known is said, and stays in the name.
  for (const p of parts) {
    const meant = p.unit === null ? /\[([^[\]]+)\]$/.exec(p.name)?.[1] : undefined;
    if (meant !== undefined)
      notes.push(`"${p.name}": "${meant}" is not a known unit; the unit of the column is unknown`);
  }
  return {
    names,
    units: parts.map((p, k) => units?.[k] ?? p.unit),
    lines: [...taken, ...(units ? [rows[0]!.line] : [])],
    notes,
  };
}

const needsMore = (tokens: readonly string[]): boolean =>
  new Set(tokens).size < tokens.length || tokens.some((t) => t === "");

function unitOf(token: string, name: string): UnitSymbol {
  const inner = (bracketed.exec(token.trim())?.[1] ?? token).trim();
  return inner === "" ? null : (headerUnit(inner, name)?.symbol ?? null);
}

function unique(names: readonly string[], notes: string[]): string[] {
  const seen = new Map<string, number>();
  return names.map((name) => {
    const k = (seen.get(name) ?? 0) + 1;
    seen.set(name, k);
    if (k === 1) return name;
    let fresh = `${name}#${k}`;
    while (names.includes(fresh)) fresh += "#";
    notes.push(
      `"${name}" stands more than once in the header; the ${k}${k === 2 ? "nd" : k === 3 ? "rd" : "th"} is called "${fresh}"`,
    );
    return fresh;
  });
}

/** Names for a table without a header. */
export function unnamed(n: number, notes: readonly string[]): Header {
  return {
    names: Array.from({ length: n }, (_, k) => `c${k + 1}`),
    units: Array<UnitSymbol>(n).fill(null),
    lines: [],
    notes: [...notes, "no header: columns are called c1, c2, …"],
  };
}
