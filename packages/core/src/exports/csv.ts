import type { Table } from "../tables/table.js";
import { plainUnit } from "../tables/units.js";
import { asText, roundedNumber, type TextOptions } from "./table-text.js";

const PART = 1 << 20;

/** A field as RFC 4180 wants it: quoted where it holds a comma, a quote or a line end. */
function field(given: string, o: TextOptions): string {
  const text = asText(given, o);
  return /[",\r\n]|^\s|\s$/.test(text) ? `"${text.replace(/"/g, '""')}"` : text;
}

/**
 * A table as CSV (RFC 4180 with line feeds): one head line `name [unit]`, then rows; missing values are blank.
 *
 * Numbers are the shortest texts that read back to the same bits. A dimensionless column has `[1]`, one of unknown
 * unit no brackets. As bytes (UTF-8), for a text may not be as long as a table.
 */
export function toCsv(table: Table, options: TextOptions = {}): Uint8Array {
  const { digits } = options;
  const head = table.columns
    .map((c) => field(c.kind === "number" && c.unit !== null ? `${c.name} [${plainUnit(c.unit)}]` : c.name, options))
    .join(",");
  const parts: Buffer[] = [];
  let text = head + "\n";
  for (let i = 0; i < table.rows; i++) {
    for (let k = 0; k < table.columns.length; k++) {
      const c = table.columns[k]!;
      if (k > 0) text += ",";
      text += c.kind === "number" ? roundedNumber(c.values[i]!, digits) : field(c.values[i]!, options);
    }
    text += "\n";
    if (text.length > PART) {
      parts.push(Buffer.from(text, "utf8"));
      text = "";
    }
  }
  parts.push(Buffer.from(text, "utf8"));
  return new Uint8Array(Buffer.concat(parts));
}
