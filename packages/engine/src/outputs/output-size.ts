import type { DrawSize } from "@oxtrum/core/exports";

/** What a picture may take of memory: four bytes a dot, and as much again while it is packed. */
const MOST_DOTS = 64e6;
/** Pixels of 1/96 inch to a millimetre. */
const PER_MM = 96 / 25.4;

/** A side of a chart in pixels: a number as it is, a length in its own unit. */
function pixels(side: unknown): number {
  if (typeof side === "number") return side;
  const { value, unit } =
    typeof side === "string"
      ? { value: Number.parseFloat(side), unit: side.replace(/^[\s\d.]+/, "").trim() }
      : (side as { value: number; unit: string | null });
  const scale = { px: 1, mm: PER_MM, cm: 10 * PER_MM, m: 1000 * PER_MM, in: 96 }[unit ?? "px"];
  if (scale === undefined) throw new Error(`size in "${String(unit)}": use numbers for pixels, or mm, cm, in`);
  return value * scale;
}

/** Size and dots of a drawing's files. @throws Error where it is too small or too large to draw */
export function drawnSize(options: Readonly<Record<string, unknown>>, fallback: DrawSize): DrawSize {
  const size = options["size"] as [unknown, unknown] | undefined;
  if (size !== undefined && !(Array.isArray(size) && size.length === 2)) throw new Error("size: give width and height");
  const [width, height] = size ? (size.map(pixels) as [number, number]) : [fallback.width, fallback.height];
  const dots = options["resolution"] as number | undefined;
  const scale = dots === undefined ? fallback.scale! : dots / 96;
  if (!(width >= 50 && width <= 8000 && height >= 50 && height <= 8000))
    throw new Error(`size ${Math.round(width)} × ${Math.round(height)} pixels: each has to lie within 50 and 8000`);
  if (!(scale >= 0.25)) throw new Error(`resolution ${String(dots)} dots an inch: from 24 on`);
  return { width, height, scale };
}

/** The same size for pictures made of dots. @throws Error where there would be too many of them */
export function dotted(size: DrawSize): DrawSize {
  const [wide, tall] = [size.width, size.height].map((v) => Math.round(v * (size.scale ?? 1))) as [number, number];
  if (wide * tall <= MOST_DOTS) return size;
  throw new Error(
    `${wide} × ${tall} dots are more than ${MOST_DOTS / 1e6} million: use a smaller size or resolution, or svg or pdf, which have none`,
  );
}
