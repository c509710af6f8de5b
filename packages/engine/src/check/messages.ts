import ts = require("typescript");
import { nearestNames } from "@oxtrum/core/tables";
import { newNames, renamedText } from "./renamed.js";

/** Where a script is wrong, for people and for machines. Lines and columns count from 1. */
export interface ScriptDiagnostic {
  readonly file: string;
  readonly line: number;
  readonly column: number;
  readonly endLine: number;
  readonly endColumn: number;
  readonly severity: "error" | "warning";
  readonly message: string;
  /** Texts that would put it right, in place of the marked one. */
  readonly fixes: readonly string[];
}

/** A diagnostic at a place of a file. */
export function place(
  source: ts.SourceFile,
  file: string,
  start: number,
  length: number,
  message: string,
  fixes: readonly string[],
  severity: "error" | "warning",
): ScriptDiagnostic {
  const a = source.getLineAndCharacterOfPosition(start);
  const b = source.getLineAndCharacterOfPosition(start + length);
  return {
    file,
    line: a.line + 1,
    column: a.character + 1,
    endLine: b.line + 1,
    endColumn: b.character + 1,
    severity,
    message,
    fixes,
  };
}

/** Turns what the type checker found into a message that names what is there and what was meant. */
export function explain(
  d: ts.Diagnostic,
  checker: ts.TypeChecker,
): { message: string; fixes: string[]; start: number; length: number } {
  const start = d.start ?? 0;
  const length = d.length ?? 0;
  const plain = ts.flattenDiagnosticMessageText(d.messageText, "\n");
  const literal = d.file ? literalAt(d.file, start, length) : undefined;
  if (literal) {
    const wanted = wantedNames(literal, checker);
    if (wanted.length > 0) {
      const near = meantNames(literal.text, wanted);
      return {
        message: noSuchName(literal, wanted, near),
        fixes: near.map((n) => JSON.stringify(n)),
        start: literal.getStart(),
        length: literal.getWidth(),
      };
    }
  }
  const old = oldName(d, plain);
  if (old) return old;
  const many = ofManyRuns(d, checker);
  if (many !== undefined) return { message: many, fixes: [], start, length };
  const unknown = unknownOption(d, plain, checker);
  if (unknown) return unknown;
  const property =
    d.code === 2339 || d.code === 2551 || d.code === 2353 || d.code === 2561
      ? propertyMessage(d.file && nodeAt(d.file, start), checker)
      : undefined;
  return {
    message: property?.message ?? plain.split("\n").slice(0, 3).join(" "),
    fixes: property?.fixes ?? [],
    start,
    length,
  };
}

/**
 * An option or a value with a name of an earlier version, where the compiler only says that no form of a call fits: its
 * text names it.
 */
function oldName(
  d: ts.Diagnostic,
  plain: string,
): { message: string; fixes: string[]; start: number; length: number } | undefined {
  if (d.code !== 2769 && d.code !== 2345 && d.code !== 2322) return undefined;
  for (const [, name] of plain.matchAll(/'"?([\w.+-]+)"?' (?:does not exist in type|is not assignable to type)/g)) {
    const now = newNames(name!);
    if (now.length === 0 || !d.file) continue;
    let call = nodeAt(d.file, d.start ?? 0);
    while (call && !ts.isCallExpression(call)) call = call.parent;
    const at = call && wordIn(call, name!);
    const fixes = now.map((w) => (at && ts.isStringLiteralLike(at) ? JSON.stringify(w) : w));
    return {
      message: renamedText(name!, now),
      fixes: at ? fixes : [],
      start: at?.getStart() ?? d.start ?? 0,
      length: at?.getWidth() ?? d.length ?? 0,
    };
  }
  return undefined;
}

