import { exactPowers, scaleDigits } from "./decimal.js";

/** Where a run of plain rows ended: the byte of the first line not taken, and the row after the last one taken. */
export interface RowCursor {
  byte: number;
  row: number;
}

/**
 * The tight loop for lines that hold nothing but plain numbers: reads rows until a line is anything else, and leaves
 * that line to the general reader.
 *
 * No closures, one typed array, no byte behind `limit` touched: this is what makes large tables fast.
 *
 * @param limit the byte behind the last line end
 * @param delimiter its byte, or 0 for blanks
 * @param place start of each column in `flat`
 */
// oxlint-disable-next-line eslint/max-lines-per-function -- one loop over bytes, whose state stays in registers
export function readNumericRows(
  bytes: Uint8Array,
  limit: number,
  delimiter: number,
  point: number,
  n: number,
  flat: Float64Array,
  place: Int32Array,
  cursor: RowCursor,
): void {
  let p = cursor.byte;
  let row = cursor.row;
  let lineStart = p;
  const powers = exactPowers;
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const safe = bytes.byteLength - 8;
  while (p < limit) {
    lineStart = p;
    for (let k = 0; k < n; k++) {
      let c = bytes[p]!;
      while (c === 32 || (c === 9 && delimiter !== 9)) c = bytes[++p]!;
      let negative = false;
      if (c === 45) {
        negative = true;
        c = bytes[++p]!;
      } else if (c === 43) c = bytes[++p]!;
      // The first fifteen digits as one number, up to nine more as another.
      let m = 0;
      let b = 0;
      let digits = 0;
      let e = 0;
      let d = c - 48;
      while (d >= 0 && d <= 9) {
        if (digits < 15) m = m * 10 + d;
        else b = b * 10 + d;
        digits++;
        c = bytes[++p]!;
        d = c - 48;
      }
      if (c === point) {
        const from = ++p;
        // Eight digits in two words at once, then four: all digits, when each byte is 3x and still is with 6 added.
        while (digits <= 7 && p < safe) {
          let v = view.getInt32(p, true);
          let w = view.getInt32(p + 4, true);
          if (
            (v & w & 0xf0f0f0f0) !== 0x30303030 ||
            (((v + 0x06060606) | (w + 0x06060606)) & 0xf0f0f0f0) !== 0x30303030
          )
            break;
          v = v & 0x0f0f0f0f;
          w = w & 0x0f0f0f0f;
          v = (Math.imul(v, 10) + (v >>> 8)) & 0x00ff00ff;
          w = (Math.imul(w, 10) + (w >>> 8)) & 0x00ff00ff;
          m =
            m * 100000000 +
            (Math.imul(Math.imul(v & 0xff, 100) + (v >>> 16), 10000) + Math.imul(w & 0xff, 100) + (w >>> 16));
          digits += 8;
          p += 8;
        }
        while (digits <= 11 && p < safe) {
          let v = view.getInt32(p, true);
          if ((v & 0xf0f0f0f0) !== 0x30303030 || ((v + 0x06060606) & 0xf0f0f0f0) !== 0x30303030) break;
          v = v & 0x0f0f0f0f;
          v = (Math.imul(v, 10) + (v >>> 8)) & 0x00ff00ff;
          m = m * 10000 + Math.imul(v & 0xff, 100) + (v >>> 16);
          digits += 4;
          p += 4;
        }
        c = bytes[p]!;
        d = c - 48;
        while (d >= 0 && d <= 9) {
          if (digits < 15) m = m * 10 + d;
          else b = b * 10 + d;
          digits++;
          c = bytes[++p]!;
          d = c - 48;
        }
        e = from - p;
      }
      if (digits > 24 || digits === 0) {
        cursor.byte = lineStart;
        cursor.row = row;
        return;
      }
      if (c === 101 || c === 69) {
        let down = false;
        c = bytes[++p]!;
        if (c === 45) {
          down = true;
          c = bytes[++p]!;
        } else if (c === 43) c = bytes[++p]!;
        const from = p;
        let x = 0;
        d = c - 48;
        while (d >= 0 && d <= 9 && x < 10000) {
          x = x * 10 + d;
          c = bytes[++p]!;
          d = c - 48;
        }
        if (p === from) {
          cursor.byte = lineStart;
          cursor.row = row;
          return;
        }
        e += down ? -x : x;
      }
      let value: number;
      if (digits <= 15 && e >= -22 && e <= 22) value = e < 0 ? m / powers[-e]! : m * powers[e]!;
      else if (m === 0 && b === 0) value = 0;
      else value = scaleDigits(m, digits > 15 ? digits - 15 : 0, b, e);
      if (delimiter !== 0) while (c === 32) c = bytes[++p]!;
      const atEnd = c === 10 || c === 13;
      if (k < n - 1) {
        if (value !== value || atEnd || (delimiter === 0 ? c !== 32 && c !== 9 : c !== delimiter)) {
          cursor.byte = lineStart;
          cursor.row = row;
          return;
        }
        p++;
      } else {
        while (c === 32 || c === 9) c = bytes[++p]!;
        if (value !== value || (c !== 10 && c !== 13)) {
          cursor.byte = lineStart;
          cursor.row = row;
          return;
        }
        p += c === 13 && bytes[p + 1] === 10 ? 2 : 1;
      }
      flat[place[k]! + row] = negative ? -value : value;
    }
    row++;
  }
  cursor.byte = p;
  cursor.row = row;
}
