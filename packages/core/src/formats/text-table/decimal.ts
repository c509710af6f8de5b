/**
 * Decimal text to the nearest double, on bytes.
 *
 * Up to 15 digits and small exponents: one exact operation (W. D. Clinger, "How to read floating point numbers
 * accurately", PLDI 1990). Up to 19 digits: the digits as a double-double times a power of ten as a double-double
 * (T. J. Dekker, Numer. Math. 18 (1971) 224–242), taken when the rounding is certain. Otherwise the language's own
 * conversion, which is correctly rounded, decides.
 */

/** Powers of ten that doubles hold exactly. */
export const exactPowers = Float64Array.from({ length: 23 }, (_, i) => Number(`1e${i}`));

const RANGE = 290;
const high = new Float64Array(2 * RANGE + 1);
const low = new Float64Array(2 * RANGE + 1);

/** 10^k = high + low, to about 106 bits, by exact integers. */
function fillPowers(): void {
  const scale = 2n ** 1200n;
  const bits = (x: number): bigint => {
    // x * 2^1200 as an integer; exact because the smallest power here is far above 2^-1074.
    const view = new DataView(new ArrayBuffer(8));
    view.setFloat64(0, x);
    const raw = view.getBigUint64(0);
    const exponent = Number((raw >> 52n) & 0x7ffn);
    const mantissa = (raw & 0xfffffffffffffn) | 0x10000000000000n;
    return mantissa << BigInt(exponent - 1075 + 1200);
  };
  for (let k = -RANGE; k <= RANGE; k++) {
    const h = Number(`1e${k}`);
    const exact = k >= 0 ? 10n ** BigInt(k) * scale : scale / 10n ** BigInt(-k);
    const rest = exact - bits(h);
    const size = rest < 0n ? -rest : rest;
    const shift = Math.max(0, size.toString(2).length - 64);
    const l =
      Number(size >> BigInt(shift)) *
      2 ** (shift - 1200 > -1020 ? shift - 1200 : -1020) *
      (shift - 1200 > -1020 ? 1 : 2 ** (shift - 1200 + 1020));
    high[k + RANGE] = h;
    low[k + RANGE] = rest < 0n ? -l : l;
  }
}
fillPowers();

const SPLIT = 134217729; // 2^27 + 1

/** (digits a·10^kb + b)·10^e rounded to nearest, or NaN when the rounding is in doubt. a, b < 2^53, kb ≤ 9. */
export function scaleDigits(a: number, kb: number, b: number, e: number): number {
  if (e < -RANGE || e > RANGE - 20) return Number.NaN;
  let h: number;
  let l: number;
  if (kb === 0) {
    h = a;
    l = 0;
  } else {
    // a·10^kb exactly as p + q, then + b.
    const t = exactPowers[kb]!;
    const p = a * t;
    const ca = SPLIT * a;
    const ah = ca - (ca - a);
    const al = a - ah;
    const ct = SPLIT * t;
    const th = ct - (ct - t);
    const tl = t - th;
    const q = al * tl - (p - ah * th - al * th - ah * tl);
    h = p + b;
    const bb = h - p;
    l = p - (h - bb) + (b - bb) + q;
  }
  const Ph = high[e + RANGE]!;
  const Pl = low[e + RANGE]!;
  const r = h * Ph;
  if (!(r > 1e-280 && r < 1e290)) return Number.NaN;
  const ch = SPLIT * h;
  const hh = ch - (ch - h);
  const hl = h - hh;
  const cp = SPLIT * Ph;
  const ph = cp - (cp - Ph);
  const pl = Ph - ph;
  const err = hl * pl - (r - hh * ph - hl * ph - hh * pl);
  const tail = err + (h * Pl + l * Ph);
  const value = r + tail;
  const rest = r - value + tail;
  const doubt = value * 2 ** -96;
  return value + (rest - doubt) === value && value + (rest + doubt) === value ? value : Number.NaN;
}

export const MISSING = 1;
export const BAD = 2;

/** What the last {@link parseField} found: 0 a number, MISSING, or BAD. */
export let fieldStatus = 0;

const missingWords = new Set([
  "",
  "-",
  "--",
  "nan",
  "+nan",
  "-nan",
  "na",
  "n/a",
  "#n/a",
  "null",
  "none",
  "nil",
  "missing",
  "-nan(ind)",
  "nan(ind)",
  "nan(snan)",
  "1.#qnan",
  "-1.#ind",
  "1.#ind",
  ".",
]);
const infinities: Readonly<Record<string, number>> = {
  inf: Infinity,
  "+inf": Infinity,
  "-inf": -Infinity,
  infinity: Infinity,
  "+infinity": Infinity,
  "-infinity": -Infinity,
  "1.#inf": Infinity,
  "-1.#inf": -Infinity,
};
// An exponent may lack its letter (1.5-103) only where a point shows that the rest is one number: 5-10 and 2020-01 are
// none.
const numeric = /^([+-]?(?:\d+\.?\d*|\.\d+))(?:[eEdDqQ]([+-]?\d+)|(?<=\..*)([+-]\d{2,3}))?$/;

