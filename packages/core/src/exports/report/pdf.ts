import { loadImage, PDFDocument, type Image } from "@napi-rs/canvas";
import { createCanvas } from "@napi-rs/canvas";
import { cutText, type TextContext } from "../../charts/rich-text.js";
import { paintChart, POINTS } from "../draw.js";
import { documentFonts } from "../fonts.js";
import { contentsOf, type Block, type Report, type Words } from "./model.js";

/** A4 in points. */
const PAGE = { width: 595, height: 842 };
const MARGIN = { x: 56, top: 64, bottom: 60 };
const WIDTH = PAGE.width - 2 * MARGIN.x;
const BOTTOM = PAGE.height - MARGIN.bottom;
const INK = "#1F2629";
const SOFT = "#5F6B6D";
const RULE = "#DDD8CC";
const OXIDE = "#AC4427";

type Draw = (ctx: CanvasRenderingContext2D) => void;

interface Piece {
  readonly text: string;
  readonly font: string;
  readonly width: number;
  readonly words: Words;
}

const sumOf = (list: readonly number[]): number => list.reduce((s, v) => s + v, 0);

/** Lays a report out on pages: what to draw on each, and on which page each heading stands. */
class Layout {
  readonly pages: Draw[][] = [];
  readonly headings: { level: 1 | 2; text: string; page: number; y: number }[] = [];
  readonly #measure: CanvasRenderingContext2D;
  readonly #fonts = documentFonts();
  #y = MARGIN.top;

  constructor(private readonly images: ReadonlyMap<Block, Image>) {
    this.#measure = createCanvas(4, 4).getContext("2d") as unknown as CanvasRenderingContext2D;
  }

  newPage(): void {
    this.pages.push([]);
    this.#y = MARGIN.top;
  }

  down(by: number): void {
    this.#y += by;
  }

