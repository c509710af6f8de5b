/** A stretch of a title: on the line, raised or lowered. */
export interface TextRun {
  readonly text: string;
  readonly shift: "none" | "sub" | "super";
}

/**
 * Splits a title into stretches: `T_{mean}`, `x^2`, `m^{-3}`. A lone `_` or `^` stays what it is.
 *
 * @example richText("U_{max} in m/s") // [{text:"U"}, {text:"max", shift:"sub"}, {text:" in m/s"}]
 */
export function richText(text: string): TextRun[] {
  const runs: TextRun[] = [];
  let rest = 0;
  for (const m of text.matchAll(/([_^])(?:\{([^{}]*)\}|(-?\d+))/g)) {
    if (m[1] === "_" && m[2] === undefined) continue;
    if (m.index > rest) runs.push({ text: text.slice(rest, m.index), shift: "none" });
    runs.push({ text: m[2] ?? m[3]!, shift: m[1] === "_" ? "sub" : "super" });
    rest = m.index + m[0].length;
  }
  if (rest < text.length) runs.push({ text: text.slice(rest), shift: "none" });
  return runs;
}

/** The part of a 2D drawing context that text needs. */
export interface TextContext {
  font: string;
  fillStyle: unknown;
  textAlign: string;
  textBaseline: string;
  measureText(text: string): { width: number };
  fillText(text: string, x: number, y: number): void;
}

export interface TextFont {
  readonly size: number;
  readonly family: string;
  readonly weight: number;
}

const fontOf = (font: TextFont, r: TextRun): string =>
  `${font.weight} ${r.shift === "none" ? font.size : font.size * 0.72}px ${font.family}`;

/** How wide a title comes out. */
export function richWidth(ctx: Pick<TextContext, "font" | "measureText">, text: string, font: TextFont): number {
  let total = 0;
  for (const r of richText(text)) {
    ctx.font = fontOf(font, r);
    total += ctx.measureText(r.text).width;
  }
  return total;
}

/** Draws a title with raised and lowered parts, aligned at x; y is the base line. Returns its width. */
export function drawRichText(
  ctx: TextContext,
  text: string,
  x: number,
  y: number,
  font: TextFont,
  align: "left" | "center" | "right",
): number {
  const runs = richText(text);
  const total = richWidth(ctx, text, font);
  let at = align === "center" ? x - total / 2 : align === "right" ? x - total : x;
  ctx.textAlign = "left";
  ctx.textBaseline = "alphabetic";
  for (const r of runs) {
    ctx.font = fontOf(font, r);
    ctx.fillText(r.text, at, y + (r.shift === "sub" ? font.size * 0.22 : r.shift === "super" ? -font.size * 0.36 : 0));
    at += ctx.measureText(r.text).width;
  }
  return total;
}

/**
 * A text that is no wider than `room`: cut in the middle, where names differ least from each other's ends.
 *
 * @example cutText(ctx, "a-very-long-name", font, 60) // "a-ve…ame"
 */
export function cutText(
  ctx: Pick<TextContext, "font" | "measureText">,
  text: string,
  font: TextFont,
  room: number,
): string {
  if (richWidth(ctx, text, font) <= room) return text;
  const letters = [...text];
  let [low, high] = [0, letters.length];
  const cut = (n: number): string =>
    letters.slice(0, Math.ceil(n / 2)).join("") + "…" + letters.slice(letters.length - Math.floor(n / 2)).join("");
  while (low < high) {
    const n = (low + high + 1) >> 1;
    if (richWidth(ctx, cut(n), font) <= room) low = n;
    else high = n - 1;
  }
  return low === 0 ? "…" : cut(low);
}

/** Lines of at most `room` width, broken at spaces; what is left after `most` lines is cut. */
export function wrapText(
  ctx: Pick<TextContext, "font" | "measureText">,
  text: string,
  font: TextFont,
  room: number,
  most: number,
): string[] {
  const lines: string[] = [];
  let line = "";
  const words = text.split(/\s+/).filter((w) => w !== "");
  for (let i = 0; i < words.length; i++) {
    const longer = line === "" ? words[i]! : `${line} ${words[i]!}`;
    if (line === "" || richWidth(ctx, longer, font) <= room) line = longer;
    else if (lines.length === most - 1) {
      line = `${line} ${words.slice(i).join(" ")}`;
      break;
    } else {
      lines.push(line);
      line = words[i]!;
    }
  }
  if (line !== "") lines.push(line);
  return lines.map((l) => cutText(ctx, l, font, room));
}
