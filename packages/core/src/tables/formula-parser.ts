import { FormulaError, functions, type FormulaTree } from "./formula-tree.js";
import { listNames, suggestion } from "./table.js";
import { tryParseUnit } from "./units.js";

type Token =
  | { readonly kind: "number"; readonly at: number; readonly value: number; readonly unit: string | undefined }
  | { readonly kind: "name" | "sign" | "text"; readonly at: number; readonly text: string }
  | { readonly kind: "end"; readonly at: number; readonly text: "" };

const NUMBER = /(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?/y;
const NAME = /[\p{L}_$][\p{L}\p{N}_$]*(?:\.[\p{L}_$][\p{L}\p{N}_$]*)*(?:@(?:point|cell)\b)?/uy;
const SIGN = /<=|>=|==|!=|[-+*/%^()?:,<>]/y;
const TEXT = /"((?:[^"\\]|\\.)*)"|'((?:[^'\\]|\\.)*)'/y;
const PART = "[A-Za-zµμ°Ω%]+(?:\\^-?\\d+(?:\\.\\d+)?|[²³])?";
/** A unit behind a number: of several parts only when they are written without blanks, as in `10 m/s`. */
const UNIT = new RegExp(
  `[ \\t]*((?:${PART}|1)(?:/(?:${PART}|\\((?:${PART}[ ·*]?)+\\))|·${PART})+|${PART})(?![\\p{L}\\p{N}_.@(])`,
  "uy",
);
const words: ReadonlySet<string> = new Set(["and", "or", "not", "mod"]);
const DEEPEST = 100;

/** What people write by habit, and what is written here instead. */
const instead: Readonly<Record<string, string>> = {
  "=": 'compare with "=="',
  "&": 'write "and"',
  "|": 'write "or"',
  "!": 'write "not"',
  "**": 'powers are written with "^"',
  "[": 'a column whose name has blanks or signs is col("…")',
};

class FormulaParser {
  readonly #tokens: readonly Token[];
  #next = 0;
  #depth = 0;

  constructor(private readonly text: string) {
    this.#tokens = this.#split();
  }

  /** The whole formula. */
  parse(): FormulaTree {
    const tree = this.#choice();
    const rest = this.#token;
    if (rest.kind !== "end") this.#unexpected(rest);
    return tree;
  }

