import { inflateSync } from "node:zlib";

/** A table of a font file: four letters, and its bytes. */
interface FontTable {
  readonly tag: string;
  readonly bytes: Buffer;
}

/** The tables of a web font in its first format (W3C, WOFF File Format 1.0, 2012). */
function tablesOf(woff: Buffer): { flavor: number; tables: FontTable[] } {
  if (woff.toString("latin1", 0, 4) !== "wOFF") throw new Error("not a web font");
  const tables = Array.from({ length: woff.readUInt16BE(12) }, (_, k): FontTable => {
    const entry = 44 + 20 * k;
    const [offset, packed, length] = [4, 8, 12].map((at) => woff.readUInt32BE(entry + at)) as [number, number, number];
    const bytes = woff.subarray(offset, offset + packed);
    return { tag: woff.toString("latin1", entry, entry + 4), bytes: packed < length ? inflateSync(bytes) : bytes };
  });
  return { flavor: woff.readUInt32BE(4), tables };
}

const PRODUCT_NAMES = new Set([1, 3, 4, 6, 16, 21]);

/** The table of names (OpenType 1.9, `name`) with a family's name in the place of another, in every language. */
function renamed(name: Buffer, family: string, plain: string): Buffer {
  const count = name.readUInt16BE(2);
  const from = name.readUInt16BE(4);
  const head = Buffer.from(name.subarray(0, 6 + 12 * count));
  const texts: Buffer[] = [];
  let at = 0;
  for (let k = 0; k < count; k++) {
    const entry = 6 + 12 * k;
    const [platform, id] = [name.readUInt16BE(entry), name.readUInt16BE(entry + 6)];
    const length = name.readUInt16BE(entry + 8);
    const start = from + name.readUInt16BE(entry + 10);
    let bytes: Buffer = Buffer.from(name.subarray(start, start + length));
    if (PRODUCT_NAMES.has(id)) {
      const wide = platform !== 1;
      const text = wide ? bytes.swap16().toString("utf16le") : bytes.toString("latin1");
      const now = text.replaceAll(plain, family).replaceAll(plain.replaceAll(" ", ""), family.replaceAll(" ", ""));
      bytes = wide ? Buffer.from(now, "utf16le").swap16() : Buffer.from(now, "latin1");
    }
    head.writeUInt16BE(bytes.length, entry + 8);
    head.writeUInt16BE(at, entry + 10);
    texts.push(bytes);
    at += bytes.length;
  }
  head.writeUInt16BE(0, 0);
  head.writeUInt16BE(head.length, 4);
  return Buffer.concat([head, ...texts]);
}

const checksum = (bytes: Buffer): number => {
  let sum = 0;
  for (let i = 0; i < bytes.length; i += 4) sum = (sum + bytes.readUInt32BE(i)) >>> 0;
  return sum;
};
const padded = (bytes: Buffer): Buffer => Buffer.concat([bytes, Buffer.alloc((4 - (bytes.length % 4)) % 4)]);

/** A font file of tables (OpenType 1.9, table directory). */
function fontFile(flavor: number, tables: readonly FontTable[]): Buffer {
  const power = Math.floor(Math.log2(tables.length));
  const head = Buffer.alloc(12 + 16 * tables.length);
  head.writeUInt32BE(flavor, 0);
  head.writeUInt16BE(tables.length, 4);
  head.writeUInt16BE(16 * 2 ** power, 6);
  head.writeUInt16BE(power, 8);
  head.writeUInt16BE(16 * (tables.length - 2 ** power), 10);
  let at = head.length;
  const parts = tables.map(({ tag, bytes }, k) => {
    const part = padded(bytes);
    const entry = 12 + 16 * k;
    head.write(tag, entry, "latin1");
    head.writeUInt32BE(checksum(part), entry + 4);
    head.writeUInt32BE(at, entry + 8);
    head.writeUInt32BE(bytes.length, entry + 12);
    at += part.length;
    return part;
  });
  return Buffer.concat([head, ...parts]);
}

/**
 * A font under another family's name, as its licence asks of what is not the font as it was published: only the names
 * inside the file change.
 *
 * @param woff a web font in its first format
 * @param family the new name, e.g. `Oxtrum Sans`
 * @param plain the family's own name in the file
 */
export function namedFont(woff: Buffer, family: string, plain: string): Buffer {
  const { flavor, tables } = tablesOf(woff);
  return fontFile(
    flavor,
    tables.map((t) => (t.tag === "name" ? { tag: t.tag, bytes: renamed(t.bytes, family, plain) } : t)),
  );
}
