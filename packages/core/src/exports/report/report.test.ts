import { describe, expect, it } from "@jest/globals";
import { drawPng } from "../draw.js";
import { readPdf } from "../testing/read-pdf.js";
import { markdownBlocks, reportHtml, reportPdf, type Block, type Report } from "./index.js";

const axis = { title: "Time", unit: "s", scale: "linear" as const };
const chart = {
  title: "Hall air",
  x: axis,
  y: { ...axis, title: "T", unit: "degC" },
  series: [{ kind: "lines" as const, name: "a", x: [0, 1, 2], y: [3, 1, 2], color: { palette: 0 } }],
};
const long: Block = {
  kind: "table",
  head: ["run", "peak (°C)", "a column of long words"],
  numeric: [false, true, false],
  rows: Array.from({ length: 120 }, (_, k) => [
    `run_${k}`,
    String(k / 10),
    "words that need several lines in a narrow column ".repeat(3),
  ]),
  caption: "all runs",
  more: "80 more rows in the files",
};
const report: Report = {
  title: "Doors <of> the store",
  cover: markdownBlocks("# Doors\n\nfor *print*"),
  body: [
    { kind: "heading", level: 2, text: "Findings" },
    ...markdownBlocks("The air is **warm**. See `t.max`.\n\n- one\n- two\n\n> said\n\n| a | b |\n|---|--:|\n| x | 1 |"),
    { kind: "heading", level: 3, text: "A chart" },
    { kind: "chart", chart, width: 700, height: 400, caption: "hall air · 9 runs" },
    {
      kind: "picture",
      png: await drawPng(chart, { width: 300, height: 200, scale: 1 }),
      width: 300,
      height: 200,
      caption: "drawn",
    },
    { kind: "verdict", verdict: "failed", text: "too warm" },
    { kind: "page" },
    { kind: "heading", level: 2, text: "Runs" },
    long,
    { kind: "heading", level: 2, text: "Script" },
    { kind: "code", text: 'const a = 1;\n  const b = "two words";' },
  ],
};

describe("notes in Markdown", () => {
  it("are blocks; what could do harm stays text", () => {
    const [p, ...rest] = markdownBlocks(
      "Hi <script>alert(1)</script> [a](javascript:x) [b](https://example.org/x) ![p](http://a/b.png)",
    );
    expect(rest).toEqual([]);
    const words = (p as Extract<Block, { kind: "paragraph" }>).words;
    expect(words.map((w) => w.text).join("")).toContain("<script>");
    expect(words.filter((w) => w.link !== undefined).map((w) => w.link)).toEqual(["https://example.org/x"]);
    expect(words.some((w) => w.text === "[p]")).toBe(true);
  });
});

describe("a report as HTML", () => {
  const html = reportHtml(report);
  it("holds all that it shows and asks for nothing else", () => {
    expect(html.match(/(?:src|href)="(?!data:|#)[^"]*"/g)).toBeNull();
    expect(html).toContain("<svg");
    expect(html).toContain("data:image/png;base64,");
    expect(html).toContain("@font-face");
    expect(html).toContain("default-src 'none'");
  });
  it("escapes words, links its contents, shows tables whole", () => {
    expect(html).toContain("<title>Doors &lt;of&gt; the store</title>");
    const links = [...html.matchAll(/href="#(part-\d+)"/g)].map((m) => m[1]!);
    expect(links).toEqual(["part-1", "part-2", "part-3"]);
    for (const id of links) expect(html).toContain(`id="${id}"`);
    expect(html.match(/<tr>/g)!.length).toBe(2 + 121);
    expect(html).toContain("<strong>warm</strong>");
  });
  it("has the same bytes each time", () => expect(reportHtml(report)).toBe(html));
});

describe("a report as PDF", () => {
  it("has a cover, contents with the right pages, headers and page numbers", async () => {
    const { pages, title } = await readPdf(await reportPdf(report));
    expect(title).toBe("Doors <of> the store");
    expect(pages[0]!.text).toContain("Doors");
    expect(pages[0]!.text).not.toMatch(/\d of \d/);
    const contents = pages[1]!.text;
    expect(contents).toContain("Contents");
    for (const heading of ["Findings", "Runs", "Script"]) {
      const page = Number(new RegExp(`${heading}\\s*(\\d+)`).exec(contents)![1]);
      expect(pages[page - 1]!.text).toContain(heading);
    }
    pages.slice(1).forEach((p, k) => {
      expect(p.text).toContain(`${k + 2} of ${pages.length}`);
      expect(p.text).toContain("Doors <of> the store");
    });
    expect([pages[0]!.width, pages[0]!.height]).toEqual([595, 842]);
  });
  it("breaks long tables with their head repeated, and loses no row", async () => {
    const { pages } = await readPdf(await reportPdf(report));
    const all = pages.map((p) => p.text).join("\n");
    for (let k = 0; k < 120; k++) expect(all).toContain(`run_${k}`);
    const having = pages.filter((p) => /run_\d/.test(p.text));
    expect(having.length).toBeGreaterThan(2);
    for (const p of having) expect(p.text).toContain("peak (°C)");
    expect(all).toContain("80 more rows in the files");
    expect(all).toMatch(/const b = "two words";/);
  });
  it("has the same bytes each time, its words in embedded fonts", async () => {
    const a = await reportPdf(report);
    expect(a.equals(await reportPdf(report))).toBe(true);
    const { pages } = await readPdf(a);
    expect(pages.flatMap((p) => p.fonts).filter((f) => !f.embedded)).toEqual([]);
  });
});
