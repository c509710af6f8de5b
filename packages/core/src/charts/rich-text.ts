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

/** Draws a title with raised and lowered parts, aligned at x; y is the base line. Returns its width. */
export function drawRichText(
  ctx: TextContext,
  text: string,
  x: number,
  y: number,
  font: { size: number; family: string; weight: number },
  align: "left" | "center",
): number {
  const runs = richText(text);
  const fontOf = (r: TextRun): string =>
    `${font.weight} ${r.shift === "none" ? font.size : font.size * 0.72}px ${font.family}`;
  const widths = runs.map((r) => {
    ctx.font = fontOf(r);
    return ctx.measureText(r.text).width;
  });
  const total = widths.reduce((a, b) => a + b, 0);
  let at = align === "center" ? x - total / 2 : x;
  ctx.textAlign = "left";
  ctx.textBaseline = "alphabetic";
  runs.forEach((r, i) => {
    ctx.font = fontOf(r);
    ctx.fillText(r.text, at, y + (r.shift === "sub" ? font.size * 0.22 : r.shift === "super" ? -font.size * 0.36 : 0));
    at += widths[i]!;
  });
  return total;
}
