import { drawSvg } from "../draw.js";
import { allFontRules } from "../fonts.js";
import { contentsOf, type Block, type Report, type Words } from "./model.js";

const escaped = (text: string): string =>
  text.replace(/[&<>"']/g, (c) => ({ "&": "&amp;", "<": "&lt;", ">": "&gt;", '"': "&quot;", "'": "&#39;" })[c]!);

const style = `
body{margin:0;background:#FAF8F3;color:#1F2629;font:15px/1.55 "Oxtrum Sans","DejaVu Sans",sans-serif}
main{max-width:880px;margin:0 auto;padding:40px 48px 80px;background:#fff;border:solid #DDD8CC;border-width:0 1px}
header.cover{border-bottom:2px solid #AC4427;margin-bottom:28px;padding-bottom:20px}
h1{font-size:28px;line-height:1.2;margin:28px 0 10px}
h2{font-size:20px;margin:34px 0 10px;border-bottom:1px solid #DDD8CC;padding-bottom:4px}
h3{font-size:15px;margin:22px 0 6px}
p{margin:8px 0}
.soft{color:#5F6B6D}
a{color:#AC4427}
nav{margin:20px 0 30px}
nav ol{list-style:none;padding:0;margin:0}
nav li{padding:2px 0}
nav li.l2{padding-left:18px}
nav a{text-decoration:none}
figure{margin:18px 0}
figure svg,figure img{max-width:100%;height:auto;border:1px solid #DDD8CC}
figcaption,caption{color:#5F6B6D;font-size:13px;text-align:left;padding:4px 0}
.wide{overflow-x:auto}
table{border-collapse:collapse;font-size:13px;margin:6px 0}
th,td{padding:3px 12px 3px 0;border-bottom:1px solid #DDD8CC;text-align:left;vertical-align:top}
th{font-weight:600;border-bottom-color:#1F2629}
td.n,th.n{text-align:right;font-family:"Oxtrum Mono","DejaVu Sans",monospace;white-space:nowrap}
td{overflow-wrap:anywhere}
pre{background:#FAF8F3;border:1px solid #DDD8CC;padding:10px 12px;overflow:auto;font:12px/1.45 "Oxtrum Mono",monospace}
code{font-family:"Oxtrum Mono",monospace;font-size:.92em}
blockquote{margin:10px 0;padding:2px 0 2px 14px;border-left:2px solid #AC4427;color:#5F6B6D}
.v{display:inline-block;border:1px solid;padding:0 8px;margin-right:8px;font-size:13px}
.passed{color:#2C7A70}
.failed{color:#fff;background:#AC4427;border-color:#AC4427}
.undecided{color:#5F6B6D;border-style:dashed}
@media print{
body{background:#fff;font-size:11pt}
main{border:0;max-width:none;padding:0}
figure,tr{break-inside:avoid}
h2,h3{break-after:avoid}
nav{break-after:page}
.wide{overflow:visible}
@page{size:A4;margin:18mm}
}
`;

/**
 * A report as one HTML page that opens with no network: drawings and fonts are in it. The same report gives the same
 * bytes.
 */
export function reportHtml(r: Report): string {
  const contents = contentsOf(r);
  let heading = 0;
  const block = (b: Block): string => htmlOf(b, () => contents[heading++]!.id);
  const nav = contents.map((c) => `<li class="l${c.level}"><a href="#${c.id}">${escaped(c.text)}</a></li>`).join("\n");
  const body = r.body.map(block).join("\n");
  return `<!doctype html>
<html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width"><title>${escaped(r.title)}</title>
<meta http-equiv="Content-Security-Policy" content="default-src 'none'; img-src data:; font-src data:; style-src 'unsafe-inline'">
<style>${allFontRules()}${style}</style></head><body><main>
<header class="cover">
${r.cover.map((b) => htmlOf(b, () => undefined)).join("\n")}
</header>
<nav aria-label="Contents"><ol>
${nav}
</ol></nav>
${body}
</main></body></html>
`;
}

function wordsOf(words: readonly Words[]): string {
  return words
    .map((w) => {
      let text = escaped(w.text).replace(/\n/g, "<br>");
      if (w.code) text = `<code>${text}</code>`;
      if (w.italic) text = `<em>${text}</em>`;
      if (w.bold) text = `<strong>${text}</strong>`;
      return w.link === undefined ? text : `<a href="${escaped(w.link)}">${text}</a>`;
    })
    .join("");
}

const captionOf = (caption: string | undefined): string =>
  caption === undefined ? "" : `<figcaption>${escaped(caption)}</figcaption>`;

function htmlOf(b: Block, id: () => string | undefined): string {
  switch (b.kind) {
    case "heading": {
      const own = b.level <= 2 ? id() : undefined;
      return `<h${b.level}${own === undefined ? "" : ` id="${own}"`}>${escaped(b.text)}</h${b.level}>`;
    }
    case "paragraph":
      return `<p${b.soft ? ' class="soft"' : ""}>${wordsOf(b.words)}</p>`;
    case "list":
      return `<${b.ordered ? "ol" : "ul"}>${b.items.map((i) => `<li>${wordsOf(i)}</li>`).join("")}</${b.ordered ? "ol" : "ul"}>`;
    case "quote":
      return `<blockquote>${wordsOf(b.words)}</blockquote>`;
    case "code":
      return `<pre>${escaped(b.text)}</pre>`;
    case "verdict":
      return `<p><span class="v ${b.verdict}">${b.verdict}</span>${escaped(b.text)}</p>`;
    case "rule":
      return `<hr>`;
    case "page":
      return "";
    case "chart": {
      const svg = drawSvg(b.chart, { width: b.width, height: b.height }, { fonts: false }).toString("utf8");
      return `<figure>${svg.replace(/^<\?xml[^>]*>\s*/, "")}${captionOf(b.caption)}</figure>`;
    }
    case "picture":
      return (
        `<figure><img alt="${escaped(b.caption ?? "")}" width="${b.width}" height="${b.height}" ` +
        `src="data:image/png;base64,${b.png.toString("base64")}">${captionOf(b.caption)}</figure>`
      );
    case "table": {
      const cell = (tag: "th" | "td", text: string, k: number): string =>
        `<${tag}${b.numeric[k] ? ' class="n"' : ""}>${escaped(text)}</${tag}>`;
      const rows = b.rows.map((r) => `<tr>${r.map((c, k) => cell("td", c, k)).join("")}</tr>`).join("\n");
      const more = b.more === undefined ? "" : `<p class="soft">${escaped(b.more)}</p>`;
      const caption = b.caption === undefined ? "" : `<caption>${escaped(b.caption)}</caption>`;
      const head = b.head.map((c, k) => cell("th", c, k)).join("");
      const table = `<table>${caption}<thead><tr>${head}</tr></thead><tbody>\n${rows}\n</tbody></table>`;
      return `<div class="wide">${table}</div>${more}`;
    }
  }
}