  #fail(what: string, at?: number): never {
    throw new FormulaError(`formula "${this.text}": ${what}${at === undefined ? "" : `, at character ${at + 1}`}`);
  }

  #split(): Token[] {
    const out: Token[] = [];
    let at = 0;
    const take = (pattern: RegExp): RegExpExecArray | undefined => {
      pattern.lastIndex = at;
      const m = pattern.exec(this.text);
      if (m) at += m[0].length;
      return m ?? undefined;
    };
    for (;;) {
      take(/\s*/y);
      const start = at;
      if (at >= this.text.length) return [...out, { kind: "end", at, text: "" }];
      const number = take(NUMBER);
      if (number) {
        out.push({ kind: "number", at: start, value: Number(number[0]), unit: this.#unitAt(at, (end) => (at = end)) });
        continue;
      }
      const m = take(NAME) ?? take(SIGN);
      if (m) {
        if (m[0] === "*" && this.text[at] === "*") this.#misplaced("**", start);
        out.push({ kind: /^[-+*/%^()?:,<>=!]/.test(m[0]) ? "sign" : "name", at: start, text: m[0] });
        continue;
      }
      const text = take(TEXT);
      if (!text) this.#misplaced(this.text[at]!, start);
      else out.push({ kind: "text", at: start, text: (text[1] ?? text[2]!).replace(/\\(.)/g, "$1") });
    }
  }

  #misplaced(sign: string, at: number): never {
    const cure = Object.hasOwn(instead, sign) ? `; ${instead[sign]!}` : "";
    return this.#fail(`"${sign}" has no place in a formula${cure}`, at);
  }

  /** The unit that stands behind a number, if it is one. @param found is told where it ends */
  #unitAt(from: number, found: (end: number) => void): string | undefined {
    UNIT.lastIndex = from;
    const m = UNIT.exec(this.text);
    if (!m || words.has(m[1]!) || !tryParseUnit(m[1]!)) return undefined;
    const end = from + m[0].length;
    // "5 % a" is the rest of a division; "5 %" at the end of a term is a share.
    if (m[1] === "%" && /^\s*(?:[\p{L}\p{N}_$(.]|"|')/u.test(this.text.slice(end))) {
      const word = /^\s*(?:and|or)\b/.test(this.text.slice(end));
      if (!word) return undefined;
    }
    found(end);
    return m[1];
  }

  get #token(): Token {
    return this.#tokens[this.#next]!;
  }

  /** Takes the next token when it is one of these signs or words. */
  #took(...texts: readonly string[]): string | undefined {
    const t = this.#token;
    if ((t.kind !== "sign" && t.kind !== "name") || !texts.includes(t.text)) return undefined;
    this.#next++;
    return t.text;
  }

  #expect(sign: string, after: string): void {
    if (this.#took(sign) === undefined) this.#fail(`"${sign}" is missing ${after}`, this.#token.at);
  }

  #unexpected(t: Token): never {
    if (t.kind === "end") return this.#fail("it ends where a value is expected");
    const before = this.#tokens[this.#next - 1];
    const isValue = t.kind !== "sign" || t.text === "(";
    if (before && isValue && (before.kind !== "sign" || before.text === ")"))
      return this.#fail('write "*" between two values', t.at);
    return this.#fail(`"${t.kind === "number" ? t.value : t.text}" is not expected here`, t.at);
  }

  #choice(): FormulaTree {
    if (++this.#depth > DEEPEST) this.#fail("nested too deeply");
    const condition = this.#any();
    let tree = condition;
    if (this.#took("?") !== undefined) {
      const yes = this.#choice();
      this.#expect(":", 'behind "?" and its first value');
      tree = { kind: "if", args: [condition, yes, this.#choice()] };
    }
    this.#depth--;
    return tree;
  }

  /** Operands joined by operators of one rank, from left to right. */
  #joined(operand: () => FormulaTree, ...signs: readonly string[]): FormulaTree {
    let tree = operand();
    for (let sign = this.#took(...signs); sign !== undefined; sign = this.#took(...signs))
      tree = { kind: "call", fn: sign === "mod" ? "%" : sign, args: [tree, operand()] };
    return tree;
  }

  #any(): FormulaTree {
    return this.#joined(() => this.#all(), "or");
  }

  #all(): FormulaTree {
    return this.#joined(() => this.#negated(), "and");
  }

  #negated(): FormulaTree {
    if (this.#took("not") === undefined) return this.#comparison();
    if (++this.#depth > DEEPEST) this.#fail("nested too deeply");
    const tree: FormulaTree = { kind: "call", fn: "not", args: [this.#negated()] };
    this.#depth--;
    return tree;
  }

  #comparison(): FormulaTree {
    const signs = ["<", "<=", ">", ">=", "==", "!="];
    const left = this.#sum();
    const sign = this.#took(...signs);
    if (sign === undefined) return left;
    const tree: FormulaTree = { kind: "call", fn: sign, args: [left, this.#sum()] };
    if (this.#took(...signs) !== undefined) this.#fail("chained comparisons; join two with and");
    return tree;
  }

  #sum(): FormulaTree {
    return this.#joined(() => this.#product(), "+", "-");
  }

  #product(): FormulaTree {
    return this.#joined(() => this.#signed(), "*", "/", "%", "mod");
  }

  #signed(): FormulaTree {
    const sign = this.#took("-", "+");
    if (sign === undefined) return this.#power();
    if (++this.#depth > DEEPEST) this.#fail("nested too deeply");
    const tree: FormulaTree = { kind: "call", fn: sign === "-" ? "neg" : "pos", args: [this.#signed()] };
    this.#depth--;
    return tree;
  }

  #power(): FormulaTree {
    const base = this.#value();
    // From right to left, and the exponent may have a sign: 2^-x^2.
    if (this.#took("^") === undefined) return base;
    if (++this.#depth > DEEPEST) this.#fail("nested too deeply");
    const tree: FormulaTree = { kind: "call", fn: "^", args: [base, this.#signed()] };
    this.#depth--;
    return tree;
  }

  #value(): FormulaTree {
    const t = this.#token;
    if (t.kind === "number") {
      this.#next++;
      return t.unit === undefined
        ? { kind: "number", value: t.value }
        : { kind: "literal", value: t.value, unit: t.unit };
    }
    if (this.#took("(") !== undefined) {
      const inner = this.#choice();
      this.#expect(")", "behind what stands in parentheses");
      return inner;
    }
    if (t.kind === "text") this.#fail(`"${t.text}" is a text; a column is written by its name, or as col("…")`, t.at);
    if (t.kind !== "name" || words.has(t.text)) return this.#unexpected(t);
    this.#next++;
    if (this.#took("(") !== undefined) return t.text === "col" ? this.#column() : this.#call(t.text, t.at);
    return t.text === "pi" ? { kind: "number", value: Math.PI } : { kind: "name", name: t.text };
  }

  #column(): FormulaTree {
    const t = this.#token;
    this.#next++;
    if (t.kind !== "text" || this.#took(")") === undefined) this.#fail('col takes one name, as in col("T mean")', t.at);
    return { kind: "name", name: t.text };
  }

  #call(name: string, at: number): FormulaTree {
    const known = Object.keys(functions);
    if (!Object.hasOwn(functions, name))
      this.#fail(`there is no function "${name}"; there are ${listNames(known)}${suggestion(name, known)}`, at);
    const [least, most] = functions[name]!;
    const args: FormulaTree[] = [];
    if (this.#took(")") === undefined) {
      do args.push(this.#choice());
      while (this.#took(",") !== undefined);
      this.#expect(")", `behind the values of ${name}`);
    }
    if (args.length < least || args.length > most)
      this.#fail(`${name} takes ${least === most ? least : `${least} to ${most}`} values, not ${args.length}`, at);
    return { kind: "call", fn: name === "pow" ? "^" : name, args };
  }
}

const known = new Map<string, FormulaTree>();

/**
 * Reads a formula. Columns are written by name, or `col("a name with blanks")`; a unit may stand behind a number. From
 * loose to close: `? :`, `or`, `and`, `not`, comparisons, `+ -`, `* / %`, signs, `^` (from right to left).
 *
 * @throws FormulaError with the place of the mistake.
 * @example parseFormula("sqrt(Fx^2 + Fy^2)")
 * @example parseFormula("T > 280 K and time < 20 min")
 */
export function parseFormula(text: string): FormulaTree {
  const tree = known.get(text);
  if (tree) return tree;
  if (text.length > 2000) throw new FormulaError(`formula of ${text.length} characters is too long (2000 at most)`);
  const made = new FormulaParser(text).parse();
  if (known.size < 2000) known.set(text, made);
  return made;
}
