import { embeddedNames, fontRules, isCovered, type UsedFont } from "./fonts.js";

interface WrittenText extends UsedFont {
  readonly text: string;
  readonly size: number;
  readonly fill: string;
  readonly opacity: number;
  /** a, b, c, d, e, f of the place at which its base line begins. */
  readonly matrix: readonly [number, number, number, number, number, number];
}

const escaped = (text: string): string =>
  text.replace(/[&<>"]/g, (c) => ({ "&": "&amp;", "<": "&lt;", ">": "&gt;", '"': "&quot;" })[c]!);
const short = (v: number): string => String(Math.round(v * 100) / 100);

/**
 * Keeps the texts that are drawn on a context instead of drawing them, for a vector file in which they stay words. What
 * the embedded fonts have no letters for is drawn as before.
 */
export class TextKeeper {
  readonly texts: WrittenText[] = [];

  constructor(ctx: CanvasRenderingContext2D) {
    const draw = ctx.fillText.bind(ctx);
    const keep = (text: string, x: number, y: number): void => {
      const m = /(?:(\d+|bold|normal) )?([\d.]+)px (.*)$/.exec(ctx.font);
      const family = m?.[3]?.includes("mono") ? "mono" : "sans";
      if (!m || !isCovered(text, family)) return draw(text, x, y);
      if (text.trim() === "") return;
      const { textAlign, textBaseline } = ctx;
      const width = ctx.measureText(text).width;
      ctx.textBaseline = "alphabetic";
      const { fontBoundingBoxAscent: up, fontBoundingBoxDescent: down } = ctx.measureText(text);
      ctx.textBaseline = textBaseline;
      const left =
        textAlign === "center" ? x - width / 2 : textAlign === "right" || textAlign === "end" ? x - width : x;
      const base =
        textBaseline === "middle"
          ? y + (up - down) / 2
          : textBaseline === "top"
            ? y + up
            : textBaseline === "bottom"
              ? y - down
              : y;
      const t = ctx.getTransform();
      this.texts.push({
        text,
        family,
        size: Number(m[2]),
        fill: String(ctx.fillStyle),
        opacity: ctx.globalAlpha,
        weight: m[1] === "bold" ? 600 : Number(m[1] ?? 400) || 400,
        matrix: [t.a, t.b, t.c, t.d, t.a * left + t.c * base + t.e, t.b * left + t.d * base + t.f],
      });
    };
    Object.defineProperty(ctx, "fillText", { value: keep, configurable: true });
  }

  /** The texts as elements. */
  elements(): string {
    return this.texts
      .map((t) => {
        const [a, b, c, d, e, f] = t.matrix;
        const plain = a === 1 && b === 0 && c === 0 && d === 1;
        const at = plain
          ? `x="${short(e)}" y="${short(f)}"`
          : `transform="matrix(${[a, b, c, d].map((v) => String(Math.round(v * 1e6) / 1e6)).join(" ")} ${short(e)} ${short(f)})"`;
        return (
          `<text ${at} ` +
          `font-family="${escaped(`'${embeddedNames[t.family]}', ${t.family === "mono" ? "monospace" : "sans-serif"}`)}" ` +
          `font-size="${short(t.size)}"${t.weight >= 600 ? ' font-weight="600"' : ""} ` +
          `fill="${escaped(t.fill)}"${t.opacity < 1 ? ` fill-opacity="${short(t.opacity)}"` : ""} ` +
          `xml:space="preserve">${escaped(t.text)}</text>`
        );
      })
      .join("\n");
  }

  /** Puts the texts, and the fonts they are set in if asked for, into the drawing that they were taken from. */
  into(svg: string, embed: boolean): string {
    const rules = embed ? fontRules(this.texts) : "";
    const style = rules === "" ? "" : `<style>${rules}</style>\n`;
    const open = svg.indexOf(">", svg.indexOf("<svg")) + 1;
    const close = svg.lastIndexOf("</svg>");
    return `${svg.slice(0, open)}\n${style}${svg.slice(open, close)}${this.elements()}\n</svg>\n`;
  }
}
