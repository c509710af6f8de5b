/**
 * Values as bytes: a JSON part in which arrays of numbers are replaced by references, and the numbers behind it,
 * eight bytes each, little end first.
 */
export function packValue(value: unknown): Uint8Array {
  const arrays: Float64Array[] = [];
  const walk = (v: unknown): unknown => {
    if (isNumbers(v)) {
      arrays.push(v);
      return { $f: v.length };
    }
    if (typeof v === "number")
      return Number.isFinite(v) && !Object.is(v, -0) ? v : { $n: Object.is(v, -0) ? "-0" : String(v) };
    if (Array.isArray(v)) return v.map(walk);
    if (v === null || typeof v !== "object") return v;
    return Object.fromEntries(
      Object.entries(v)
        .filter(([, x]) => x !== undefined)
        .map(([k, x]) => [k, walk(x)]),
    );
  };
  const meta = Buffer.from(JSON.stringify(walk(value)), "utf8");
  const start = 4 + meta.length + ((8 - ((4 + meta.length) % 8)) % 8);
  const out = new Uint8Array(start + arrays.reduce((n, a) => n + a.length * 8, 0));
  new DataView(out.buffer).setUint32(0, meta.length, true);
  out.set(meta, 4);
  let at = start;
  for (const a of arrays) {
    out.set(new Uint8Array(a.buffer, a.byteOffset, a.byteLength), at);
    at += a.byteLength;
  }
  return out;
}

/** Also for arrays that come from another thread or context, whose constructor is not ours. */
const isNumbers = (v: unknown): v is Float64Array => Object.prototype.toString.call(v) === "[object Float64Array]";

/** The other way. @throws Error when the bytes do not hold what they promise */
export function unpackValue(bytes: Uint8Array): unknown {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const length = view.getUint32(0, true);
  if (length > bytes.length - 4) throw new Error("entry is cut off");
  const meta = JSON.parse(Buffer.from(bytes.buffer, bytes.byteOffset + 4, length).toString("utf8")) as unknown;
  let at = 4 + length + ((8 - ((4 + length) % 8)) % 8);
  const walk = (v: unknown): unknown => {
    if (Array.isArray(v)) return v.map(walk);
    if (v === null || typeof v !== "object") return v;
    const tagged = v as { $f?: number; $n?: string };
    if (typeof tagged.$f === "number") {
      const size = tagged.$f * 8;
      if (at + size > bytes.length) throw new Error("entry is cut off");
      // Not bytes.slice: on a Buffer that is a view, and the numbers have to begin at a multiple of eight.
      const copy = new Uint8Array(size);
      copy.set(bytes.subarray(at, at + size));
      at += size;
      return new Float64Array(copy.buffer, 0, tagged.$f);
    }
    if (typeof tagged.$n === "string") return Number(tagged.$n);
    return Object.fromEntries(Object.entries(v).map(([k, x]) => [k, walk(x)]));
  };
  return walk(meta);
}
