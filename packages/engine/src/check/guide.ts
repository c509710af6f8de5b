import ts = require("typescript");
import { libraryDeclarations } from "./library.js";

/** One name of the library: how it is written, what it does, examples that the tests run. */
export interface GuideEntry {
  readonly name: string;
  readonly signatures: readonly string[];
  readonly text: string;
  readonly examples: readonly string[];
}

/** What belongs together: the members of one noun, or the functions that begin things. */
export interface GuideChapter {
  readonly name: string;
  readonly title: string;
  readonly text: string;
  readonly entries: readonly GuideEntry[];
}

/** The chapters in the order of the work; the names are those of the declarations. */
const order: readonly [name: string, title: string][] = [
  ["functions", "Where it begins"],
  ["Study", "A study"],
  ["RunSet", "Runs"],
  ["Run", "One run"],
  ["RunMap", "What each run gave"],
  ["Table", "Tables"],
  ["Field", "Fields"],
  ["Sites", "Sites: where to sample"],
  ["Quantity", "Quantities"],
  ["Fits", "Fits"],
  ["Fit", "What a fit gives"],
  ["Agreement", "Against a reference"],
  ["Law", "Published laws"],
  ["Charts", "Charts"],
  ["picture", "Pictures"],
  ["Outputs", "Outputs"],
  ["ReadOptions", "How a text table is read"],
  ["SeriesOptions", "Options of lines, points and bars"],
  ["ChartOptions", "Options of every chart"],
  ["Limits", "Limits of a check"],
];

function docOf(node: ts.Node): { text: string; examples: string[] } {
  const docs = ts.getJSDocCommentsAndTags(node).filter(ts.isJSDoc);
  const plain = (c: string | ts.NodeArray<ts.JSDocComment> | undefined): string =>
    (ts.getTextOfJSDocComment(c) ?? "").replace(/\s*\n\s*/g, " ").trim();
  return {
    text: docs.map((d) => plain(d.comment)).join(" "),
    examples: docs.flatMap((d) =>
      (d.tags ?? []).filter((t) => t.tagName.text === "example").map((t) => plain(t.comment)),
    ),
  };
}

/** A signature as it is written, on one line. */
const written = (node: ts.Node, source: ts.SourceFile): string =>
  node
    .getText(source)
    .replace(/\/\*\*[\s\S]*?\*\//g, "")
    .replace(/^export\s+/, "")
    .replace(/\s+/g, " ")
    .replace(/([([{])\s+/g, "$1")
    .replace(/,?\s+([)\]}])/g, "$1")
    .replace(/;$/, "")
    .trim();

function entriesOf(members: readonly ts.Node[], source: ts.SourceFile): GuideEntry[] {
  const out = new Map<string, { name: string; signatures: string[]; text: string; examples: string[] }>();
  for (const m of members) {
    const name = (m as ts.NamedDeclaration).name?.getText(source);
    if (name === undefined) continue;
    const { text, examples } = docOf(m);
    const e = out.get(name) ?? { name, signatures: [], text: "", examples: [] };
    out.set(name, e);
    e.signatures.push(written(m, source));
    e.text ||= text;
    e.examples.push(...examples);
  }
  return [...out.values()];
}

/** The library's reference, read from its declarations: what the editor shows and the Guide page prints. */
export function libraryGuide(): GuideChapter[] {
  const source = ts.createSourceFile("oxtrum.d.ts", libraryDeclarations(), ts.ScriptTarget.ES2022, true);
  const body = source.statements.flatMap((s) =>
    ts.isModuleDeclaration(s) && s.body && ts.isModuleBlock(s.body) ? [...s.body.statements] : [],
  );
  const chapters = new Map<string, Omit<GuideChapter, "name" | "title">>();
  const functions: ts.Node[] = [];
  for (const s of body) {
    if (ts.isFunctionDeclaration(s)) functions.push(s);
    else if (ts.isInterfaceDeclaration(s)) {
      // An interface may be declared in parts, of which the first says what it is; verbs come first.
      const before = chapters.get(s.name.text);
      chapters.set(s.name.text, {
        text: before?.text ?? docOf(s).text,
        entries: [...entriesOf(s.members, source), ...(before?.entries ?? [])],
      });
    } else if (ts.isVariableStatement(s)) {
      const d = s.declarationList.declarations[0]!;
      if (d.type && ts.isTypeLiteralNode(d.type))
        chapters.set(d.name.getText(source), { text: docOf(s).text, entries: entriesOf(d.type.members, source) });
    }
  }
  chapters.set("functions", { text: "", entries: entriesOf(functions, source) });
  return order.flatMap(([name, title]) => {
    const c = chapters.get(name);
    return c && c.entries.length > 0 ? [{ name, title, ...c }] : [];
  });
}