  #draw(d: Draw): void {
    this.pages[this.pages.length - 1]!.push(d);
  }

  /** Begins a new page unless so much fits on this one. */
  #room(height: number): void {
    if (this.#y + height > BOTTOM && this.#y > MARGIN.top) this.newPage();
  }

  #font(size: number, w: Omit<Words, "text"> = {}): string {
    return `${w.bold ? 600 : 400} ${size}px ${w.code ? this.#fonts.mono : this.#fonts.sans}`;
  }

  #width(text: string, font: string): number {
    this.#measure.font = font;
    return this.#measure.measureText(text).width;
  }

  /** Words broken into lines; a word that is wider than a line is broken within. */
  #lines(words: readonly Words[], size: number, room: number): Piece[][] {
    const lines: Piece[][] = [[]];
    let used = 0;
    const put = (text: string, w: Words, font: string, width: number): void => {
      lines[lines.length - 1]!.push({ text, font, width, words: w });
      used += width;
    };
    const next = (): void => {
      lines.push([]);
      used = 0;
    };
    for (const w of words) {
      const font = this.#font(w.code ? size * 0.92 : size, w);
      for (const [k, line] of w.text.split("\n").entries()) {
        if (k > 0) next();
        for (const part of w.code && size <= 8 ? [line] : (line.match(/\s+|[^\s]+/g) ?? [])) {
          const blank = /^\s+$/.test(part);
          if (blank && used === 0) continue;
          const text = blank ? " " : part;
          const width = this.#width(text, font);
          if (used + width <= room) put(text, w, font, width);
          else if (blank) next();
          else {
            if (used > 0) next();
            let rest = text;
            while (this.#width(rest, font) > room && rest.length > 1) {
              let n = rest.length;
              while (n > 1 && this.#width(rest.slice(0, n), font) > room) n = Math.max(1, Math.floor(n * 0.85));
              put(rest.slice(0, n), w, font, this.#width(rest.slice(0, n), font));
              next();
              rest = rest.slice(n);
            }
            put(rest, w, font, this.#width(rest, font));
          }
        }
      }
    }
    return lines;
  }

  /** A paragraph; returns nothing, moves down by its height. */
  words(
    words: readonly Words[],
    o: { size?: number; color?: string; indent?: number; lead?: number; bullet?: string } = {},
  ): void {
    const { size = 10, color = INK, indent = 0, lead = 1.45 } = o;
    const lines = this.#lines(words, size, WIDTH - indent);
    lines.forEach((line, k) => {
      this.#room(size * lead);
      const y = this.#y + size;
      const bullet = k === 0 ? o.bullet : undefined;
      this.#draw((ctx) => {
        let x = MARGIN.x + indent;
        if (bullet !== undefined) {
          ctx.font = this.#font(size);
          ctx.fillStyle = color;
          ctx.fillText(bullet, x - 14, y);
        }
        for (const p of line) {
          ctx.font = p.font;
          ctx.fillStyle = p.words.link === undefined ? color : OXIDE;
          ctx.fillText(p.text, x, y);
          x += p.width;
        }
      });
      this.#y += size * lead;
    });
  }

  rule(color = RULE, thick = 0.7): void {
    const y = this.#y;
    this.#draw((ctx) => {
      ctx.fillStyle = color;
      ctx.fillRect(MARGIN.x, y, WIDTH, thick);
    });
    this.#y += 6;
  }

  /** How high a figure comes out, with its caption. */
  #figureHeight(b: Extract<Block, { kind: "chart" | "picture" }>): { points: number; caption: number; height: number } {
    const caption = b.caption === undefined ? 0 : 18;
    const points = Math.min(POINTS, WIDTH / b.width, (BOTTOM - MARGIN.top - caption - 50) / b.height);
    return { points, caption, height: b.height * points + caption + 8 };
  }

  add(b: Block, next?: Block): void {
    switch (b.kind) {
      case "page":
        if (this.#y > MARGIN.top) this.newPage();
        return;
      case "heading": {
        const size = b.level === 1 ? 20 : b.level === 2 ? 14 : 11;
        if (this.#y > MARGIN.top) this.#y += b.level === 3 ? 8 : 14;
        // A heading does not stand alone at the foot of a page.
        const follows =
          next?.kind === "chart" || next?.kind === "picture"
            ? this.#figureHeight(next).height
            : next?.kind === "heading"
              ? 90
              : 50;
        this.#room(size * 1.4 + 12 + follows);
        if (b.level <= 2)
          this.headings.push({ level: b.level as 1 | 2, text: b.text, page: this.pages.length - 1, y: this.#y });
        this.words([{ text: b.text, bold: true }], { size, lead: 1.3 });
        if (b.level === 2) this.rule();
        else this.#y += 3;
        return;
      }
      case "paragraph":
        this.words(b.words, { color: b.soft ? SOFT : INK });
        this.#y += 5;
        return;
      case "quote":
        this.words(b.words, { color: SOFT, indent: 14 });
        this.#y += 5;
        return;
      case "list":
        b.items.forEach((item, k) => this.words(item, { indent: 18, bullet: b.ordered ? `${k + 1}.` : "–" }));
        this.#y += 5;
        return;
      case "code":
        for (const line of b.text.split("\n"))
          this.words([{ text: line === "" ? " " : line, code: true }], { size: 8, lead: 1.35 });
        this.#y += 6;
        return;
      case "verdict":
        return this.#verdict(b);
      case "rule":
        return this.rule();
      case "chart":
      case "picture":
        return this.#figure(b);
      case "table":
        return this.#table(b);
    }
  }

  #verdict(b: Extract<Block, { kind: "verdict" }>): void {
    this.#room(16);
    const y = this.#y;
    const [fill, ink] =
      b.verdict === "failed" ? [OXIDE, "#FFFFFF"] : [undefined, b.verdict === "passed" ? "#2C7A70" : SOFT];
    this.#draw((ctx) => {
      ctx.lineWidth = 0.8;
      ctx.strokeStyle = fill ?? ink;
      if (fill) {
        ctx.fillStyle = fill;
        ctx.fillRect(MARGIN.x, y, 62, 13);
      } else ctx.strokeRect(MARGIN.x + 0.4, y + 0.4, 61, 12);
      ctx.fillStyle = ink;
      ctx.font = this.#font(8.5);
      ctx.fillText(b.verdict, MARGIN.x + 6, y + 9.5);
    });
    this.words([{ text: b.text }], { indent: 72 });
    this.#y += 3;
  }

  #figure(b: Extract<Block, { kind: "chart" | "picture" }>): void {
    const { points, height: whole } = this.#figureHeight(b);
    const [width, height] = [b.width * points, b.height * points];
    this.#room(whole);
    const y = this.#y;
    const image = this.images.get(b);
    this.#draw((ctx) => {
      if (b.kind === "chart")
        paintChart(ctx, b.chart, {
          x: MARGIN.x,
          y,
          width: b.width,
          height: b.height,
          scale: points,
          fonts: this.#fonts,
        });
      else if (image) ctx.drawImage(image as unknown as CanvasImageSource, MARGIN.x, y, width, height);
      ctx.strokeStyle = RULE;
      ctx.lineWidth = 0.5;
      ctx.strokeRect(MARGIN.x, y, width, height);
    });
    this.#y += height + 4;
    if (b.caption !== undefined) this.words([{ text: b.caption }], { size: 8.5, color: SOFT });
    this.#y += 8;
  }

  #table(b: Extract<Block, { kind: "table" }>): void {
    const size = b.head.length > 8 ? 7 : 8.5;
    const pad = b.head.length > 8 ? 6 : 10;
    const fontOf = (k: number, head: boolean): string => this.#font(size, { bold: head, code: b.numeric[k] === true });
    const natural = b.head.map(
      (h, k) =>
        Math.max(
          this.#width(h, fontOf(k, true)),
          ...b.rows.slice(0, 200).map((r) => this.#width(r[k] ?? "", fontOf(k, false))),
        ) + pad,
    );
    const total = sumOf(natural);
    // Too wide a table: the wide columns of words give way first, and break their lines.
    const widths = total <= WIDTH ? natural : shrunk(natural, WIDTH, 28);
    const cells = (row: readonly string[], head: boolean): Piece[][][] =>
      row.map((text, k) =>
        this.#lines([{ text, bold: head, code: b.numeric[k] === true }], size, Math.max(8, widths[k]! - pad)),
      );
    const row = (texts: readonly string[], head: boolean): void => {
      const all = cells(texts, head);
      const height = Math.max(1, ...all.map((c) => c.length)) * size * 1.35 + 4;
      if (this.#y + height > BOTTOM && this.#y > MARGIN.top) {
        this.newPage();
        if (!head) row(b.head, true);
      }
      const y = this.#y;
      this.#draw((ctx) => {
        let x = MARGIN.x;
        all.forEach((lines, k) => {
          lines.forEach((line, n) => {
            let at = b.numeric[k] ? x + widths[k]! - pad - line.reduce((s, p) => s + p.width, 0) : x;
            for (const p of line) {
              ctx.font = p.font;
              ctx.fillStyle = INK;
              ctx.fillText(p.text, at, y + size + n * size * 1.35);
              at += p.width;
            }
          });
          x += widths[k]!;
        });
        ctx.fillStyle = head ? INK : RULE;
        ctx.fillRect(MARGIN.x, y + height - 1.5, Math.min(WIDTH, sumOf(widths)), 0.6);
      });
      this.#y += height;
    };
    if (b.caption !== undefined) {
      this.#room(60);
      this.words([{ text: b.caption }], { size: 8.5, color: SOFT });
    }
    this.#room(40);
    row(b.head, true);
    for (const r of b.rows) row(r, false);
    if (b.more !== undefined) this.words([{ text: b.more }], { size: 8.5, color: SOFT });
    this.#y += 8;
  }

  /** The contents: each heading with its page, counted from where the body begins. */
  contents(entries: readonly { level: 1 | 2; text: string; page: number }[], shift: number): void {
    this.words([{ text: "Contents", bold: true }], { size: 14, lead: 1.3 });
    this.rule();
    for (const e of entries) {
      this.#room(16);
      const y = this.#y + 10;
      const page = String(e.page + shift + 1);
      this.#draw((ctx) => {
        const font = { size: 10, family: this.#fonts.sans, weight: e.level === 1 ? 600 : 400 };
        const x = MARGIN.x + (e.level === 2 ? 14 : 0);
        const text = cutText(ctx as unknown as TextContext, e.text, font, WIDTH - 60);
        ctx.font = `${font.weight} 10px ${font.family}`;
        ctx.fillStyle = INK;
        ctx.fillText(text, x, y);
        ctx.font = this.#font(10, { code: true });
        ctx.fillText(page, MARGIN.x + WIDTH - ctx.measureText(page).width, y);
      });
      this.#y += 16;
    }
  }

  furniture(ctx: CanvasRenderingContext2D, title: string, page: number, pages: number): void {
    const font = { size: 8.5, family: this.#fonts.sans, weight: 400 };
    ctx.fillStyle = SOFT;
    ctx.font = `400 8.5px ${font.family}`;
    ctx.fillText(cutText(ctx as unknown as TextContext, title, font, WIDTH - 60), MARGIN.x, 40);
    ctx.fillStyle = RULE;
    ctx.fillRect(MARGIN.x, 47, WIDTH, 0.6);
    ctx.fillStyle = SOFT;
    const text = `${page} of ${pages}`;
    ctx.font = `400 8.5px ${font.family}`;
    ctx.fillText(text, MARGIN.x + WIDTH - ctx.measureText(text).width, PAGE.height - 32);
  }
}

