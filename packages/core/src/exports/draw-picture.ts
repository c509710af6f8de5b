import { animatedPng } from "./animated-png.js";
import { createCanvas, ImageData, PDFDocument, type Canvas } from "@napi-rs/canvas";
import { paintPicture, type PictureDescription } from "../pictures/index.js";
import { pixelsOf, POINTS, type DrawSize } from "./draw.js";
import { documentFonts, shippedFonts } from "./fonts.js";
import { packPng } from "./png.js";

export const defaultPictureSize: DrawSize = { width: 800, height: 520, scale: 2 };

function surface(ctx: CanvasRenderingContext2D, size: DrawSize, scale: number): Parameters<typeof paintPicture>[0] {
  return {
    ctx,
    width: size.width,
    height: size.height,
    scale,
    fonts: shippedFonts(),
    image: (pixels, width, height) => {
      const canvas = createCanvas(width, height);
      canvas.getContext("2d").putImageData(new ImageData(pixels, width, height), 0, 0);
      return canvas as unknown as CanvasImageSource;
    },
  };
}

function painted(p: PictureDescription, size: DrawSize, frame: number | undefined): Canvas {
  const scale = size.scale ?? 2;
  const canvas = createCanvas(Math.round(size.width * scale), Math.round(size.height * scale));
  paintPicture(surface(canvas.getContext("2d") as unknown as CanvasRenderingContext2D, size, scale), p, frame);
  return canvas;
}

/** A picture, or one frame of a sequence, as PNG. The same picture gives the same bytes. */
export const pictureToPng = async (
  p: PictureDescription,
  size: DrawSize = defaultPictureSize,
  frame?: number,
): Promise<Buffer> => packPng(...pixelsOf(painted(p, size, p.frames && frame === undefined ? 0 : frame)));

/** A picture as PDF: a page, or one for each frame; the field as pixels, words and lines as vectors. */
export function pictureToPdf(p: PictureDescription, size: DrawSize = defaultPictureSize): Buffer {
  const doc = new PDFDocument({ title: p.title ?? "", creator: "Oxtrum" });
  const pages = p.frames ? p.panels.map((_, k) => k) : [undefined];
  for (const frame of pages) {
    const ctx = doc.beginPage(size.width * POINTS, size.height * POINTS) as unknown as CanvasRenderingContext2D;
    paintPicture({ ...surface(ctx, size, POINTS), fonts: documentFonts() }, p, frame);
    doc.endPage();
  }
  return doc.close();
}

/**
 * A sequence as one animated PNG (Portable Network Graphics, third edition), lossless.
 *
 * @param frameOf the PNG of a frame, for whoever has drawn it already
 */
export function pictureToAnimation(
  p: PictureDescription,
  size: DrawSize,
  secondsPerFrame: number,
  frameOf = (k: number): Promise<Buffer> => pictureToPng(p, size, p.frames ? k : undefined),
): Promise<Buffer> {
  async function* frames(): AsyncIterable<Buffer> {
    for (let k = 0; k < p.panels.length; k++) yield await frameOf(k);
  }
  return animatedPng(frames(), p.panels.length, secondsPerFrame);
}
