import { createHash } from "node:crypto";

/** Names that the job's own files have. */
const own = new Set(["manifest", "where", "outputs", "index"]);

/**
 * Bytes of a name at most: with an ending, a run's or a frame's number it stays below the 255 that file systems allow.
 */
const MOST_BYTES = 120;

/** Names too long are cut between characters; a piece of their digest keeps two of them apart. */
function cut(name: string): string {
  if (Buffer.byteLength(name) <= MOST_BYTES) return name;
  let short = "";
  let bytes = 0;
  for (const c of name) {
    bytes += Buffer.byteLength(c);
    if (bytes > MOST_BYTES - 9) break;
    short += c;
  }
  return `${short}-${createHash("sha256").update(name).digest("hex").slice(0, 8)}`;
}

/**
 * A file name made of an output's name: letters, digits, dots, dashes; 120 bytes of UTF-8 at most.
 *
 * @example safeName("hall: air / 2") // "hall-air-2"
 */
export function safeName(name: string): string {
  const base = name
    .normalize("NFC")
    .replace(/[^\p{L}\p{N}._-]+/gu, "-")
    .replace(/^[-.]+|[-.]+$/g, "");
  const safe = base === "" ? "output" : cut(base);
  return /^(?:con|prn|aux|nul|com\d|lpt\d)$/i.test(safe) || own.has(safe.toLowerCase()) ? `${safe}-output` : safe;
}