/** An option that a call does not have, where the compiler only says that none of the call's forms fits. */
function unknownOption(
  d: ts.Diagnostic,
  plain: string,
  checker: ts.TypeChecker,
): { message: string; fixes: string[]; start: number; length: number } | undefined {
  const name = d.code === 2769 ? /'"?([\w$]+)"?' does not exist in type/.exec(plain)?.[1] : undefined;
  if (name === undefined || !d.file) return undefined;
  let call = nodeAt(d.file, d.start ?? 0);
  while (call && !ts.isCallExpression(call)) call = call.parent;
  const at = call && wordIn(call, name);
  if (!at || !ts.isPropertyAssignment(at.parent) || at.parent.name !== at) return undefined;
  const said = propertyMessage(at, checker);
  return said && { ...said, start: at.getStart(), length: at.getWidth() };
}

/** The first name or text of a call that is this word. */
function wordIn(n: ts.Node, word: string): ts.Node | undefined {
  if ((ts.isIdentifier(n) || ts.isStringLiteralLike(n)) && n.text === word) return n;
  return ts.forEachChild(n, (c) => wordIn(c, word));
}

/** What is made for each run: `RunMap` and `RunSet`, by what one run gives. */
function eachRun(type: ts.Type, checker: ts.TypeChecker): { item: ts.Type; name: "t" | "run" } | undefined {
  const kind = type.symbol?.name;
  if (kind === "RunMap") {
    const item = checker.getTypeArguments(type as ts.TypeReference)[0];
    return item && { item, name: "t" };
  }
  const map = kind === "RunSet" ? type.getProperty("map") : undefined;
  const made = map && checker.getTypeOfSymbol(map).getCallSignatures()[0]?.parameters[0];
  const run = made && checker.getTypeOfSymbol(made).getCallSignatures()[0]?.parameters[0];
  return run && { item: checker.getTypeOfSymbol(run), name: "run" };
}

/** The message for a verb of one run's value that is asked of all runs, or for all runs where one table is taken. */
function ofManyRuns(d: ts.Diagnostic, checker: ts.TypeChecker): string | undefined {
  const n = d.file && nodeAt(d.file, d.start ?? 0);
  if (!n) return undefined;
  if (d.code === 2339 || d.code === 2551) {
    if (!ts.isIdentifier(n) || !ts.isPropertyAccessExpression(n.parent)) return undefined;
    const each = eachRun(checker.getTypeAtLocation(n.parent.expression), checker);
    if (!each?.item.getProperty(n.text)) return undefined;
    return `"${n.text}" is of one run, and this is of all: write .map((${each.name}) => ${each.name}.${n.text}(…))`;
  }
  if (d.code !== 2345 && d.code !== 2769) return undefined;
  let argument: ts.Node = n;
  while (argument.parent && !ts.isCallExpression(argument.parent)) argument = argument.parent;
  const call = argument.parent;
  if (!call || !ts.isCallExpression(call) || !call.arguments.includes(argument as ts.Expression)) return undefined;
  if (!eachRun(checker.getTypeAtLocation(argument), checker)) return undefined;
  return (
    `${call.expression.getText()} takes one table, and this is one for each run: put them together ` +
    "first, with across(…, { on: … }) for statistics over the runs at each place, .rows(…) for a row " +
    "for each run, or .stack() for all rows below each other"
  );
}

/** Whether a parameter has no known type only because the verb that calls its function is not known. */
export function isConsequence(d: ts.Diagnostic, all: readonly ts.Diagnostic[]): boolean {
  if ((d.code !== 7006 && d.code !== 7031) || !d.file) return false;
  const inCallee = (call: ts.CallExpression): boolean =>
    all.some(
      (o) =>
        o !== d && o.code !== 7006 && o.start! >= call.expression.getStart() && o.start! < call.expression.getEnd(),
    );
  for (let n = nodeAt(d.file, d.start!); n; n = n.parent) if (ts.isCallExpression(n) && inCallee(n)) return true;
  return false;
}

function nodeAt(file: ts.SourceFile, position: number): ts.Node | undefined {
  let found: ts.Node | undefined;
  const visit = (n: ts.Node): void => {
    if (position >= n.getStart(file) && position < n.getEnd()) {
      found = n;
      ts.forEachChild(n, visit);
    }
  };
  visit(file);
  return found;
}

