/**
 * One LZ4 block (the open LZ4 block format, version 1.5).
 *
 * @param size how long the block is unpacked
 * @throws Error where the block does not hold what it promises
 */
export function unpackLz4(input: Uint8Array, size: number): Uint8Array {
  const out = new Uint8Array(size);
  let i = 0;
  let o = 0;
  const length = (first: number): number => {
    let n = first;
    if (first === 15) {
      let b = 255;
      while (b === 255) {
        if (i >= input.length) throw new Error("an LZ4 block is cut off");
        b = input[i++]!;
        n += b;
      }
    }
    return n;
  };
  while (i < input.length) {
    const token = input[i++]!;
    const literals = length(token >> 4);
    if (i + literals > input.length || o + literals > size) throw new Error("an LZ4 block is longer than it says");
    out.set(input.subarray(i, i + literals), o);
    i += literals;
    o += literals;
    if (i >= input.length) break;
    if (i + 2 > input.length) throw new Error("an LZ4 block is cut off");
    const distance = input[i]! | (input[i + 1]! << 8);
    i += 2;
    const match = length(token & 15) + 4;
    if (distance === 0 || distance > o || o + match > size) throw new Error("an LZ4 block points outside itself");
    if (distance >= match) out.copyWithin(o, o - distance, o - distance + match);
    else for (let k = 0; k < match; k++) out[o + k] = out[o + k - distance]!;
    o += match;
  }
  if (o !== size) throw new Error("an LZ4 block is shorter than it says");
  return out;
}
