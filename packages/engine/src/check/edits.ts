import ts = require("typescript");

/** A piece of a text that is replaced by another one; offsets in UTF-16 units, of the text before any change. */
export interface TextChange {
  readonly from: number;
  readonly to: number;
  readonly insert: string;
}

/** A script with changes made; they do not overlap. */
export function changed(text: string, changes: readonly TextChange[]): string {
  let out = text;
  // From the end on, so that places stay true; what goes to one place keeps its order.
  for (const c of [...changes].reverse().sort((a, b) => b.from - a.from))
    out = out.slice(0, c.from) + c.insert + out.slice(c.to);
  return out;
}

const parse = (text: string): ts.SourceFile => ts.createSourceFile("script.ts", text, ts.ScriptTarget.ES2022, true);

/** The imports of the library's names that a script can add to: those with braces, and not only of types. */
function libraryImports(source: ts.SourceFile): { declaration: ts.ImportDeclaration; names: ts.NamedImports }[] {
  return source.statements.flatMap((s) => {
    if (!ts.isImportDeclaration(s) || !ts.isStringLiteral(s.moduleSpecifier) || s.moduleSpecifier.text !== "oxtrum")
      return [];
    const clause = s.importClause;
    const names = clause?.namedBindings;
    if (!clause || clause.phaseModifier === ts.SyntaxKind.TypeKeyword || !names || !ts.isNamedImports(names)) return [];
    return [{ declaration: s, names }];
  });
}

function visit(node: ts.Node, see: (n: ts.Node) => void): void {
  see(node);
  ts.forEachChild(node, (child) => visit(child, see));
}

/** Whether a word stands for something of its own: not the name of a member, nor of a property that is written out. */
function isReference(n: ts.Identifier): boolean {
  const p = n.parent;
  if (ts.isPropertyAccessExpression(p)) return p.name !== n;
  if (ts.isPropertyAssignment(p) || ts.isMethodDeclaration(p) || ts.isPropertySignature(p)) return p.name !== n;
  if (ts.isImportSpecifier(p) || ts.isExportSpecifier(p)) return p.name === n;
  return !(ts.isBindingElement(p) && p.propertyName === n);
}

/** All words that a script uses for something of its own. */
function wordsOf(source: ts.SourceFile): Set<string> {
  const out = new Set<string>();
  visit(source, (n) => {
    if (ts.isIdentifier(n) && isReference(n)) out.add(n.text);
  });
  return out;
}

/** The names that a script declares at its top. */
function declaredBy(source: ts.SourceFile): string[] {
  const out: string[] = [];
  const bind = (name: ts.BindingName): void => {
    if (ts.isIdentifier(name)) out.push(name.text);
    else for (const e of name.elements) if (ts.isBindingElement(e)) bind(e.name);
  };
  for (const s of source.statements) {
    if (ts.isVariableStatement(s)) for (const d of s.declarationList.declarations) bind(d.name);
    else if ((ts.isFunctionDeclaration(s) || ts.isClassDeclaration(s)) && s.name) out.push(s.name.text);
  }
  return out;
}

/** Calls of `emit` in a text, with the name under which each puts out. */
function emitted(source: ts.SourceFile): { call: ts.CallExpression; word: string; name: ts.StringLiteralLike }[] {
  const out: { call: ts.CallExpression; word: string; name: ts.StringLiteralLike }[] = [];
  const local = localName(source, "emit") ?? "emit";
  visit(source, (n) => {
    if (!ts.isCallExpression(n) || !ts.isPropertyAccessExpression(n.expression)) return;
    const { expression: of, name: word } = n.expression;
    const [name] = n.arguments;
    if (ts.isIdentifier(of) && of.text === local && name && ts.isStringLiteralLike(name))
      out.push({ call: n, word: word.text, name });
  });
  return out;
}

/** What a script calls a name of the library. */
function localName(source: ts.SourceFile, name: string): string | undefined {
  for (const { names } of libraryImports(source))
    for (const e of names.elements) if (!e.isTypeOnly && (e.propertyName ?? e.name).text === name) return e.name.text;
  return undefined;
}

const numbered = (name: string, separator: string, isTaken: (n: string) => boolean): string => {
  let out = name;
  for (let k = 2; isTaken(out); k++) out = `${name}${separator}${k}`;
  return out;
};

/** The names that lines declare somewhere inside: in blocks, as parameters. */
function declaredInside(source: ts.SourceFile): string[] {
  const out: string[] = [];
  visit(source, (n) => {
    const declares = ts.isVariableDeclaration(n) || ts.isParameter(n) || ts.isBindingElement(n);
    if (declares && ts.isIdentifier(n.name)) out.push(n.name.text);
  });
  return out;
}

/** How lines are to be written so that they fit into a script: names that are called otherwise there. */
function renamesFor(script: ts.SourceFile, lines: ts.SourceFile, given: Given): Map<string, string> {
  const words = wordsOf(script);
  const own = new Set([...declaredBy(lines), ...wordsOf(lines)]);
  // A name of a block would hide what an expression of the script means by it.
  const meant = new Set(Object.values(given).flatMap((e) => [...wordsOf(parse(e))]));
  const out = new Map<string, string>();
  for (const name of new Set([...declaredBy(lines), ...declaredInside(lines).filter((n) => meant.has(n))])) {
    const free = numbered(name, "", (n) => words.has(n) || (n !== name && own.has(n)));
    if (free !== name) out.set(name, free);
    words.add(free);
  }
  return out;
}

/**
 * The imports that lines need, as changes of the script, and what they are called there: a name that the script
 * imports already is used as it is called there, one that means something else is imported under another name.
 */
