/**
 * A small generator of whole numbers below a bound, so that an input that broke something can be had again (Lehmer
 * 1951).
 */
export type Chance = (below: number) => number;

export function chance(seed: number): Chance {
  let x = 1 + (Math.abs(seed) % 2147483646);
  return (below) => {
    x = (x * 16807) % 2147483647;
    return Math.floor((x / 2147483647) * below);
  };
}

const numbers = [
  "0",
  "-1",
  "1",
  "2147483647",
  "4294967295",
  "99999999999",
  "1e308",
  "NaN",
  "-0.5",
  "Inf",
  "00",
  "7".repeat(400),
];

/** A file with one to four faults, of the kinds that disks, broken programs and enemies make. */
export function mutate(bytes: Uint8Array, random: Chance): Uint8Array {
  let out = Buffer.from(bytes);
  const at = (): number => random(out.length + 1);
  const cut = (a: number, b: number, put: Uint8Array): void => {
    out = Buffer.concat([out.subarray(0, a), put, out.subarray(Math.min(out.length, b))]);
  };
  for (let k = random(4); k >= 0 && out.length > 0; k--) {
    const a = at();
    const n = 1 + random(random(10) === 0 ? out.length : 16);
    switch (random(9)) {
      case 0:
        out[Math.min(a, out.length - 1)]! ^= 1 << random(8);
        break;
      case 1:
        cut(a, a, Buffer.from(Array.from({ length: n }, () => random(256))));
        break;
      case 2:
        cut(a, a + n, Buffer.alloc(0));
        break;
      case 3:
        out = Buffer.from(out.subarray(0, a));
        break;
      case 4: {
        // A piece again: sizes and counts do not fit any more.
        const b = at();
        cut(a, a, out.subarray(b, b + n));
        break;
      }
      case 5: {
        // A number in a text becomes another one.
        const digits = /\d+/.exec(out.toString("latin1", a, Math.min(out.length, a + 400)));
        if (digits)
          cut(a + digits.index, a + digits.index + digits[0].length, Buffer.from(numbers[random(numbers.length)]!));
        break;
      }
      case 6:
        for (let i = a; i < Math.min(out.length, a + n); i++) out[i] = random(2) === 0 ? 0 : 255;
        break;
      case 7: {
        // A word of a header.
        if (out.length < 8) break;
        out.writeUInt32LE([0, 1, 0x7fffffff, 0xffffffff, 0x10000][random(5)]!, Math.min(a, out.length - 4));
        break;
      }
      default: {
        const b = at();
        const piece = Buffer.from(out.subarray(b, b + n));
        cut(a, a + n, piece);
      }
    }
  }
  return new Uint8Array(out);
}
