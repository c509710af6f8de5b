/**
 * A number as people read it: significant digits that fit, no trailing zeros, thin spaces between thousands.
 *
 * Independent of any locale, so that the same number gives the same text everywhere.
 *
 * @example formatNumber(0.1 + 0.2) // "0.3"
 * @example formatNumber(1801) // "1 801" (with a thin no-break space)
 */
export function formatNumber(x: number, digits = 6): string {
  if (x !== x) return "–";
  if (x === Infinity) return "∞";
  if (x === -Infinity) return "−∞";
  if (x === 0) return "0";
  const size = Math.abs(x);
  let text: string;
  if (size >= 1e7 || size < 1e-4) {
    const [mantissa, exponent] = size.toExponential(Math.max(0, digits - 1)).split("e") as [string, string];
    text = trimZeros(mantissa) + "e" + exponent.replace("+", "");
  } else {
    text = size.toPrecision(Math.max(digits, size >= 1 ? String(Math.floor(size)).length : 0));
    // Rounded up to the next power of ten it has one digit more than it was given.
    if (text.includes("e")) return formatNumber(Math.sign(x) * Number(text), digits);
    text = trimZeros(text);
    const [whole, fraction] = text.split(".") as [string, string?];
    text = grouped(whole) + (fraction === undefined ? "" : "." + fraction);
  }
  return x < 0 ? "−" + text : text;
}

const trimZeros = (text: string): string => (text.includes(".") ? text.replace(/\.?0+$/, "") : text);

const THIN = "\u202f";

function grouped(whole: string): string {
  return whole.length < 4 ? whole : whole.replace(/\B(?=(\d{3})+$)/g, THIN);
}

/**
 * A number for files: the shortest text that reads back to the same bits; blank for a missing value.
 *
 * @example exactNumber(0.1) // "0.1"
 */
export function exactNumber(x: number): string {
  if (x !== x) return "";
  if (x === 0) return 1 / x < 0 ? "-0" : "0";
  return x === Infinity ? "Inf" : x === -Infinity ? "-Inf" : String(x);
}

/**
 * Two different numbers as people read them, with as many digits as it takes to tell them apart.
 *
 * @example textsApart(1.00000001, 1) // ["1.00000001", "1"]
 */
export function textsApart(a: number, b: number, digits = 6): readonly [string, string] {
  for (let d = digits; d < 17; d++) {
    const texts = [formatNumber(a, d), formatNumber(b, d)] as const;
    if (texts[0] !== texts[1]) return texts;
  }
  return [formatNumber(a, 17), formatNumber(b, 17)];
}