/** Widths that fit: the widest are cut to a common width, none below `least`. */
function shrunk(natural: readonly number[], room: number, least: number): number[] {
  let [low, high] = [least, Math.max(...natural)];
  for (let k = 0; k < 50; k++) {
    const mid = (low + high) / 2;
    if (natural.reduce((s, w) => s + Math.min(w, mid), 0) > room) high = mid;
    else low = mid;
  }
  const cut = natural.map((w) => Math.min(w, low));
  const total = cut.reduce((s, w) => s + w, 0);
  return total > room ? cut.map((w) => (w * room) / total) : cut;
}

/**
 * A report as PDF on A4 pages: cover, contents, body, with headers and page numbers. The same report gives the same
 * bytes.
 */
export async function reportPdf(r: Report): Promise<Buffer> {
  const images = new Map<Block, Image>();
  for (const b of [...r.cover, ...r.body]) if (b.kind === "picture") images.set(b, await loadImage(b.png));
  const cover = new Layout(images);
  cover.newPage();
  cover.down(120);
  cover.rule(OXIDE, 2);
  r.cover.forEach((b, k) => cover.add(b, r.cover[k + 1]));
  const body = new Layout(images);
  body.newPage();
  r.body.forEach((b, k) => body.add(b, r.body[k + 1]));
  // The contents take as many pages whatever the numbers are: laid out once to count, once to stay.
  const entries = body.headings;
  const listed = (shift: number): Layout => {
    const l = new Layout(images);
    l.newPage();
    l.contents(entries, shift);
    return l;
  };
  const ahead = contentsOf(r).length > 1 ? listed(0).pages.length : 0;
  const contents = ahead > 0 ? listed(cover.pages.length + ahead) : undefined;
  const pages = [...cover.pages, ...(contents?.pages ?? []), ...body.pages];
  const doc = new PDFDocument({ title: r.title, creator: "Oxtrum" });
  pages.forEach((draws, k) => {
    const ctx = doc.beginPage(PAGE.width, PAGE.height) as unknown as CanvasRenderingContext2D;
    (ctx as unknown as { fontFeatureSettings: string }).fontFeatureSettings = '"calt" 0, "liga" 0';
    ctx.textAlign = "left";
    ctx.textBaseline = "alphabetic";
    for (const d of draws) {
      ctx.save();
      d(ctx);
      ctx.restore();
    }
    if (k >= cover.pages.length) body.furniture(ctx, r.title, k + 1, pages.length);
    doc.endPage();
  });
  return doc.close();
}
