import { createRequire } from "node:module";
import path from "node:path";
import ts = require("typescript");
import { libraryDeclarations, type ScriptFiles } from "./library.js";
import { gapsIn, namedMember } from "./gaps.js";
import { explain, isConsequence, place, wrongNames, type ScriptDiagnostic } from "./messages.js";
import { asynchronousCode } from "./synchronous.js";
import { fieldName } from "../definition/field-name.js";

export type { ScriptDiagnostic } from "./messages.js";

const libDir = path.dirname(createRequire(import.meta.url).resolve("typescript"));

const options: ts.CompilerOptions = {
  target: ts.ScriptTarget.ES2022,
  module: ts.ModuleKind.ESNext,
  moduleResolution: ts.ModuleResolutionKind.Bundler,
  lib: ["lib.es2022.d.ts"],
  types: [],
  strict: true,
  noEmit: true,
  skipLibCheck: true,
  allowImportingTsExtensions: true,
  erasableSyntaxOnly: true,
  verbatimModuleSyntax: false,
};

/** What has no place in a script: the language's own clock and chance. */
const withheld = `
interface DateConstructor { readonly "there is no clock in a script": never }
`;

export interface Completion {
  readonly label: string;
  readonly kind: string;
  readonly detail?: string;
  readonly apply?: string;
}

/**
 * Checks scripts against the library and the studies' types. One instance serves many checks: repeated ones take tens
 * of milliseconds, the first one about a second.
 */
export class ScriptChecker {
  readonly #files = new Map<string, { text: string; version: number }>();
  readonly #service: ts.LanguageService;

  /** @param docs whether doc comments are read too: who only looks for mistakes is ready sooner without */
  constructor(docs = true) {
    this.#set("/oxtrum.d.ts", libraryDeclarations());
    this.#set("/withheld.d.ts", withheld);
    const read = (f: string): string | undefined =>
      this.#files.get(f)?.text ?? (f.startsWith(libDir) ? ts.sys.readFile(f) : undefined);
    const jsDocParsingMode = docs ? ts.JSDocParsingMode.ParseAll : ts.JSDocParsingMode.ParseNone;
    this.#service = ts.createLanguageService(
      {
        getCompilationSettings: () => options,
        getScriptFileNames: () => [...this.#files.keys()],
        getScriptVersion: (f) => String(this.#files.get(f)?.version ?? 0),
        getScriptSnapshot: (f) => {
          const text = read(f);
          return text === undefined ? undefined : ts.ScriptSnapshot.fromString(text);
        },
        getCurrentDirectory: () => "/",
        getDefaultLibFileName: (o) => path.join(libDir, ts.getDefaultLibFileName(o)),
        fileExists: (f) => read(f) !== undefined,
        readFile: read,
        directoryExists: (d) => d === "/" || d === "/script",
        getDirectories: () => [],
        jsDocParsingMode,
      },
      ts.createDocumentRegistry(undefined, undefined, jsDocParsingMode),
    );
  }

  #set(file: string, text: string): void {
    const old = this.#files.get(file);
    if (old?.text !== text) this.#files.set(file, { text, version: (old?.version ?? 0) + 1 });
  }