function importChanges(
  script: ts.SourceFile,
  lines: ts.SourceFile,
  renames: Map<string, string>,
): readonly TextChange[] {
  const needed = libraryImports(lines).flatMap(({ names }) =>
    names.elements.map((e) => ({ name: (e.propertyName ?? e.name).text, here: e.name.text })),
  );
  const words = wordsOf(script);
  // What the lines call something else may not be an import's name either.
  const own = new Set([...wordsOf(lines), ...renames.values()]);
  const missing: string[] = [];
  for (const { name, here } of needed) {
    const there = localName(script, name);
    const called = there ?? numbered(here, "", (n) => words.has(n) || (n !== here && own.has(n)));
    if (called !== here) renames.set(here, called);
    if (there === undefined) missing.push(called === name ? name : `${name} as ${called}`);
  }
  if (missing.length === 0) return [];
  const [first] = libraryImports(script);
  const last = first?.names.elements[first.names.elements.length - 1];
  if (last) return [{ from: last.end, to: last.end, insert: `, ${missing.join(", ")}` }];
  if (first) {
    const at = first.names.getStart() + 1;
    return [{ from: at, to: at, insert: ` ${missing.join(", ")} ` }];
  }
  // Behind what a file says of itself at its very top.
  const at = script.statements[0]?.getFullStart() ?? 0;
  return [{ from: at, to: at, insert: `import { ${missing.join(", ")} } from "oxtrum";\n` }];
}

/** Names that stand for expressions of the script. */
type Given = Readonly<Record<string, string>>;

/** The lines to add, without their imports, in the names that they get. */
function fitted(
  lines: ts.SourceFile,
  renames: ReadonlyMap<string, string>,
  outputs: ReadonlyMap<ts.Node, string>,
  given: Given,
): string {
  const changes: TextChange[] = [];
  for (const { declaration } of libraryImports(lines)) {
    const end = /^[ \t]*\r?\n?/.exec(lines.text.slice(declaration.end))![0].length;
    changes.push({ from: declaration.getStart(), to: declaration.end + end, insert: "" });
  }
  visit(lines, (n) => {
    const output = outputs.get(n);
    if (output !== undefined) changes.push({ from: n.getStart(), to: n.end, insert: JSON.stringify(output) });
    if (!ts.isIdentifier(n) || !isReference(n) || insideImport(n)) return;
    const name = Object.hasOwn(given, n.text) ? given[n.text] : renames.get(n.text);
    if (name === undefined) return;
    const insert = ts.isShorthandPropertyAssignment(n.parent) ? `${n.text}: ${name}` : name;
    changes.push({ from: n.getStart(), to: n.end, insert });
  });
  return changed(lines.text, changes).trim();
}

const insideImport = (n: ts.Node): boolean => ts.isImportSpecifier(n.parent);

/** New names of outputs that the script puts out already, by the literal that has them. */
function outputNames(script: ts.SourceFile, lines: ts.SourceFile): Map<ts.Node, string> {
  const taken = new Set(emitted(script).map((e) => e.name.text));
  const out = new Map<ts.Node, string>();
  for (const { name } of emitted(lines)) {
    const free = numbered(name.text, " ", (n) => taken.has(n));
    if (free !== name.text) out.set(name, free);
    taken.add(free);
  }
  return out;
}

/**
 * What has to be changed in a script so that it does also what another, whole script does: its lines at the end, the
 * names that they need imported once, and what it calls as the script calls something else renamed.
 *
 * @param text the script; one with mistakes is taken as far as it can be read
 * @param addition a whole script with its own imports from the library
 * @param given names in it that stand for expressions of the script
 * @returns changes of the text, in order
 *
 * @example
 *   additionChanges(script, `import { q } from "oxtrum";\nconst a = q("2 m");`) // where script has an a already
 *   // [{ from: 47, to: 48, insert: '\n\nconst a2 = q("2 m");\n' }]
 */
export function additionChanges(text: string, addition: string, given: Given = {}): readonly TextChange[] {
  const [script, lines] = [parse(text), parse(addition)];
  const renames = renamesFor(script, lines, given);
  const imports = importChanges(script, lines, renames);
  const added = fitted(lines, renames, outputNames(script, lines), given);
  const end = text.trimEnd().length;
  const before = end === 0 ? "" : "\n\n";
  // Lines end as they do in the script.
  const asThere = (t: string): string => (text.includes("\r\n") ? t.replace(/\r?\n/g, "\r\n") : t);
  return [...imports, { from: end, to: text.length, insert: `${before}${added}\n` }].map((c) => ({
    ...c,
    insert: asThere(c.insert),
  }));
}

/** Where a script emits an output, as it is written there; or why its words cannot be said again. */
export type EmittedExpression = { readonly expression: string } | { readonly trouble: string };

/** Whether a call stands by itself, outside of every function, loop and block. */
const isAtTop = (call: ts.Node): boolean =>
  ts.isExpressionStatement(call.parent) && ts.isSourceFile(call.parent.parent);

/**
 * What a script's `emit.table("name", …)` is given: the words of its second argument, where lines below can say them
 * again.
 */
export function emittedExpression(text: string, name: string): EmittedExpression {
  const found = emitted(parse(text)).filter((e) => e.word === "table" && e.name.text === name);
  const top = found.find((e) => isAtTop(e.call) && e.call.arguments.length > 1);
  if (top) return { expression: top.call.arguments[1]!.getText() };
  if (found.length > 0)
    return {
      trouble: `"${name}" is made inside a loop or a function; give it a name at the top of the script to compare it`,
    };
  return {
    trouble: `the script makes up the name "${name}" as it goes; emit it with its name written out to compare it`,
  };
}
