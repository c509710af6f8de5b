import { any, either, literal, optional, sequence, set, TextPattern, type PatternNode } from "./text-pattern.js";

const MOST_LETTERS = 1000;
const DEEPEST = 10;
const notSlash = set((c) => c !== 47);
const every = set(() => true);

/**
 * Whether names fit a shell-style pattern: `*` any characters but `/`, `**` any characters, `?` one character, `[a-c]`
 * one of these, `[!a-c]` none of these, `{a,b}` one of several; `\` takes the next character as it stands. The whole
 * name has to fit, and takes time proportional to the pattern times the name.
 *
 * @throws Error for a pattern of over 1000 characters, or with a bracket that does not end
 * @example glob("cells_*")("cells_3") // true
 */
export function glob(pattern: string): (name: string) => boolean {
  if (pattern.length > MOST_LETTERS)
    throw new Error(`pattern "${pattern.slice(0, 40)}…" is longer than 1000 characters`);
  const compiled = new TextPattern(new GlobParser(pattern).parse());
  return (name) => compiled.fits(name);
}

class GlobParser {
  #at = 0;
  #depth = 0;

  constructor(private readonly text: string) {}

  parse(): PatternNode {
    const parts: PatternNode[] = [];
    while (this.#at < this.text.length) parts.push(this.#part());
    return sequence(...parts);
  }

  #part(): PatternNode {
    const { text } = this;
    const c = text[this.#at++]!;
    if (c === "*") {
      if (text[this.#at] !== "*") return any(notSlash);
      while (text[this.#at] === "*") this.#at++;
      // "a/**/b" fits "a/b" as well.
      if (text[this.#at] === "/") {
        this.#at++;
        return optional(sequence(any(every), literal("/")));
      }
      return any(every);
    }
    if (c === "?") return notSlash;
    if (c === "[") return this.#class();
    if (c === "{") return this.#alternatives();
    if (c === "\\" && this.#at < text.length) return literal(text[this.#at++]!);
    return literal(c);
  }

  #class(): PatternNode {
    const { text } = this;
    const end = text.indexOf("]", this.#at + (text[this.#at] === "!" || text[this.#at] === "^" ? 2 : 1));
    if (end < 0) return literal("[");
    let inner = text.slice(this.#at, end);
    this.#at = end + 1;
    const not = inner.startsWith("!") || inner.startsWith("^");
    if (not) inner = inner.slice(1);
    const ranges: [number, number][] = [];
    for (let k = 0; k < inner.length; k++) {
      const from = inner.charCodeAt(k);
      const range = inner[k + 1] === "-" && k + 2 < inner.length;
      ranges.push([from, range ? inner.charCodeAt(k + 2) : from]);
      if (range) k += 2;
    }
    return set((c) => c !== 47 && ranges.some(([a, b]) => c >= a && c <= b) !== not);
  }

  /** `{a,b}`; a brace that does not end, or holds one part only, stands for itself. */
  #alternatives(): PatternNode {
    const start = this.#at;
    const parts: PatternNode[] = [];
    let current: PatternNode[] = [];
    if (++this.#depth > DEEPEST)
      throw new Error(`pattern "${this.text.slice(0, 40)}": braces stand too deep in each other`);
    while (this.#at < this.text.length) {
      const c = this.text[this.#at]!;
      if (c !== "," && c !== "}") {
        current.push(this.#part());
        continue;
      }
      this.#at++;
      parts.push(sequence(...current));
      current = [];
      if (c === ",") continue;
      this.#depth--;
      if (parts.length === 1) return sequence(literal("{"), parts[0]!, literal("}"));
      return either(...parts);
    }
    this.#depth--;
    this.#at = start;
    return literal("{");
  }
}