  /** Takes the script's texts and the studies' types for the calls that follow. */
  load(files: ScriptFiles, studyTypes: Readonly<Record<string, string>>): void {
    const wanted = new Map<string, string>();
    for (const [name, text] of Object.entries(files)) wanted.set(`/script/${name}`, text);
    for (const [name, text] of Object.entries(studyTypes))
      wanted.set(`/studies/${encodeURIComponent(name)}.d.ts`, text);
    for (const f of this.#files.keys())
      if (!wanted.has(f) && (f.startsWith("/script/") || f.startsWith("/studies/"))) this.#files.delete(f);
    for (const [f, text] of wanted) this.#set(f, text);
  }

  /**
   * All errors of the loaded script, sorted by place.
   *
   * @param gaps warn also of names that only some runs lack; a dry run knows more exactly which runs a script touches
   */
  check(gaps = false): ScriptDiagnostic[] {
    const out: ScriptDiagnostic[] = [];
    const program = this.#service.getProgram()!;
    const checker = program.getTypeChecker();
    const names = [...this.#files.keys()].filter((n) => n.startsWith("/script/"));
    // While a text does not even parse, what its types seem to be is noise.
    const broken = names.filter((n) => this.#service.getSyntacticDiagnostics(n).length > 0);
    for (const name of broken) {
      for (const d of this.#service.getSyntacticDiagnostics(name).slice(0, 3))
        out.push(
          place(
            d.file,
            name.slice("/script/".length),
            d.start,
            d.length,
            ts.flattenDiagnosticMessageText(d.messageText, " "),
            [],
            "error",
          ),
        );
    }
    if (broken.length > 0) return out;
    for (const name of names) {
      const file = name.slice("/script/".length);
      const imports = importErrors(program.getSourceFile(name)!, file);
      const found = this.#service
        .getSemanticDiagnostics(name)
        .filter((d) => !imports.some((i) => i.line === d.file!.getLineAndCharacterOfPosition(d.start!).line + 1));
      for (const d of found) {
        if (isConsequence(d, found)) continue;
        const { message, fixes, start, length } = explain(d, checker);
        out.push(
          place(
            d.file!,
            file,
            start,
            length,
            message,
            fixes,
            d.category === ts.DiagnosticCategory.Error ? "error" : "warning",
          ),
        );
      }
      const source = program.getSourceFile(name)!;
      for (const w of wrongNames(source, checker))
        out.push(place(source, file, w.literal.getStart(), w.literal.getWidth(), w.message, w.fixes, "error"));
      out.push(...imports, ...asynchronousCode(source, file), ...outerChanges(source, file, checker));
      if (gaps)
        for (const g of gapsIn(source, checker))
          out.push(place(source, file, g.literal.getStart(), g.literal.getWidth(), g.message, [], "warning"));
    }
    return out.sort((a, b) => (a.file === b.file ? a.line - b.line || a.column - b.column : a.file < b.file ? -1 : 1));
  }

  /** Completions at an offset of a script's text. */
  complete(file: string, offset: number): { from: number; to: number; entries: Completion[] } | undefined {
    const name = `/script/${file}`;
    const found = this.#service.getCompletionsAtPosition(name, offset, { includeCompletionsForModuleExports: false });
    if (!found) return undefined;
    const source = this.#service.getProgram()!.getSourceFile(name)!;
    const literal = stringAround(source, offset);
    // The whole name of a field's file is accepted; the short one is offered.
    const names = new Set(found.entries.map((e) => e.name));
    const whole = (name: string): boolean =>
      literal !== undefined && fieldName(name) !== name && names.has(fieldName(name));
    const entries = found.entries
      .filter(
        (e) =>
          e.kind !== ts.ScriptElementKind.warning &&
          !(
            e.sortText === "15" &&
            literal === undefined &&
            !/^(?:study|across|at|chart|emit|fit|q|input)$/.test(e.name) &&
            e.kind === ts.ScriptElementKind.keyword
          ),
      )
      .filter((e) => e.name !== "" && !e.name.startsWith("__") && !whole(e.name))
      .slice(0, 400)
      .map((e): Completion => ({
        label: e.name,
        kind: literal ? "name" : e.kind,
        ...(literal && { detail: this.#nameDetail(literal, e.name) ?? "" }),
      }));
    const word = /[\w$]*$/.exec(source.text.slice(0, offset))![0];
    return literal
      ? { from: literal.getStart() + 1, to: Math.max(literal.getStart() + 1, literal.getEnd() - 1), entries }
      : { from: offset - word.length, to: offset, entries };
  }

  /** The unit of a column that a literal may name, from the type its receiver has. */
  #nameDetail(literal: ts.StringLiteralLike, entry: string): string | undefined {
    const checker = this.#service.getProgram()!.getTypeChecker();
    const property = namedMember(literal, entry, checker);
    if (!property) return undefined;
    const text = checker.typeToString(checker.getTypeOfSymbol(property));
    return /^Numbers<"(.*)">$/.exec(text)?.[1]?.replace(/^1$/, "") ?? (text === "Text" ? "words" : undefined);
  }

  /** What stands at an offset, with its documentation. */
  hover(
    file: string,
    offset: number,
  ): { from: number; to: number; signature: string; documentation: string } | undefined {
    const info = this.#service.getQuickInfoAtPosition(`/script/${file}`, offset);
    if (!info) return undefined;
    const tags = (info.tags ?? []).filter((t) => t.name === "example").map((t) => ts.displayPartsToString(t.text));
    const signature = ts.displayPartsToString(info.displayParts);
    return {
      from: info.textSpan.start,
      to: info.textSpan.start + info.textSpan.length,
      signature: signature.length > 400 ? signature.slice(0, 398) + "…" : signature,
      documentation: [ts.displayPartsToString(info.documentation), ...tags.map((t) => `e.g. ${t}`)]
        .filter((t) => t !== "")
        .join("\n"),
    };
  }
}

function stringAround(source: ts.SourceFile, offset: number): ts.StringLiteralLike | undefined {
  let found: ts.StringLiteralLike | undefined;
  const visit = (n: ts.Node): void => {
    if (offset < n.getFullStart() || offset > n.getEnd()) return;
    if (ts.isStringLiteralLike(n) && offset > n.getStart(source) && offset <= n.getEnd()) found = n;
    ts.forEachChild(n, visit);
  };
  visit(source);
  return found;
}

/** A script imports from "oxtrum" and from sibling modules. */
function importErrors(source: ts.SourceFile, file: string): ScriptDiagnostic[] {
  const out: ScriptDiagnostic[] = [];
  for (const s of source.statements) {
    if (!ts.isImportDeclaration(s) && !ts.isExportDeclaration(s)) continue;
    const from = s.moduleSpecifier;
    if (!from || !ts.isStringLiteral(from)) continue;
    if (from.text !== "oxtrum" && !/^\.\/[\w.-]+$/.test(from.text))
      out.push(
        place(
          source,
          file,
          from.getStart(),
          from.getWidth(),
          `"${from.text}" cannot be imported: a script imports from "oxtrum" and from modules beside it, as in "./limits.ts"`,
          [],
          "error",
        ),
      );
  }
  return out;
}

const mapping = new Set(["map", "rows", "where"]);

/** A callback over runs that changes an outer variable would make the order of the runs matter. */
function outerChanges(source: ts.SourceFile, file: string, checker: ts.TypeChecker): ScriptDiagnostic[] {
  const out: ScriptDiagnostic[] = [];
  const inCallback = (fn: ts.Node): void => {
    const visit = (n: ts.Node): void => {
      const target =
        ts.isBinaryExpression(n) &&
        n.operatorToken.kind >= ts.SyntaxKind.FirstAssignment &&
        n.operatorToken.kind <= ts.SyntaxKind.LastAssignment
          ? n.left
          : (ts.isPrefixUnaryExpression(n) || ts.isPostfixUnaryExpression(n)) &&
              (n.operator === ts.SyntaxKind.PlusPlusToken || n.operator === ts.SyntaxKind.MinusMinusToken)
            ? n.operand
            : ts.isCallExpression(n) && ts.isPropertyAccessExpression(n.expression) && n.expression.name.text === "push"
              ? n.expression.expression
              : undefined;
      if (target) {
        const root =
          ts.isPropertyAccessExpression(target) || ts.isElementAccessExpression(target) ? target.expression : target;
        const symbol = ts.isIdentifier(root) ? checker.getSymbolAtLocation(root) : undefined;
        const declared = symbol?.valueDeclaration;
        if (
          declared &&
          declared.getSourceFile() === source &&
          !(declared.getStart() >= fn.getStart() && declared.getEnd() <= fn.getEnd())
        )
          out.push(
            place(
              source,
              file,
              n.getStart(),
              n.getWidth(),
              `"${root.getText()}" stands outside this callback and cannot be changed in it: runs are computed ` +
                "in any order. Give the value back and use .rows or .map",
              [],
              "error",
            ),
          );
      }
      ts.forEachChild(n, visit);
    };
    visit(fn);
  };
  const visit = (n: ts.Node): void => {
    if (ts.isCallExpression(n) && ts.isPropertyAccessExpression(n.expression) && mapping.has(n.expression.name.text)) {
      const type = checker.typeToString(checker.getTypeAtLocation(n.expression.expression));
      if (/^Run(?:Set|Map)</.test(type))
        n.arguments.filter((a) => ts.isArrowFunction(a) || ts.isFunctionExpression(a)).forEach(inCallback);
    }
    ts.forEachChild(n, visit);
  };
  visit(source);
  return out;
}