/** A word as a number: NaN with {@link fieldStatus} MISSING or BAD where it is none. Understands Fortran exponents. */
export function parseWord(word: string, decimalComma: boolean): number {
  // Where the comma is the decimal sign a point may group thousands: 1.250 is not 1.25 there.
  const text = decimalComma ? word.replace(",", ".") : word;
  const match = decimalComma && word.includes(".") ? null : numeric.exec(text);
  if (match) {
    fieldStatus = 0;
    const exponent = match[2] ?? match[3];
    return exponent === undefined ? Number(match[1]) : Number(`${match[1]}e${exponent}`);
  }
  const lower = word.toLowerCase();
  if (Object.hasOwn(infinities, lower)) {
    fieldStatus = 0;
    return infinities[lower]!;
  }
  fieldStatus = missingWords.has(lower) || /^\*+$/.test(lower) ? MISSING : BAD;
  return Number.NaN;
}

/** The bytes [start, end) of a field as a number, trimmed of blanks and quotes; see {@link parseWord}. */
export function parseField(bytes: Uint8Array, start: number, end: number, decimalComma: boolean): number {
  while (start < end && (bytes[start] === 32 || bytes[start] === 9)) start++;
  while (end > start && (bytes[end - 1] === 32 || bytes[end - 1] === 9 || bytes[end - 1] === 13)) end--;
  if (end - start >= 2 && (bytes[start] === 34 || bytes[start] === 39) && bytes[end - 1] === bytes[start])
    return parseField(bytes, start + 1, end - 1, decimalComma);
  if (start === end) {
    fieldStatus = MISSING;
    return Number.NaN;
  }
  const fast = parseDigits(bytes, start, end, decimalComma ? 44 : 46);
  if (fast === fast) {
    fieldStatus = 0;
    return fast;
  }
  if (end - start > 400) {
    fieldStatus = BAD;
    return Number.NaN;
  }
  let word = "";
  for (let i = start; i < end; i++) word += String.fromCharCode(bytes[i]!);
  return parseWord(word, decimalComma);
}

/** Plain decimal text of up to 19 significant digits; NaN where it is something else or the rounding is in doubt. */
function parseDigits(bytes: Uint8Array, start: number, end: number, point: number): number {
  let p = start;
  let negative = false;
  if (bytes[p] === 45) {
    negative = true;
    p++;
  } else if (bytes[p] === 43) p++;
  let a = 0;
  let b = 0;
  let kb = 0;
  let taken = 0;
  let any = false;
  let e = 0;
  let seenPoint = false;
  for (; p < end; p++) {
    const c = bytes[p]!;
    const digit = c - 48;
    if (digit >= 0 && digit <= 9) {
      any = true;
      if (taken === 0 && digit === 0) {
        if (seenPoint) e--;
        continue;
      }
      if (taken < 10) a = a * 10 + digit;
      else if (taken < 19) {
        b = b * 10 + digit;
        kb++;
      } else return Number.NaN;
      taken++;
      if (seenPoint) e--;
    } else if (c === point && !seenPoint) seenPoint = true;
    else break;
  }
  if (!any) return Number.NaN;
  if (p < end) {
    const c = bytes[p]! | 32;
    if (c !== 101 && c !== 100) return Number.NaN;
    p++;
    let down = false;
    if (bytes[p] === 45) {
      down = true;
      p++;
    } else if (bytes[p] === 43) p++;
    if (p >= end || end - p > 4) return Number.NaN;
    let x = 0;
    for (; p < end; p++) {
      const digit = bytes[p]! - 48;
      if (!(digit >= 0 && digit <= 9)) return Number.NaN;
      x = x * 10 + digit;
    }
    e += down ? -x : x;
  }
  if (taken === 0) return negative ? -0 : 0;
  let value: number;
  if (taken <= 15 && e >= -22 && e <= 22) {
    const m = kb === 0 ? a : a * exactPowers[kb]! + b;
    value = e < 0 ? m / exactPowers[-e]! : m * exactPowers[e]!;
  } else value = scaleDigits(a, kb, b, e);
  return negative ? -value : value;
}
