import { marked, type Token, type Tokens } from "marked";
import type { Block, Words } from "./model.js";

/** Notes in Markdown as blocks. Raw HTML stays the text that it is; pictures by address are named, not fetched. */
export function markdownBlocks(text: string): Block[] {
  return marked.lexer(text).flatMap(blockOf);
}

function blockOf(t: Token): Block[] {
  switch (t.type) {
    case "heading":
      return [
        {
          kind: "heading",
          level: Math.min(3, (t as Tokens.Heading).depth) as 1 | 2 | 3,
          text: plainOf(inline(t.tokens)),
        },
      ];
    case "paragraph":
    case "text":
      return [{ kind: "paragraph", words: t.tokens ? inline(t.tokens) : [{ text: unescaped(t.raw) }] }];
    case "list": {
      const list = t as Tokens.List;
      return [
        {
          kind: "list",
          ordered: list.ordered,
          items: list.items.map((i) => i.tokens.flatMap((x, k) => [...(k > 0 ? [{ text: " " }] : []), ...itemOf(x)])),
        },
      ];
    }
    case "blockquote":
      return [
        {
          kind: "quote",
          words: (t.tokens ?? []).flatMap(wordsIn),
        },
      ];
    case "code":
      return [{ kind: "code", text: (t as Tokens.Code).text }];
    case "hr":
      return [{ kind: "rule" }];
    case "table": {
      const table = t as Tokens.Table;
      const cells = (row: readonly Tokens.TableCell[]): string[] => row.map((c) => plainOf(inline(c.tokens)));
      return [
        {
          kind: "table",
          head: cells(table.header),
          numeric: table.align.map((a) => a === "right"),
          rows: table.rows.map(cells),
        },
      ];
    }
    case "space":
      return [];
    default:
      return [{ kind: "paragraph", words: [{ text: t.raw.trim() }] }];
  }
}

const wordsIn = (t: Token): Words[] => ("tokens" in t && t.tokens ? inline(t.tokens) : [{ text: t.raw }]);

/** A part of a list's item; the items of a list within it stand in one line. */
const itemOf = (t: Token): Words[] =>
  t.type === "list"
    ? (t as Tokens.List).items.flatMap((inner) => [{ text: " – " }, ...inner.tokens.flatMap(wordsIn)])
    : wordsIn(t);

const unescaped = (text: string): string =>
  text.replace(
    /&(amp|lt|gt|quot|#39);/g,
    (_, c: string) => ({ amp: "&", lt: "<", gt: ">", quot: '"', "#39": "'" })[c]!,
  );

function inline(tokens: readonly Token[] | undefined, style: Omit<Words, "text"> = {}): Words[] {
  return (tokens ?? []).flatMap((t): Words[] => {
    if (t.type === "strong") return inline(t.tokens, { ...style, bold: true });
    if (t.type === "em" || t.type === "del") return inline(t.tokens, { ...style, italic: true });
    if (t.type === "codespan") return [{ ...style, code: true, text: unescaped((t as Tokens.Codespan).text) }];
    if (t.type === "br") return [{ text: "\n" }];
    if (t.type === "link") {
      const { href } = t as Tokens.Link;
      // Only addresses of pages: no scripts, no files.
      return inline(t.tokens, /^https?:\/\//.test(href) ? { ...style, link: href } : style);
    }
    if (t.type === "image") return [{ ...style, text: `[${(t as Tokens.Image).text || (t as Tokens.Image).href}]` }];
    if (t.type === "text" && "tokens" in t && t.tokens) return inline(t.tokens, style);
    if (t.type === "escape") return [{ ...style, text: (t as Tokens.Escape).text }];
    return [{ ...style, text: unescaped(t.type === "text" ? (t as Tokens.Text).text : t.raw) }];
  });
}

export const plainOf = (words: readonly Words[]): string => words.map((w) => w.text).join("");