function literalAt(file: ts.SourceFile, start: number, length: number): ts.StringLiteralLike | undefined {
  const n = nodeAt(file, start);
  if (n && ts.isStringLiteralLike(n)) return n;
  // An overload's message may mark the whole call: the first string in it that fits nothing is meant.
  void length;
  return undefined;
}

/** The words that could stand where a literal stands. */
function wantedNames(literal: ts.StringLiteralLike, checker: ts.TypeChecker): string[] {
  const out = new Set<string>();
  const collect = (t: ts.Type | undefined): void => {
    if (!t) return;
    if (t.isUnion()) t.types.forEach(collect);
    else if (t.isStringLiteral()) out.add(t.value);
  };
  collect(checker.getContextualType(literal));
  const call = enclosingCall(literal);
  if (call && out.size === 0) {
    const index = call.arguments.findIndex((a) => a === literal || isInside(a, literal));
    const signatures = checker.getTypeAtLocation(call.expression).getCallSignatures();
    for (const s of signatures) {
      const p = s.parameters[Math.min(index, s.parameters.length - 1)];
      if (!p) continue;
      const t = checker.getTypeOfSymbolAtLocation(p, call);
      collect(checker.getBaseConstraintOfType(t) ?? t);
      if (checker.isArrayType(t))
        collect(
          checker.getBaseConstraintOfType(checker.getTypeArguments(t as ts.TypeReference)[0]!) ??
            checker.getTypeArguments(t as ts.TypeReference)[0],
        );
    }
  }
  return [...out];
}

/**
 * Names written out that are none of those that the place takes. Places that also take computed names accept any text
 * as far as the language goes; what is written out is looked up here.
 */
export function wrongNames(
  source: ts.SourceFile,
  checker: ts.TypeChecker,
): { literal: ts.StringLiteralLike; message: string; fixes: string[] }[] {
  const out: { literal: ts.StringLiteralLike; message: string; fixes: string[] }[] = [];
  const visit = (n: ts.Node): void => {
    if (ts.isStringLiteralLike(n)) {
      const wanted = namesWanted(n, checker);
      if (wanted && wanted.size > 0 && !wanted.has(n.text) && !(n.parent && ts.isElementAccessExpression(n.parent))) {
        const names = [...wanted];
        const near = meantNames(n.text, names);
        out.push({ literal: n, message: noSuchName(n, names, near), fixes: near.map((x) => JSON.stringify(x)) });
      }
    }
    ts.forEachChild(n, visit);
  };
  visit(source);
  return out;
}

/** The names a place takes, when it takes computed ones as well; undefined for other places. */
function namesWanted(literal: ts.StringLiteralLike, checker: ts.TypeChecker): Set<string> | undefined {
  const names = new Set<string>();
  let computed = false;
  const collect = (t: ts.Type | undefined, depth = 0): void => {
    if (!t || depth > 6) return;
    if (t.isUnion()) t.types.forEach((m) => collect(m, depth + 1));
    else if (t.isStringLiteral()) names.add(t.value);
    else if (t.isIntersection() && t.getProperty("computed")) computed = true;
    else if (t.isTypeParameter()) collect(checker.getBaseConstraintOfType(t), depth + 1);
    else if (checker.isArrayType(t)) collect(checker.getTypeArguments(t as ts.TypeReference)[0], depth + 1);
  };
  collect(checker.getContextualType(literal));
  if (!computed) {
    // Where the place's type is inferred from the name itself, what it may be stands in the call's signature.
    const call = enclosingCall(literal);
    const index =
      call?.arguments.findIndex(
        (a) => a === literal || (ts.isArrayLiteralExpression(a) && a.elements.some((e) => e === literal)),
      ) ?? -1;
    if (!call || index < 0) return undefined;
    names.clear();
    for (const s of checker.getTypeAtLocation(call.expression).getCallSignatures()) {
      const p = s.parameters[Math.min(index, s.parameters.length - 1)];
      if (p) collect(checker.getTypeOfSymbolAtLocation(p, call));
    }
  }
  return computed ? names : undefined;
}

