/**
 * Patterns that match in time proportional to the pattern times the text, whoever wrote them: a backtracking matcher
 * that never tries the same place of the pattern at the same place of the text twice. What it finds is what a
 * backtracking regular expression finds (R. Cox, "Regular Expression Matching: the Virtual Machine Approach", 2009, the
 * bit-state matcher).
 */

/** A part of a pattern. */
export type PatternNode =
  | { readonly kind: "set"; readonly has: (code: number) => boolean }
  | { readonly kind: "sequence"; readonly parts: readonly PatternNode[] }
  | { readonly kind: "either"; readonly parts: readonly PatternNode[] }
  | { readonly kind: "repeat"; readonly part: PatternNode; readonly least: 0 | 1; readonly lazy: boolean }
  | { readonly kind: "optional"; readonly part: PatternNode }
  | { readonly kind: "capture"; readonly part: PatternNode }
  /** Takes nothing; holds where the test says so. */
  | { readonly kind: "where"; readonly test: (text: string, at: number) => boolean };

export const set = (has: (code: number) => boolean): PatternNode => ({ kind: "set", has });
export const sequence = (...parts: PatternNode[]): PatternNode => ({ kind: "sequence", parts });
export const either = (...parts: PatternNode[]): PatternNode => ({ kind: "either", parts });
export const some = (part: PatternNode, lazy = false): PatternNode => ({ kind: "repeat", part, least: 1, lazy });
export const any = (part: PatternNode, lazy = false): PatternNode => ({ kind: "repeat", part, least: 0, lazy });
export const optional = (part: PatternNode): PatternNode => ({ kind: "optional", part });
export const where = (test: (text: string, at: number) => boolean): PatternNode => ({ kind: "where", test });
export const capture = (part: PatternNode): PatternNode => ({ kind: "capture", part });

/** A text as it stands; capitals and small letters alike if wished. */
export function literal(text: string, ignoreCase = false): PatternNode {
  const parts = Array.from({ length: text.length }, (_, k): PatternNode => {
    const code = text.charCodeAt(k);
    const other = ignoreCase ? otherCase(text[k]!) : code;
    return set((c) => c === code || c === other);
  });
  return sequence(...parts);
}

function otherCase(char: string): number {
  const turned = char === char.toLowerCase() ? char.toUpperCase() : char.toLowerCase();
  return turned.length === 1 ? turned.charCodeAt(0) : char.charCodeAt(0);
}

const enum Op {
  /** Takes a character that the set has. */
  Take,
  /** Goes on at `a`, or, where that fails, at `b`. */
  Split,
  Jump,
  /** Remembers the place as the end or start of a capture. */
  Mark,
  /** Goes on where the test holds. */
  Where,
  Match,
}

const MOST = 20_000;

/** A pattern made ready to match. */
export class TextPattern {
  readonly #op: Op[] = [];
  readonly #a: number[] = [];
  readonly #b: number[] = [];
  readonly #sets: ((code: number) => boolean)[] = [];
  readonly #tests: ((text: string, at: number) => boolean)[] = [];
  #marks = 0;
  #visited = new Uint32Array(0);

  /** @throws Error for a pattern that is too long */
  constructor(root: PatternNode) {
    this.#compile(root);
    this.#add(Op.Match);
  }

  #add(op: Op, a = 0, b = 0): number {
    if (this.#op.length > MOST) throw new Error("the pattern is too long");
    this.#a.push(a);
    this.#b.push(b);
    return this.#op.push(op) - 1;
  }

