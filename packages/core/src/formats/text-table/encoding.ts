import { bufferSource, FormatError, type ByteSource } from "../source.js";

export type Encoding = "utf-8" | "utf-16le" | "utf-16be" | "windows-1252";

const MOST_WIDE = 1024 * 1024 * 1024;

/** The encoding of a text, from its first bytes: a mark, the pattern of zero bytes, or whether it is valid UTF-8. */
export function detectEncoding(head: Uint8Array): { encoding: Encoding; mark: number } {
  if (head[0] === 0xef && head[1] === 0xbb && head[2] === 0xbf) return { encoding: "utf-8", mark: 3 };
  if (head[0] === 0xff && head[1] === 0xfe) return { encoding: "utf-16le", mark: 2 };
  if (head[0] === 0xfe && head[1] === 0xff) return { encoding: "utf-16be", mark: 2 };
  const n = Math.min(head.length, 512);
  let even = 0;
  let odd = 0;
  for (let i = 0; i < n; i++) if (head[i] === 0) i % 2 === 0 ? even++ : odd++;
  if (odd > n / 5 && even < n / 50) return { encoding: "utf-16le", mark: 0 };
  if (even > n / 5 && odd < n / 50) return { encoding: "utf-16be", mark: 0 };
  return { encoding: isUtf8(head) ? "utf-8" : "windows-1252", mark: 0 };
}

function isUtf8(bytes: Uint8Array): boolean {
  // The head may end inside a character: up to three bytes at its end are not judged.
  for (let cut = 0; cut <= 3 && cut <= bytes.length; cut++) {
    try {
      new TextDecoder("utf-8", { fatal: true }).decode(bytes.subarray(0, bytes.length - cut));
      return true;
    } catch {
      continue;
    }
  }
  return false;
}

/**
 * The source as bytes in which line ends and digits are single ASCII bytes: two-byte encodings are turned into UTF-8.
 */
export function byteText(
  source: ByteSource,
  asked?: Encoding,
): { source: ByteSource; encoding: Encoding; mark: number } {
  const found = detectEncoding(source.read(0, 64 * 1024));
  const encoding = asked ?? found.encoding;
  if (encoding !== "utf-16le" && encoding !== "utf-16be")
    return { source, encoding, mark: found.encoding === "utf-8" ? found.mark : 0 };
  if (source.size > MOST_WIDE)
    throw new FormatError(source.name, `a two-byte text of ${source.size} bytes is too large`, {}, "Save it as UTF-8.");
  const bytes = source.read(0, source.size);
  const text = new TextDecoder(encoding).decode(bytes);
  return { source: bufferSource(source.name, new TextEncoder().encode(text)), encoding: "utf-8", mark: 0 };
}

/** The lines at the start of a text, with the byte at which each begins. The last is left out when it is cut. */
export function decodeHead(
  given: ByteSource,
  size: number,
  asked?: Encoding,
): { lines: string[]; offsets: number[]; encoding: Encoding; whole: boolean } {
  const { source, encoding, mark } = byteText(given, asked);
  const bytes = source.read(mark, size);
  const whole = mark + bytes.length >= source.size;
  const decoder = new TextDecoder(encoding);
  const lines: string[] = [];
  const offsets: number[] = [];
  let start = 0;
  for (let i = 0; i <= bytes.length; i++) {
    const c = bytes[i];
    if (i < bytes.length && c !== 10 && c !== 13) continue;
    if (i === bytes.length && (start === i || (!whole && lines.length > 0))) break;
    lines.push(decoder.decode(bytes.subarray(start, i)));
    offsets.push(mark + start);
    if (c === 13 && bytes[i + 1] === 10) i++;
    start = i + 1;
  }
  return { lines, offsets, encoding, whole };
}
