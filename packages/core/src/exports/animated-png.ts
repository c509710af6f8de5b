const SIGNATURE = Buffer.from([137, 80, 78, 71, 13, 10, 26, 10]);
const table = Uint32Array.from({ length: 256 }, (_, n) => {
  let c = n;
  for (let k = 0; k < 8; k++) c = c & 1 ? 0xedb88320 ^ (c >>> 1) : c >>> 1;
  return c;
});

/** The check sum that ends every chunk (ISO 3309). */
export function crc32(bytes: Uint8Array): number {
  let c = 0xffffffff;
  for (const b of bytes) c = table[(c ^ b) & 0xff]! ^ (c >>> 8);
  return (c ^ 0xffffffff) >>> 0;
}

export interface PngChunk {
  readonly type: string;
  readonly data: Buffer;
}

/** The chunks of a PNG file, in order. @throws Error for what is none, or is cut off */
export function pngChunks(file: Buffer): PngChunk[] {
  if (!file.subarray(0, 8).equals(SIGNATURE)) throw new Error("this is not a PNG file");
  const chunks: PngChunk[] = [];
  for (let at = 8; at + 12 <= file.length;) {
    const length = file.readUInt32BE(at);
    if (at + 12 + length > file.length) throw new Error("the PNG file is cut off");
    chunks.push({ type: file.toString("latin1", at + 4, at + 8), data: file.subarray(at + 8, at + 8 + length) });
    at += 12 + length;
  }
  if (chunks.at(-1)?.type !== "IEND") throw new Error("the PNG file is cut off");
  return chunks;
}

function chunk(type: string, data: Buffer): Buffer {
  const out = Buffer.alloc(12 + data.length);
  out.writeUInt32BE(data.length, 0);
  out.write(type, 4, "latin1");
  data.copy(out, 8);
  out.writeUInt32BE(crc32(out.subarray(4, 8 + data.length)), 8 + data.length);
  return out;
}

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
export function animatedPng(frames: Iterable<Buffer>, count: number, secondsPerFrame: number): Buffer {
  const out: Buffer[] = [SIGNATURE];
  let head: Buffer | undefined;
  let sequence = 0;
  for (const file of frames) {
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
