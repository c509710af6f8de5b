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
      let a = 0;
      let b = 0;
      let taken = 0;
      let pointAt = 0;
      const first = p;
      for (;;) {
        const d = c - 48;
        if (d >= 0 && d <= 9) {
          if (taken < 9) {
            a = (a * 10 + d) | 0;
            if (a !== 0) taken++;
          } else {
            b = b * 10 + d;
            taken++;
          }
        } else if (c === point && pointAt === 0) pointAt = p + 1;
        else break;
        c = bytes[++p]!;
      }
      if (taken > 19 || p - first - (pointAt === 0 ? 0 : 1) < 1) {
        cursor.byte = lineStart;
        cursor.row = row;
        return;
      }
      let e = pointAt === 0 ? 0 : pointAt - p;
      if (c === 101 || c === 69) {
        let down = false;
        c = bytes[++p]!;
        if (c === 45) {
          down = true;
          c = bytes[++p]!;
        } else if (c === 43) c = bytes[++p]!;
        const from = p;
        let x = 0;
        let d = c - 48;
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
      if (taken <= 15 && e >= -22 && e <= 22) {
        const m = taken > 9 ? a * powers[taken - 9]! + b : a;
        value = e < 0 ? m / powers[-e]! : m * powers[e]!;
      } else if (a === 0) value = 0;
      else value = scaleDigits(a, taken > 9 ? taken - 9 : 0, b, e);
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