const listed = (names: readonly string[]): string => names.map((n) => `"${n}"`).join(", ");

/** What may be meant by a name: what it is called now, or names like it. */
function meantNames(name: string, names: readonly string[]): readonly string[] {
  const now = newNames(name, names);
  return now.length > 0 ? now : nearestNames(name, names);
}

function noSuchName(literal: ts.StringLiteralLike, all: readonly string[], near: readonly string[]): string {
  // `pass` is there only after restarts: not what one looks for.
  const names = all.filter((n) => n !== "pass");
  const more = names.length > 8 ? ` and ${names.length - 8} more` : "";
  const shown = listed(names.slice(0, 8)) + more;
  const where = receiver(literal);
  const now = newNames(literal.text, all);
  if (now.length > 0) return renamedText(literal.text, now);
  return (
    `"${literal.text}" is not found in any ${where.what}${where.of}. There is ` +
    `${shown}.${near[0] ? ` Did you mean "${near[0]}"?` : ""}`
  );
}

const isInside = (outer: ts.Node, inner: ts.Node): boolean =>
  inner.getStart() >= outer.getStart() && inner.getEnd() <= outer.getEnd();

function enclosingCall(n: ts.Node): ts.CallExpression | undefined {
  let at: ts.Node | undefined = n.parent;
  while (at && !ts.isCallExpression(at)) at = at.parent;
  return at;
}

/** What a name is looked up in, for the message. */
function receiver(literal: ts.StringLiteralLike): { what: string; of: string } {
  const call = enclosingCall(literal);
  if (!call || !ts.isPropertyAccessExpression(call.expression))
    return call && ts.isIdentifier(call.expression) && call.expression.text === "study"
      ? { what: "registered study", of: "" }
      : { what: "place", of: "" };
  const verb = call.expression.name.text;
  if (verb === "table" || verb === "lines" || verb === "field" || verb === "has")
    return { what: "run", of: ", by this name" };
  const file = /\.table\(\s*(["'`])(.*?)\1/.exec(call.expression.expression.getText())?.[2];
  return { what: "run", of: file === undefined ? ", as a column here" : `: ${file} has no such column` };
}

function propertyMessage(
  n: ts.Node | undefined,
  checker: ts.TypeChecker,
): { message: string; fixes: string[] } | undefined {
  if (!n || !ts.isIdentifier(n)) return undefined;
  let type: ts.Type | undefined;
  if (ts.isPropertyAccessExpression(n.parent)) type = checker.getTypeAtLocation(n.parent.expression);
  else if (ts.isPropertyAssignment(n.parent) && ts.isObjectLiteralExpression(n.parent.parent))
    type = checker.getContextualType(n.parent.parent);
  if (!type) return undefined;
  // Of a choice of forms the names that its objects have: not those of texts and numbers.
  const isForm = (t: ts.Type): boolean => (t.flags & (ts.TypeFlags.Object | ts.TypeFlags.Intersection)) !== 0;
  const forms = type.isUnion() ? type.types.filter(isForm) : [type.getNonNullableType()];
  const names = [...new Set(forms.flatMap((t) => checker.getPropertiesOfType(t).map((p) => p.name)))].filter(
    (p) => !p.startsWith("__"),
  );
  // What is there may still have the wrong kind of value: that is another mistake.
  if (names.length === 0 || names.includes(n.text)) return undefined;
  const now = newNames(n.text, names);
  if (now.length > 0)
    return { message: renamedText(n.text, now), fixes: now.map((w) => (/^[\w$]+$/.test(w) ? w : JSON.stringify(w))) };
  const near = nearestNames(n.text, names);
  const shown =
    names
      .slice(0, 8)
      .map((w) => `"${w}"`)
      .join(", ") + (names.length > 8 ? ` and ${names.length - 8} more` : "");
  return {
    message: `there is no "${n.text}" here. There is ${shown}.${near[0] ? ` Did you mean "${near[0]}"?` : ""}`,
    fixes: near,
  };
}
