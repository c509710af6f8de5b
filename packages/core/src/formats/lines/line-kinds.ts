import { tryParseUnit } from "../../tables/units.js";
import type { ByteSource } from "../source.js";
import { number, type NumberInLine } from "../../tables/line-pattern.js";
import { compilePattern, type LinePattern } from "./pattern.js";

/** Lines that differ in their numbers only. */
export interface LineKind {
  /** The last line of the kind. */
  readonly text: string;
  readonly count: number;
  readonly numbers: readonly NumberInLine[];
}

const HEAD = 256 * 1024;
const LONGEST = 1000;
const MOST_KINDS = 200;

/**
 * The numbers of a line. One is called by the word before it, as in `dT 2.8e-6`, `time = 3 s` and `max(U): 4`; a unit
 * is what stands behind it, if it is one.
 *
 * @example numbersIn("t 30 s | it 6").map((n) => n.name) // ["t", "it"]
 */
export function numbersIn(line: string): NumberInLine[] {
  const taken = new Map<string, number>();
  return [...line.matchAll(number)].map((m, k) => {
    const before = line.slice(0, m.index).replace(/[\s=:|,;([]+$/, "");
    const word = /[\p{L}_][\p{L}\p{N}_]*\)?$/u.exec(before)?.[0].replace(/\)$/, "") ?? `value${k + 1}`;
    const count = (taken.get(word) ?? 0) + 1;
    taken.set(word, count);
    const end = m.index + m[0].length;
    const after = /^\s?([^\s|,;:()[\]]+)/.exec(line.slice(end))?.[1];
    const unit = after !== undefined && !/^\d/.test(after) && tryParseUnit(after) !== undefined ? after : null;
    return { start: m.index, end, name: count === 1 ? word : `${word}${count}`, unit };
  });
}

/** The start and the end of a text, which are looked at to know its kinds of lines. */
function seenOf(source: ByteSource): { text: string; bytes: number } {
  const decoder = new TextDecoder();
  if (source.size <= 2 * HEAD) return { text: decoder.decode(source.read(0, source.size)), bytes: source.size };
  const head = decoder.decode(source.read(0, HEAD));
  const tail = decoder.decode(source.read(source.size - HEAD, HEAD));
  const whole = (t: string, from: number, to: number): string => t.slice(from, to);
  return {
    text: whole(head, 0, head.lastIndexOf("\n") + 1) + whole(tail, tail.indexOf("\n") + 1, tail.length),
    bytes: 2 * HEAD,
  };
}

/** The kinds of lines of a log that hold numbers, most frequent first; of a large one by its start and its end. */
export function lineKinds(source: ByteSource): { kinds: LineKind[]; seen: number } {
  const { text, bytes } = seenOf(source);
  const kinds = new Map<string, { text: string; count: number }>();
  for (const line of text.split(/\r\n|\n|\r/)) {
    if (line.length > LONGEST || line.trim() === "") continue;
    const key = line.replace(number, "#").replace(/\s+/g, " ");
    if (!key.includes("#")) continue;
    const known = kinds.get(key);
    if (!known && kinds.size >= MOST_KINDS) continue;
    kinds.set(key, { text: line, count: (known?.count ?? 0) + 1 });
  }
  const list = [...kinds.values()].sort((a, b) => b.count - a.count);
  return { kinds: list.map((k) => ({ ...k, numbers: numbersIn(k.text) })), seen: bytes };
}

const MOST_MISSES = 5;

/** How often patterns fit the lines of a text, and lines that begin like a pattern but do not fit it. */
export function patternCounts(
  source: ByteSource,
  texts: readonly string[],
): { matches: number; misses: number; missed: { line: number; text: string }[] }[] {
  const patterns = texts.map((t): { pattern: LinePattern; start: string } => ({
    pattern: compilePattern(t),
    start: /^[^{…]*/
      .exec(t)![0]
      .replace(/\.\.\..*$/, "")
      .trim()
      .replace(/\s+/g, " "),
  }));
  const counts = patterns.map(() => ({ matches: 0, misses: 0, missed: [] as { line: number; text: string }[] }));
  const decoder = new TextDecoder();
  let rest = "";
  let line = 0;
  const take = (text: string): void => {
    line++;
    if (text.length > 20_000) return;
    patterns.forEach(({ pattern, start }, k) => {
      const c = counts[k]!;
      if (pattern.find(text)) c.matches++;
      else if (start !== "" && text.trim().replace(/\s+/g, " ").startsWith(start)) {
        c.misses++;
        if (c.missed.length < MOST_MISSES) c.missed.push({ line, text: text.slice(0, 200) });
      }
    });
  };
  for (let at = 0; at < source.size; at += 1 << 20) {
    const lines = (rest + decoder.decode(source.read(at, 1 << 20), { stream: true })).split(/\r\n|\n|\r/);
    rest = lines.pop()!;
    for (const l of lines) take(l);
  }
  if (rest !== "") take(rest);
  return counts;
}