  #compile(n: PatternNode): void {
    switch (n.kind) {
      case "set":
        this.#add(Op.Take, this.#sets.push(n.has) - 1);
        return;
      case "where":
        this.#add(Op.Where, this.#tests.push(n.test) - 1);
        return;
      case "sequence":
        n.parts.forEach((p) => this.#compile(p));
        return;
      case "capture":
        this.#add(Op.Mark, this.#marks++);
        this.#compile(n.part);
        this.#add(Op.Mark, this.#marks++);
        return;
      case "optional":
        return this.#split(n.part, false);
      case "repeat": {
        if (n.least === 1) {
          const start = this.#op.length;
          this.#compile(n.part);
          const split = this.#add(Op.Split);
          this.#aim(split, start, this.#op.length, n.lazy);
          return;
        }
        const split = this.#add(Op.Split);
        this.#compile(n.part);
        this.#add(Op.Jump, split);
        this.#aim(split, split + 1, this.#op.length, n.lazy);
        return;
      }
      case "either": {
        const ends: number[] = [];
        n.parts.forEach((p, k) => {
          const split = k < n.parts.length - 1 ? this.#add(Op.Split) : -1;
          this.#compile(p);
          if (split < 0) return;
          ends.push(this.#add(Op.Jump));
          this.#aim(split, split + 1, this.#op.length, false);
        });
        for (const e of ends) this.#a[e] = this.#op.length;
        return;
      }
    }
  }

  #split(part: PatternNode, lazy: boolean): void {
    const split = this.#add(Op.Split);
    this.#compile(part);
    this.#aim(split, split + 1, this.#op.length, lazy);
  }

  #aim(split: number, first: number, second: number, lazy: boolean): void {
    this.#a[split] = lazy ? second : first;
    this.#b[split] = lazy ? first : second;
  }

  /** Whether the whole text fits. */
  fits(text: string): boolean {
    return this.#run(text, true) !== undefined;
  }

  /** The captures of the whole text; undefined when it does not fit. */
  whole(text: string): string[] | undefined {
    return this.#run(text, true);
  }

  /** The captures of the first place that fits, wherever it stands in the text. */
  find(text: string): string[] | undefined {
    return this.#run(text, false);
  }

  #run(text: string, whole: boolean): string[] | undefined {
    const places = text.length + 1;
    const words = Math.ceil((this.#op.length * places) / 32);
    if (this.#visited.length < words) this.#visited = new Uint32Array(Math.max(words, 1024));
    else this.#visited.fill(0, 0, words);
    const last = whole ? 0 : text.length;
    for (let start = 0; start <= last; start++) {
      const marks = this.#from(text, start, whole);
      if (!marks) continue;
      const out: string[] = [];
      for (let k = 0; k < marks.length; k += 2) out.push(marks[k]! < 0 ? "" : text.slice(marks[k], marks[k + 1]));
      return out;
    }
    return undefined;
  }

  /** Goes depth first; what is to be tried later waits on a stack, as do marks that are to be put back. */
  #from(text: string, start: number, whole: boolean): Int32Array | undefined {
    const { length } = text;
    const marks = new Int32Array(this.#marks).fill(-1);
    const stack: number[] = [0, start];
    while (stack.length > 0) {
      let at = stack.pop()!;
      let pc = stack.pop()!;
      if (pc < 0) {
        marks[-1 - pc] = at;
        continue;
      }
      for (;;) {
        const bit = pc * (length + 1) + at;
        const word = this.#visited[bit >>> 5]!;
        if ((word & (1 << (bit & 31))) !== 0) break;
        this.#visited[bit >>> 5] = word | (1 << (bit & 31));
        const op = this.#op[pc]!;
        if (op === Op.Match) {
          if (!whole || at === length) return marks;
          break;
        }
        if (op === Op.Take) {
          if (at >= length || !this.#sets[this.#a[pc]!]!(text.charCodeAt(at))) break;
          at++;
          pc++;
        } else if (op === Op.Where) {
          if (!this.#tests[this.#a[pc]!]!(text, at)) break;
          pc++;
        } else if (op === Op.Jump) pc = this.#a[pc]!;
        else if (op === Op.Mark) {
          stack.push(-1 - this.#a[pc]!, marks[this.#a[pc]!]!);
          marks[this.#a[pc]!] = at;
          pc++;
        } else {
          stack.push(this.#b[pc]!, at);
          pc = this.#a[pc]!;
        }
      }
    }
    return undefined;
  }
}
