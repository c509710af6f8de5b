import { chunk, pngChunks, SIGNATURE } from "./png.js";

/** How long a frame stays, as the fraction of a second that 16 bits hold best. */
function delayOf(seconds: number): [numerator: number, denominator: number] {
  const denominator = seconds < 60 ? 1000 : 1;
  return [Math.min(65535, Math.max(0, Math.round(seconds * denominator))), denominator];
}

/**
 * Pictures of one size as one animated PNG (Portable Network Graphics, third edition, 2025), repeated without end: the
 * packed pixels of each picture as they are, so nothing is lost. The first one is what programs show that move nothing.
 *
 * @param frames PNG files, made one after the other when they are asked for
 * @throws Error when their size or kind of pixels differs
 */
export async function animatedPng(
  frames: AsyncIterable<Buffer>,
  count: number,
  secondsPerFrame: number,
): Promise<Buffer> {
  const out: Buffer[] = [SIGNATURE];
  let head: Buffer | undefined;
  let sequence = 0;
  for await (const file of frames) {
    const chunks = pngChunks(file);
    const own = chunks.find((c) => c.type === "IHDR")!.data;
    const first = head === undefined;
    head ??= own;
    if (!own.equals(head)) throw new Error("the frames of a moving picture have different sizes or kinds of pixels");
    if (first) {
      const control = Buffer.alloc(8);
      control.writeUInt32BE(count, 0);
      out.push(chunk("IHDR", head), chunk("acTL", control));
    }
    const frame = Buffer.alloc(26);
    frame.writeUInt32BE(sequence++, 0);
    head.copy(frame, 4, 0, 8);
    const [numerator, denominator] = delayOf(secondsPerFrame);
    frame.writeUInt16BE(numerator, 20);
    frame.writeUInt16BE(denominator, 22);
    out.push(chunk("fcTL", frame));
    for (const { type, data } of chunks) {
      if (type !== "IDAT") continue;
      if (first) out.push(chunk("IDAT", data));
      else {
        const numbered = Buffer.alloc(4 + data.length);
        numbered.writeUInt32BE(sequence++, 0);
        data.copy(numbered, 4);
        out.push(chunk("fdAT", numbered));
      }
    }
  }
  return Buffer.concat([...out, chunk("IEND", Buffer.alloc(0))]);
}
