import { createHash, type Hash } from "node:crypto";

declare const key: unique symbol;

/** By what a value is known. A type of its own: no other text can be taken for one, and "no key" is `undefined`. */
export type CacheKey = string & { readonly [key]: true };

/**
 * The key of a result: SHA-256 over the operation's name and version, its arguments and the keys of its inputs.
 *
 * Paths, times and line numbers never enter. Numbers enter as their IEEE bits, with one NaN.
 *
 * @example resultKey("table.max", 1, { name: "T" }, [inputKey])
 */
export function resultKey(op: string, version: number, args: unknown, inputs: readonly CacheKey[]): CacheKey {
  const h = createHash("sha256");
  h.update(`oxtrum 4\0${op}\0${version}\0`);
  feed(h, args);
  for (const k of inputs) h.update("\0" + k);
  return h.digest("hex") as CacheKey;
}

/**
 * The key of a value whose making is not known to the cache: the digest of the value itself, its conditions among it.
 */
export function valueKey(value: unknown): CacheKey {
  const h = createHash("sha256");
  h.update("oxtrum value 1\0");
  feed(h, value);
  return h.digest("hex") as CacheKey;
}

const bits = new DataView(new ArrayBuffer(8));

function feed(h: Hash, value: unknown): void {
  switch (typeof value) {
    case "number":
      bits.setFloat64(0, value !== value ? Number.NaN : value);
      if (value !== value) bits.setBigUint64(0, 0x7ff8000000000000n);
      h.update("n");
      h.update(new Uint8Array(bits.buffer));
      return;
    case "string":
      h.update(`s${Buffer.byteLength(value)}:${value}`);
      return;
    case "boolean":
      h.update(value ? "t" : "f");
      return;
    case "undefined":
      h.update("u");
      return;
    default:
      break;
  }
  if (value === null) h.update("0");
  else if (value instanceof Float64Array) feedNumbers(h, value);
  else if (ArrayBuffer.isView(value) || Array.isArray(value)) {
    const list = value as ArrayLike<unknown>;
    h.update(`[${list.length}:`);
    for (let i = 0; i < list.length; i++) feed(h, list[i]);
  } else {
    const keys = Object.keys(value as object)
      .filter((k) => (value as Record<string, unknown>)[k] !== undefined)
      .sort();
    h.update(`{${keys.length}:`);
    for (const k of keys) {
      feed(h, k);
      feed(h, (value as Record<string, unknown>)[k]);
    }
  }
}

/** Many numbers at once: their bits, with one NaN. */
function feedNumbers(h: Hash, values: Float64Array): void {
  h.update(`f${values.length}:`);
  const one = values.some((v) => v !== v) ? values.map((v) => (v === v ? v : Number.NaN)) : values;
  h.update(new Uint8Array(one.buffer, one.byteOffset, one.byteLength));
}

export const sha256 = (data: string | Uint8Array): string => createHash("sha256").update(data).digest("hex");
